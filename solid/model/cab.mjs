// What is seen in the cab and under the bonnet: pedal, foot, reservoir, steering wheel with bag and coil. Each at
// its own
// origin: X toward whoever works at it, Z up.
import {
  aim,
  ball,
  blob,
  curve,
  cyl,
  hull,
  lathe,
  move,
  PI,
  rod,
  shelf,
  slab,
  subtract,
  tube,
  turnY,
  union,
} from "./kit.mjs";

export const { parts, part } = shelf();

// --- brake pedal, its pad toward the driver
part(
  "pedal",
  [
    hull(slab([22, 12, 22], [-34, 0, 330], 4), slab([16, 10, 16], [-22, 0, 60], 4)),
    hull(slab([16, 10, 16], [-22, 0, 70], 4), slab([10, 18, 30], [-8, 0, 14], 3)),
    slab([12, 74, 52], [-6, 0, 0], 5),
    ...[-16, -6, 4, 14].map((z) => slab([3, 66, 4], [0.5, 0, z], 1)),
    rod([-34, -40, 330], [-34, 40, 330], 9),
  ],
  { pad: [2, 0, 0, 1, 0, 0, 0, 0, 1], pivot: [-34, 0, 330, 0, -1, 0], edge: [-6, -38, 0, 0, -1, 0] },
);
part("bulkhead", [slab([8, 360, 420], [-120, 0, 180], 2)], { face: [-116, 60, 60, 1, 0, 0] });
part(
  "foot",
  [
    slab([16, 84, 250], [8, 0, -60], 7),
    hull(blob([34, 0, -150, 34], [36, 0, -60, 36]), blob([22, 0, 52, 24])),
    hull(ball([46, 0, -146], 36), ball([60, 0, -110], 36), ball([170, 0, -40], 38)),
  ],
  { sole: [0, 0, 0, -1, 0, 0], ankle: [60, 0, -140, 0, -1, 0] },
  "rubber",
);
part(
  "prop",
  [
    rod([16, 0, 0], [380, 0, -70], 11),
    hull(slab([14, 60, 16], [8, 0, 0], 4), rod([14, 0, 0], [30, 0, -3], 11)),
  ],
  { mid: [200, 0, -24, 0, -1, 0], end: [380, 0, -70, 1, 0, 0] },
  "wood",
);

// --- reservoir of the brake, with its marks, and what stands in it
const tank = slab([110, 150, 90], [0, 0, 0], 14);
part(
  "reservoir",
  [
    subtract(
      tank,
      slab([102, 142, 82], [0, 0, 0], 12),
      move([0, 30, 30], turnY(-PI / 2, cyl(27, 0, 40, 40))),
    ),
    ...[22, -18].map((z) => slab([2, 70, 3], [55.5, -20, z], 0.5)),
    ...[-40, 40].map((y) => rod([0, y, -64], [0, y, -44], 11)),
  ],
  {
    most: [57, -20, 22, 1, 0, 0],
    least: [57, -20, -18, 1, 0, 0],
    neck: [0, 30, 46, 0, 0, 1],
    side: [56, 20, 0, 1, 0, 0],
  },
);
part("reservoir-fluid", [slab([101, 141, 60], [0, 0, -10], 4)], { top: [20, -20, 20, 0, 0, 1] }, "fluid");
part("reservoir-low", [slab([101, 141, 26], [0, 0, -28], 4)], { top: [20, -20, -15, 0, 0, 1] }, "fluid");
part(
  "reservoir-cap",
  [
    move(
      [0, 30, 44],
      turnY(
        -PI / 2,
        lathe([
          [0, 0],
          [0, 31],
          [4, 33],
          [18, 33],
          [22, 30],
          [22, 0],
        ]),
      ),
    ),
  ],
  { top: [0, 30, 66, 0, 0, 1], rim: [33, 30, 56, 1, 0, 0] },
);

