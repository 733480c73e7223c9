// The parts as one glTF binary: a node a part, positions and indices, frames and stuff in its extras.
import { polys } from "./kit.mjs";

const FLOAT = 5126;
const UINT = 5125;
const pad = (b, c) => Buffer.concat([b, Buffer.alloc((4 - (b.length % 4)) % 4, c)]);

// A sliver left over by a boolean has no honest normal.
function thin(a, b, c) {
  const d = (p, q) => Math.hypot(p[0] - q[0], p[1] - q[1], p[2] - q[2]);
  const [x, y, z] = [d(a, b), d(b, c), d(c, a)];
  const s = (x + y + z) / 2;
  return 2 * Math.sqrt(Math.max(0, s * (s - x) * (s - y) * (s - z))) < 0.04 * Math.max(x, y, z);
}

// triangles are the points of a part, to a hundredth of a millimetre, and the corners of its triangles.
function triangles(part) {
  const points = [];
  const corners = [];
  const seen = new Map();
  const put = (v) => {
    const q = v.map((x) => Math.round(x * 64) / 64); // fractions of two pack to half
    const key = q.join();
    if (!seen.has(key)) {
      seen.set(key, points.length / 3);
      points.push(...q);
    }
    return seen.get(key);
  };
  for (const g of [part.solids].flat(5))
    for (const v of polys(g)) {
      const i = v.map(put);
      for (let k = 1; k < i.length - 1; k++)
        if (!thin(v[0], v[k], v[k + 1])) corners.push(i[0], i[k], i[k + 1]);
    }
  return { points, corners };
}

// glb gives the file's bytes, and how many triangles there are.
export function glb(parts) {
  const bins = [];
  const bufferViews = [];
  const accessors = [];
  const meshes = [];
  const nodes = [];
  let at = 0;
  let count = 0;
  const push = (bytes, n, type, componentType, more) => {
    bufferViews.push({ buffer: 0, byteOffset: at, byteLength: bytes.length });
    accessors.push({ bufferView: bufferViews.length - 1, componentType, count: n, type, ...more });
    bins.push(bytes);
    at += bytes.length;
    return accessors.length - 1;
  };
  for (const [name, p] of Object.entries(parts)) {
    const { points, corners } = triangles(p);
    const axes = [0, 1, 2].map((c) => points.filter((_, i) => i % 3 === c));
    const ends = (f) => axes.map((a) => a.reduce((x, y) => f(x, y)));
    const bounds = { min: ends(Math.min), max: ends(Math.max) };
    const POSITION = push(
      Buffer.from(new Float32Array(points).buffer),
      points.length / 3,
      "VEC3",
      FLOAT,
      bounds,
    );
    const indices = push(Buffer.from(new Uint32Array(corners).buffer), corners.length, "SCALAR", UINT);
    meshes.push({ primitives: [{ attributes: { POSITION }, indices }] });
    nodes.push({
      name,
      mesh: meshes.length - 1,
      extras: { stuff: p.stuff ?? "metal", frames: p.frames ?? {} },
    });
    count += corners.length / 3;
  }
  const bin = pad(Buffer.concat(bins), 0);
  const scene = { asset: { version: "2.0" }, scene: 0, scenes: [{ nodes: nodes.map((_, i) => i) }] };
  const buffers = [{ byteLength: bin.length }];
  const json = pad(
    Buffer.from(JSON.stringify({ ...scene, nodes, meshes, accessors, bufferViews, buffers })),
    32,
  );
  const head = Buffer.alloc(12);
  head.write("glTF");
  head.writeUInt32LE(2, 4);
  head.writeUInt32LE(12 + 8 + json.length + 8 + bin.length, 8);
  const chunk = (b, type) => {
    const h = Buffer.alloc(8);
    h.writeUInt32LE(b.length, 0);
    h.write(type, 4, "latin1");
    return Buffer.concat([h, b]);
  };
  return { bytes: Buffer.concat([head, chunk(json, "JSON"), chunk(bin, "BIN\0")]), triangles: count };
}
