// Shapes. X = outboard, Y = forward, Z = up, millimetres; every shape is a closed solid (geom3).
import m from "@jscad/modeling";
const {
  primitives: P,
  transforms: T,
  hulls: H,
  booleans: B,
  extrusions: E,
  geometries: { geom2, geom3, poly3 },
} = m;
export const { union, subtract, intersect } = B,
  hull = H.hull,
  PI = Math.PI;
export const move = T.translate,
  turnX = T.rotateX,
  turnY = T.rotateY,
  turnZ = T.rotateZ,
  mirrorY = (g) => T.mirrorY(g);
const sub = (a, b) => a.map((x, i) => x - b[i]),
  unit = (a) => {
    const l = Math.hypot(...a) || 1;
    return a.map((x) => x / l);
  };
const cross = (a, b) => [a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]];
export const polys = (g) => geom3.toPolygons(g).map((p) => p.vertices);
const volume = (ps) =>
  ps.reduce((s, v) => {
    for (let i = 1; i < v.length - 1; i++) {
      const c = cross(v[i], v[i + 1]);
      s += v[0][0] * c[0] + v[0][1] * c[1] + v[0][2] * c[2];
    }
    return s;
  }, 0);
const solid = (ps) =>
  geom3.create((volume(ps) < 0 ? ps.map((p) => [...p].reverse()) : ps).map((p) => poly3.create(p)));
// profile [[x, r]...] turned round X; hollow = the profile closes on itself
export function lathe(prof, n = 64, hollow = false) {
  const at = prof.map(([x, r]) =>
      Array.from({ length: n }, (_, i) => [
        x,
        r * Math.cos((i * 2 * PI) / n),
        r * Math.sin((i * 2 * PI) / n),
      ]),
    ),
    out = [];
  const L = prof.length,
    seg = hollow ? L : L - 1;
  for (let j = 0; j < seg; j++) {
    const k = (j + 1) % L,
      a = prof[j][1],
      b = prof[k][1];
    if (a < 1e-6 && b < 1e-6) continue;
    for (let i = 0; i < n; i++) {
      const h = (i + 1) % n;
      out.push(
        a < 1e-6
          ? [at[j][0], at[k][i], at[k][h]]
          : b < 1e-6
            ? [at[j][i], at[k][0], at[j][h]]
            : [at[j][i], at[k][i], at[k][h], at[j][h]],
      );
    }
  }
  if (!hollow)
    for (const [j, s] of [
      [0, 1],
      [L - 1, -1],
    ])
      if (prof[j][1] > 1e-6) out.push(s > 0 ? at[j] : [...at[j]].reverse());
  return solid(out);
}
export const cyl = (r, x0, x1, n = 56) =>
  lathe(
    [
      [x0, r],
      [x1, r],
    ],
    n,
  );
export const ring = (r0, r1, x0, x1, n = 64) =>
  lathe(
    [
      [x0, r0],
      [x0, r1],
      [x1, r1],
      [x1, r0],
    ],
    n,
    true,
  );
export const ball = (p, r, n = 20) => P.sphere({ radius: r, center: p, segments: n });
// the X axis laid on direction d, then moved to p
export function aim(g, p, d) {
  const l = Math.hypot(...d);
  return move(p, turnZ(Math.atan2(d[1], d[0]), turnY(-Math.asin(d[2] / l), g)));
}
export const rod = (a, b, r, n = 32) => aim(cyl(r, 0, Math.hypot(...sub(b, a)), n), a, sub(b, a));
export const blob = (...ps) => hull(ps.map(([x, y, z, r]) => ball([x, y, z], r)));
export const slab = (size, center, round = 3) =>
  P.roundedCuboid({
    size,
    center,
    roundRadius: Math.min(round, ...size.map((s) => s / 2 - 0.01)),
    segments: 12,
  });
export const plate = (pts, x0, x1) =>
  move(
    [x0, 0, 0],
    turnX(
      PI / 2,
      turnY(
        PI / 2,
        turnZ(
          0,
          E.extrudeLinear({ height: x1 - x0 }, geom2.fromPoints(area(pts) < 0 ? [...pts].reverse() : pts)),
        ),
      ),
    ),
  ); // pts in (Y, Z)
const area = (p) =>
  p.reduce((s, a, i) => {
    const b = p[(i + 1) % p.length];
    return s + a[0] * b[1] - b[0] * a[1];
  }, 0);