// --- steering wheel from the driver's seat, its column behind it
const rim = lathe(
  Array.from({ length: 20 }, (_, i) => [15 * Math.cos((i * PI) / 10), 182 + 15 * Math.sin((i * PI) / 10)]),
  96,
  true,
);
part(
  "steering-wheel",
  [
    rim,
    hull(slab([16, 24, 40], [-4, 170, 0], 6), slab([18, 20, 70], [-16, 62, 0], 6)),
    hull(slab([16, 24, 40], [-4, -170, 0], 6), slab([18, 20, 70], [-16, -62, 0], 6)),
    hull(slab([16, 44, 24], [-4, 0, -170], 6), slab([18, 70, 20], [-16, 0, -62], 6)),
    lathe([
      [-40, 0],
      [-40, 52],
      [-30, 66],
      [-12, 70],
      [-12, 0],
    ]),
  ],
  {
    centre: [-12, 0, 0, 1, 0, 0],
    top: [0, 0, 197, 0, 0, 1],
    low: [0, 0, -197, 0, 0, -1],
    right: [0, 197, 0, 0, 1, 0],
    rim: [12, 130, 130, 1, 0, 0],
  },
);
part(
  "column",
  [rod([-60, 0, 0], [-330, 0, -30], 26), hull(cyl(60, -130, -60), slab([90, 150, 130], [-190, 0, 0], 16))],
  {
    shaft: [-60, 26, 0, 0, 1, 0],
  },
);
part("column-shaft", [cyl(11, -70, 4), cyl(13, -64, -40)], { end: [4, 0, 0, 1, 0, 0] });
part(
  "bag",
  [
    lathe([
      [-10, 0],
      [-10, 58],
      [2, 64],
      [16, 58],
      [22, 40],
      [24, 0],
    ]),
    slab([26, 20, 14], [-22, 0, -20], 3),
  ],
  { face: [24, 0, 0, 1, 0, 0], back: [-34, 0, -20, -1, 0, 0], edge: [6, 0, 64, 0, 0, 1] },
);
part(
  "wheel-coil",
  [
    subtract(
      lathe([
        [-60, 0],
        [-60, 54],
        [-56, 58],
        [-40, 58],
        [-36, 54],
        [-36, 0],
      ]),
      cyl(20, -70, -30),
    ),
    ...[30, -30].map((y) => rod([-36, y, 0], [-26, y, 0], 4)),
    slab([14, 40, 22], [-48, 0, -66], 3),
    slab([10, 8, 14], [-32, 0, 44], 1.5),
  ],
  {
    face: [-36, 0, 40, 1, 0, 0],
    pin: [-27, 0, 44, 1, 0, 0],
    plug: [-48, 0, -77, 0, 0, -1],
    peg: [-26, 30, 0, 1, 0, 0],
  },
);
part(
  "wheel-strap",
  [
    tube(
      curve([
        [-18, 0, -172],
        [4, 0, -204],
        [20, 0, -180],
        [60, 0, -240],
        [220, 0, -330],
      ]),
      7,
      14,
    ),
    union(slab([18, 34, 24], [70, 0, -246], 4)),
  ],
  { mid: [120, 0, -278, 0, -1, 0], buckle: [70, -17, -246, 0, -1, 0] },
  "rubber",
);

// --- two hooks opposite on a front strut's spring, each on its screw
const hooks = [1, -1].map((s) => {
  const y = -6 + s * 96;
  return [
    aim(cyl(8, 0, 236, 24), [-43, y, 250], [0, 0, 1]),
    aim(cyl(14, 0, 16, 6), [-43, y, 486], [0, 0, 1]),
    ...[302, 410].map((z) =>
      union(slab([34, 30, 26], [-43, y, z], 5), slab([22, 46, 12], [-43, y - s * 26, z], 4)),
    ),
  ];
});
part(
  "spring-hooks",
  hooks.flat(),
  { top: [-43, 90, 500, 0, 0, 1], hook: [-26, 70, 302, 1, 0, 0], screw: [-43, 90, 502, 0, 0, 1] },
  "tool",
);
