// Gauges and small tools. They work at their origin, +X leaves the work.
import { ball, curve, cyl, hull, lathe, move, PI, rod, shelf, slab, tube, turnZ, union } from "./kit.mjs";

export const { parts: tools, tool } = shelf();

// a micrometer over 24 mm: its anvil at the origin, its bow toward Z
tool(
  "micrometer",
  [
    cyl(5, 0, 12, 24),
    cyl(5, -40, -24, 24),
    tube(
      curve([
        [10, 0, 0],
        [18, 0, 30],
        [8, 0, 62],
        [-12, 0, 72],
        [-34, 0, 60],
        [-44, 0, 28],
        [-36, 0, 0],
      ]),
      8,
      16,
    ),
    cyl(9, -62, -36, 32),
    cyl(12, -108, -60, 32),
    cyl(7, -122, -108, 24),
  ],
  { thimble: [-90, 0, 12, 0, 0, 1], scale: [-50, -9, 0, 0, -1, 0], grip: [-86, 0, 0, -1, 0, 0] },
);
// the face of a dial, its middle at a distance along X, its needle's side towards Y
const clock = (x) =>
  move(
    [x, 0, 0],
    turnZ(
      PI / 2,
      lathe([
        [-10, 0],
        [-10, 31],
        [-6, 33],
        [7, 33],
        [10, 30],
        [10, 0],
      ]),
    ),
  );
// a dial gauge, its tip at the origin, on an arm that reaches over a disc to a magnet on the strut
tool(
  "dial",
  [
    ball([3, 0, 0], 3.4),
    cyl(2.6, 2, 28, 16),
    cyl(5, 24, 48, 24),
    clock(76),
    rod([76, 12, 0], [76, 12, 22], 1.6),
    tube(
      curve([
        [110, 0, 0],
        [140, -5, 50],
        [110, -15, 150],
        [20, -40, 215],
        [-40, -56, 230],
      ]),
      7,
      14,
    ),
    slab([50, 40, 50], [-60, -58, 232], 5),
  ],
  { face: [76, 11, 0, 0, 1, 0], tip: [0, 0, 0, -1, 0, 0], foot: [-60, -78, 232, 0, -1, 0] },
);
// a bore gauge, the middle of its two feet at the origin
tool(
  "bore-gauge",
  [
    rod([0, 0, -43.8], [0, 0, 43.8], 4),
    cyl(9, -12, 14, 32),
    cyl(6, 14, 190, 24),
    cyl(9, 90, 150, 32),
    clock(218),
  ],
  { grip: [120, 0, 9, 0, 0, 1], dial: [218, 0, 33, 0, 0, 1] },
);
// a wire brush, its bristles at the origin
tool(
  "wire-brush",
  [
    ...[-24, -12, 0, 12, 24].flatMap((y) =>
      [-7, 0, 7].map((z) => rod([0, y * 1.1, z * 1.2], [24, y, z], 3.2, 10)),
    ),
    slab([14, 74, 26], [30, 0, 0], 4),
    hull(slab([12, 20, 22], [34, 36, 0], 5), slab([16, 24, 22], [52, 190, 0], 7)),
  ],
  { tip: [0, 0, 0, -1, 0, 0], grip: [48, 140, 0, 0, 1, 0], back: [37, 0, 0, 1, 0, 0] },
);
// a hand lamp, its light at the origin
tool(
  "lamp",
  [
    lathe([
      [20, 0],
      [20, 24],
      [34, 26],
      [60, 18],
      [66, 13],
      [200, 13],
      [206, 9],
      [206, 0],
    ]),
    union(rod([100, 0, 12], [100, 0, 18], 6)),
  ],
  { head: [20, 0, 0, -1, 0, 0], grip: [140, 0, 0, 1, 0, 0] },
);