// a round bar along a path
export function tube(path, r, n = 12) {
  const N = path.length,
    fr = [];
  let u = null;
  for (let i = 0; i < N; i++) {
    const t = unit(sub(path[Math.min(N - 1, i + 1)], path[Math.max(0, i - 1)]));
    if (!u) u = unit(cross(t, Math.abs(t[2]) < 0.9 ? [0, 0, 1] : [0, 1, 0]));
    const d = u[0] * t[0] + u[1] * t[1] + u[2] * t[2];
    u = unit(u.map((x, k) => x - d * t[k]));
    const v = cross(t, u),
      R = typeof r === "function" ? r(i / (N - 1)) : r;
    fr.push(
      Array.from({ length: n }, (_, j) =>
        path[i].map(
          (x, k) => x + R * (Math.cos((j * 2 * PI) / n) * u[k] + Math.sin((j * 2 * PI) / n) * v[k]),
        ),
      ),
    );
  }
  const out = [];
  for (let i = 0; i < N - 1; i++)
    for (let j = 0; j < n; j++) {
      const k = (j + 1) % n;
      out.push([fr[i][j], fr[i + 1][j], fr[i + 1][k], fr[i][k]]);
    }
  out.push(fr[0], [...fr[N - 1]].reverse());
  return solid(out);
}
// smooth curve through points
export function curve(ps, k = 10) {
  const out = [];
  for (let i = 0; i < ps.length - 1; i++) {
    const a = ps[Math.max(0, i - 1)],
      b = ps[i],
      c = ps[i + 1],
      d = ps[Math.min(ps.length - 1, i + 2)];
    for (let j = 0; j < k; j++) {
      const t = j / k;
      out.push(
        b.map(
          (_, q) =>
            0.5 *
            (2 * b[q] +
              (c[q] - a[q]) * t +
              (2 * a[q] - 5 * b[q] + 4 * c[q] - d[q]) * t * t +
              (3 * b[q] - a[q] - 3 * c[q] + d[q]) * t * t * t),
        ),
      );
    }
  }
  out.push(ps[ps.length - 1]);
  return out;
}
export const spring = (R, r, z0, z1, turns, c) =>
  tube(
    Array.from({ length: Math.round(turns * 26) + 1 }, (_, i) => {
      const t = i / (turns * 26),
        a = t * turns * 2 * PI;
      return [c[0] + R * Math.cos(a), c[1] + R * Math.sin(a), z0 + (z1 - z0) * t];
    }),
    r,
  );
export const round = (n, r, a0, f) =>
  Array.from({ length: n }, (_, i) => {
    const a = a0 + (i * 2 * PI) / n;
    return f([0, r * Math.cos(a), r * Math.sin(a)], a);
  });
// screw thread as close rings (pitch as seen, not as cut), from x0 to x1
export function thread(d, x0, x1, pitch = 2.2) {
  const r = d / 2,
    p = [[x0, r * 0.86]];
  for (let x = x0; x + pitch <= x1 + 0.01; x += pitch) p.push([x + pitch * 0.5, r], [x + pitch, r * 0.84]);
  return lathe(p, 20);
}
const hexagon = (af) =>
  Array.from({ length: 6 }, (_, i) => [
    (af / Math.sqrt(3)) * Math.cos((i * PI) / 3),
    (af / Math.sqrt(3)) * Math.sin((i * PI) / 3),
  ]);
export const hexHead = (af, x0, x1) =>
  intersect(
    plate(hexagon(af), x0, x1),
    lathe(
      [
        [x0 - 1, af * 0.62],
        [x1 - af * 0.12, af * 0.6],
        [x1 + 0.01, af * 0.5],
      ],
      48,
    ),
  );
// bolt: bearing face at 0, head toward +X, shank toward -X
export const bolt = (d, len, af = d * 1.5, flange = true) => [
  hexHead(af, 0, d * 0.75),
  ...(flange
    ? [
        lathe(
          [
            [0, af * 0.78],
            [1.5, af * 0.78],
            [4, af * 0.55],
          ],
          40,
        ),
      ]
    : []),
  cyl(d / 2, -len * 0.45, 0.5, 32),
  thread(d, -len, -len * 0.44),
];
export const nut = (d, af = d * 1.5, h = d * 0.85) =>
  subtract(hexHead(af, 0, h), cyl(d / 2 - 0.4, -1, h + 1, 32));
export function castle(d, af = d * 1.6) {
  const h = d * 1.15;
  let g = subtract(
    union(hexHead(af, 0, h * 0.62), cyl(af * 0.44, h * 0.5, h, 40)),
    cyl(d / 2 - 0.4, -1, h + 1, 32),
  );
  for (let i = 0; i < 3; i++)
    g = subtract(g, turnX((i * PI) / 3, slab([h * 0.5, d * 0.3, af * 2], [h * 0.88, 0, 0], 0.1)));
  return g;
}
export const boot = (r0, r1, x0, x1, folds = 3) => {
  const p = [[x0, r0 * 0.9]];
  for (let i = 0; i < folds; i++) {
    const t = i / folds,
      r = r0 + (r1 - r0) * t,
      w = (x1 - x0) / folds;
    p.push(
      [x0 + i * w + w * 0.15, r * 1.0],
      [x0 + i * w + w * 0.5, r * 1.1],
      [x0 + i * w + w * 0.85, r],
      [x0 + i * w + w, r * 0.86],
    );
  }
  return lathe(p, 56);
};

// Directions, and what lies along X stood on end.
export const out = [1, 0, 0],
  up = [0, 0, 1],
  down = [0, 0, -1];
export const upright = (g) => turnY(-PI / 2, g);
// shelf collects the solids of a file: parts where they sit, tools where they work, fasteners laid along their axis
export function shelf() {
  const parts = {};
  const part = (name, solids, frames, stuff) => {
    parts[name] = { solids, frames, stuff };
  };
  const tool = (name, solids, frames, stuff = "tool") => part(name, solids, frames, stuff);
  const fast = (name, p, a, solids, more) =>
    part(
      name,
      [solids].flat().map((g) => aim(g, p, a)),
      { head: [...p, ...a], ...more },
    );
  return { parts, part, tool, fast };
}
