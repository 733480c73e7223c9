// Fasteners by themselves, and just as much round them as shows what they hold. X leaves the work unless a part has its
// place on one that stands elsewhere.
import {
  ball,
  bolt,
  boot,
  castle,
  curve,
  cyl,
  down,
  hexHead,
  hull,
  lathe,
  move,
  nut,
  out,
  PI,
  ring,
  rod,
  round,
  shelf,
  slab,
  subtract,
  thread,
  tube,
  union,
  up,
  upright,
} from "./kit.mjs";

export const { parts, part, fast } = shelf();

// --- wheels of four, six and eight
for (const [n, r] of [
  [4, 54],
  [6, 68],
  [8, 82],
]) {
  const at = round(n, r, PI / 2, (p) => p);
  part(
    "wheel-" + n,
    subtract(
      lathe(
        [
          [48, r - 22],
          [48, r + 20],
          [40, r + 42],
          [36, 168],
          [-86, 172],
          [-96, 196],
          [-90, 202],
          [-84, 182],
          [42, 178],
          [70, 202],
          [76, 196],
          [58, 168],
          [54, r + 44],
          [62, r + 22],
          [62, r - 22],
        ],
        80,
        true,
      ),
      ...round(n, 140, PI / 2 + PI / n, (p) => move([48, p[1], p[2]], cyl(n > 6 ? 16 : 22, -40, 40, 32))),
      ...at.map((p) =>
        move(
          p,
          lathe(
            [
              [40, 7],
              [54, 7],
              [64, 13],
            ],
            28,
          ),
        ),
      ),
    ),
    { face: [62, 0, r + 20, ...out] },
  );
  part("wheel-hub-" + n, [
    cyl(r - 24, 30, 66, 56),
    cyl(r + 16, 30, 46, 56),
    ...at.map((p) => move(p, [cyl(6, 40, 62, 20), thread(12, 60, 84, 2.6)])).flat(),
  ]);
  parts["wheel-hub-" + n].frames = { face: [66, 0, 0, ...out] };
  at.forEach((p, i) => fast(`wheel-nut-${n}-${i + 1}`, [60, p[1], p[2]], out, nut(13, 19, 18)));
}

// --- a ball's stud through a plate: links
part("stud-plate", subtract(slab([8, 110, 84], [-4, 0, 0], 4), cyl(6.4, -20, 20, 32)), {
  face: [0, 34, 30, ...out],
});
part(
  "stud-ball",
  [
    ball([-34, 0, 0], 17),
    cyl(6, -34, 2, 28),
    thread(12, 0, 24),
    hexHead(6.5, 23, 30),
    rod([-34, 0, 0], [-38, 0, -190], 7),
    hull(ball([-34, 0, 0], 17), rod([-36, 0, -20], [-36, 0, -40], 9)),
  ],
  { rod: [-38, 7, -110, 0, 1, 0], end: [30, 0, 0, ...out] },
);
part("stud-boot", boot(9, 16, -20, -9, 1), { rim: [-14, 0, 14, ...up] }, "rubber");
fast("stud-nut", [0, 0, 0], out, nut(12, 18, 11));

// --- a bolt through two ears and an eye; what the eye is of
part(
  "ears",
  subtract(
    union(
      ...[1, -1].map((s) =>
        hull(rod([0, s * 24, 0], [0, s * 32, 0], 26), slab([50, 8, 10], [0, s * 28, 50], 2)),
      ),
      slab([56, 70, 10], [0, 0, 58], 3),
    ),
    rod([0, -60, 0], [0, 60, 0], 6.4),
  ),
  { top: [0, 0, 64, ...up], side: [16, 32, 20, 0, 1, 0] },
);
part(
  "ears-low",
  subtract(
    union(
      ...[1, -1].map((s) =>
        hull(rod([0, s * 24, 0], [0, s * 32, 0], 26), slab([50, 8, 10], [0, s * 28, -50], 2)),
      ),
      slab([120, 90, 10], [20, 0, -58], 3),
    ),
    rod([0, -60, 0], [0, 60, 0], 6.4),
  ),
  { side: [16, 32, -20, 0, 1, 0], base: [70, 0, -52, ...up] },
);
const eyeOf = (r = 21) => [
  subtract(rod([0, -22, 0], [0, 22, 0], r), rod([0, -30, 0], [0, 30, 0], r * 0.72)),
  subtract(rod([0, -23, 0], [0, 23, 0], 10), rod([0, -30, 0], [0, 30, 0], 6.4)),
];
part(
  "eye-rubber",
  subtract(rod([0, -20, 0], [0, 20, 0], 15.6), rod([0, -30, 0], [0, 30, 0], 9.8)),
  {},
  "rubber",
);
part("eye-shock-down", [...eyeOf(), rod([0, 0, -18], [0, 0, -40], 9), rod([0, 0, -40], [0, 0, -220], 25)], {
  tube: [25, 0, -120, ...out],
});
part("eye-shock-up", [...eyeOf(), rod([0, 0, 18], [0, 0, 40], 9), rod([0, 0, 40], [0, 0, 220], 25)], {
  tube: [25, 0, 120, ...out],
});
part(
  "eye-arm",
  [...eyeOf(26), hull(rod([-20, 0, 0], [-24, 0, 0], 15), rod([-230, 0, 14], [-234, 0, 14], 19))],
  { arm: [-130, 0, 18, ...up] },
);
part(
  "eye-leaf",
  [
    ...eyeOf(24),
    ...[0, 1, 2].map((k) =>
      hull(
        slab([10, 60, 8], [-26 - k * 60, 0, -20 - k * 11], 1),
        slab([10, 60, 8], [-300, 0, -42 - k * 11], 1),
      ),
    ),
  ],
  { leaf: [-180, 0, -24, ...up] },
);
part(
  "eye-fork",
  [
    rod([0, -24, 0], [0, 24, 0], 22),
    rod([0, 0, 200], [0, 0, 300], 27),
    ...[1, -1].map((s) =>
      hull(rod([0, s * 40, 0], [0, s * 34, 0], 18), slab([26, 10, 20], [0, s * 38, 150], 4)),
    ),
    hull(slab([40, 88, 24], [0, 0, 164], 6), rod([0, 0, 196], [0, 0, 204], 30)),
  ],
  { fork: [0, 44, 90, 0, 1, 0] },
);
fast("eye-bolt", [0, 32, 0], [0, 1, 0], bolt(12, 78, 18));
fast("eye-bolt-wide", [0, 46, 0], [0, 1, 0], bolt(12, 104, 18));
fast("eye-bolt-up", [0, 0, 66], up, bolt(12, 60, 18));

// --- joints in their plates: nut on the stud, bolts of the plate
part(
  "joint-eye",
  subtract(
    union(
      upright(cyl(19, 42, 70, 40)),
      hull(rod([0, 0, 50], [0, 0, 62], 17), rod([-110, 20, 80], [-110, 20, 92], 15)),
    ),
    upright(cyl(8, 30, 90, 32)),
  ),
  { top: [0, 14, 70, ...up], arm: [-80, 14, 88, ...up] },
);
part("joint-nut", move([0, 0, 71], upright(castle(12, 19))), { head: [0, 0, 71, ...up] });
[0, 2.09, 4.19].forEach((a, i) =>
  fast("joint-bolt-" + (i + 1), [54 * Math.cos(a), 54 * Math.sin(a), 8], up, bolt(10, 30, 15)),
);
part(
  "joint-four",
  [
    subtract(
      slab([130, 100, 10], [0, 0, 4], 8),
      ...[1, -1].flatMap((x) =>
        [1, -1].map((y) => move([x * 50, y * 36, 0], upright(cyl(5.4, -10, 20, 20)))),
      ),
    ),
    upright(
      lathe(
        [
          [-26, 0],
          [-26, 22],
          [-20, 27],
          [12, 26],
          [14, 20],
          [14, 0],
        ],
        48,
      ),
    ),
    upright(
      lathe(
        [
          [34, 9.5],
          [74, 7],
          [76, 5.6],
        ],
        32,
      ),
    ),
    upright(thread(11, 74, 100)),
  ],
  { end: [0, 0, 100, ...up], plate: [64, 20, 6, ...out] },
);
[
  [50, 36],
  [50, -36],
  [-50, -36],
  [-50, 36],
].forEach(([x, y], i) => fast("plate-bolt-" + (i + 1), [x, y, 9], up, bolt(9, 30, 14)));
part(
  "arm-plate",
  subtract(
    hull(slab([160, 120, 12], [0, 0, -8], 8), slab([60, 60, 12], [-190, 0, -8], 8)),
    upright(cyl(30, -40, 20, 48)),
  ),
  { edge: [-150, 20, -2, ...up] },
);

// --- brake lines and their brackets
part(
  "line-bracket",
  subtract(
    union(slab([4, 70, 60], [-2, 0, 4], 2), slab([40, 70, 4], [-20, 0, 34], 1.5)),
    cyl(6, -10, 10, 28),
  ),
  { face: [0, 24, -10, ...out], top: [-20, 0, 36, ...up] },
);
part(
  "hose-end",
  [
    cyl(9, -40, -4, 32),
    hexHead(17, -22, -8),
    tube(
      curve([
        [-38, 0, 0],
        [-70, 4, -20],
        [-90, 10, -70],
        [-86, 14, -130],
      ]),
      6.5,
      14,
    ),
  ],
  { hose: [-90, 10, -70, -1, 0, 0] },
  "rubber",
);
part(
  "union-line",
  [
    tube(
      curve([
        [6, 0, 0],
        [50, 0, 4],
        [96, 20, 40],
        [130, 30, 110],
      ]),
      3,
      12,
    ),
  ],
  { pipe: [96, 20, 44, ...up] },
);
fast("union-nut", [2, 0, 0], out, [hexHead(11, 2, 11), thread(10, -14, 3, 1.6), cyl(4, 0, 14, 24)]);
fast("bracket-screw", [-20, 22, 36], up, bolt(7, 18, 11));

// --- under: shield, battery, U-bolts, shackle, hanger, coupling, support, rack, oil
[
  [300, 270],
  [300, -270],
  [-300, -270],
  [-300, 270],
].forEach(([x, y], i) => fast("shield-screw-" + (i + 1), [x, y, -3], down, bolt(8, 22, 13)));
fast("battery-nut", [74, -71, 13], [0, 1, 0], nut(7, 11, 7));
part(
  "ubolts",
  [1, -1].map((s) =>
    tube(
      curve(
        [
          [s * 30, -50, -196],
          [s * 30, -50, -130],
          [s * 30, -46, -60],
          [s * 30, 0, -38],
          [s * 30, 46, -60],
          [s * 30, 50, -130],
          [s * 30, 50, -196],
        ],
        6,
      ),
      7,
      14,
    ),
  ),
  { top: [30, 0, -30, ...up] },
);
part(
  "ubolt-plate",
  subtract(
    slab([120, 140, 12], [0, 0, -182], 4),
    ...[1, -1].flatMap((x) => [1, -1].map((y) => rod([x * 30, y * 50, -200], [x * 30, y * 50, -160], 7.6))),
  ),
  { edge: [60, 0, -182, ...out] },
);
[
  [30, 50],
  [30, -50],
  [-30, -50],
  [-30, 50],
].forEach(([x, y], i) => fast("ubolt-nut-" + (i + 1), [x, y, -188], down, nut(13, 19, 12)));
part(
  "shackle-plates",
  [1, -1].map((s) =>
    subtract(
      hull(rod([s * 36, -604, 0], [s * 44, -604, 0], 22), rod([s * 36, -650, 96], [s * 44, -650, 96], 22)),
      rod([-80, -604, 0], [80, -604, 0], 6.4),
      rod([-80, -650, 96], [80, -650, 96], 6.4),
    ),
  ),
  { face: [44, -628, 50, ...out] },
);
part(
  "shackle-rail",
  [
    slab([64, 420, 60], [0, -560, 150], 8),
    rod([-34, -650, 96], [34, -650, 96], 20),
    slab([60, 40, 40], [0, -650, 118], 4),
  ],
  { rail: [32, -480, 150, ...out] },
);
fast("shackle-bolt-1", [44, -604, 0], out, bolt(12, 96, 18));
fast("shackle-bolt-2", [44, -650, 96], out, bolt(12, 96, 18));
part(
  "hanger",
  [
    ...[1, -1].map((s) =>
      subtract(
        hull(rod([s * 36, 604, 0], [s * 44, 604, 0], 26), slab([8, 90, 20], [s * 40, 600, 80], 2)),
        rod([-80, 604, 0], [80, 604, 0], 6.4),
      ),
    ),
    slab([110, 260, 60], [0, 600, 118], 8),
  ],
  { face: [44, 600, 40, ...out], rail: [55, 520, 118, ...out] },
);
fast("hanger-bolt", [44, 604, 0], out, bolt(12, 96, 18));
round(4, 46, PI / 4, (p) => p).forEach((p, i) =>
  fast("coupling-bolt-" + (i + 1), [148, p[1], p[2]], [-1, 0, 0], bolt(9, 34, 13)),
);
[84, -84].forEach((y, i) => fast("support-bolt-" + (i + 1), [13, y, 63], down, bolt(9, 40, 14)));
[-180, 150].forEach((x, i) => fast("rack-bolt-" + (i + 1), [x, -26, -46], down, bolt(11, 70, 17)));
[
  [-112, 26, 46],
  [-96, 26, 26],
].forEach(([x, y, z], i) =>
  fast("rack-line-" + (i + 1), [x, y, z], [0, 1, 0.2], [hexHead(14, 0, 12), thread(11, -14, 1, 1.8)]),
);
part(
  "rack-pipes",
  [
    [-112, 26, 46],
    [-96, 26, 26],
  ].map(([x, y, z]) =>
    tube(
      curve([
        [x, y + 8, z + 2],
        [x + 4, y + 50, z + 12],
        [x + 60, y + 80, z + 30],
        [x + 160, y + 80, z + 40],
      ]),
      4,
      12,
    ),
  ),
  { run: [10, 106, 80, ...up] },
);
part(
  "column-yoke",
  subtract(
    union(
      rod([-142, 52, 158], [-162, 96, 262], 15),
      hull(rod([-139, 46, 144], [-146, 62, 178], 18), slab([18, 24, 26], [-120, 62, 160], 4)),
    ),
    rod([-136, 40, 128], [-146, 62, 180], 11.4),
    slab([60, 5, 40], [-112, 60, 160], 0.5),
  ),
  { shaft: [-162, 96, 262, -0.2, 0.4, 0.9] },
);
fast("column-bolt", [-120, 74, 163], [0, 0.96, 0.2], bolt(8, 34, 13));
part("filler-top", move([-60, 0, 0], upright(cyl(18, 120, 134, 40))), {});
fast("filler-plug", [-60, 0, 134], up, [hexHead(22, 0, 11), cyl(16, -2, 2, 36), thread(18, -16, 0)]);
[58, -58].forEach((x, i) => fast("gmount-nut-" + (i + 1), [x, 0, 5], up, nut(10, 16, 10)));
fast(
  "drum-screw",
  [60, 0, 84],
  out,
  subtract(
    lathe(
      [
        [-14, 0],
        [-14, 4.4],
        [-4, 4.4],
        [0, 9],
        [0.8, 9],
        [0.8, 0],
      ],
      28,
    ),
    hexHead(6, -4, 2),
  ),
);
round(4, 58, PI / 4, (p) => p).forEach((p, i) =>
  fast("hub-bolt4-" + (i + 1), [-34, p[1], p[2]], [-1, 0, 0], bolt(12, 52, 17)),
);
fast(
  "cylinder-bleeder",
  [-12, 14, 98],
  [-1, 0, 0.25],
  [
    thread(9, -12, 0),
    hexHead(10, 0, 8),
    lathe(
      [
        [8, 4],
        [14, 3],
        [16, 4.4],
        [20, 3],
        [20, 0],
      ],
      24,
    ),
  ],
);
[24, -24].forEach((y, i) => fast("cylinder-bolt-" + (i + 1), [-12, y, 88], [-1, 0, 0], bolt(7, 16, 11)));
fast(
  "cylinder-union",
  [-12, -8, 100],
  [-1, 0, 0.1],
  [hexHead(11, 2, 11), thread(10, -12, 3, 1.6), cyl(4, 0, 14, 24)],
);
part(
  "cylinder-line",
  [
    tube(
      curve([
        [-20, -8, 101],
        [-60, -10, 106],
        [-90, -40, 90],
        [-100, -110, 60],
      ]),
      3,
      12,
    ),
  ],
  { pipe: [-90, -40, 94, ...up] },
);

// --- damper by its stem, by its foot, in a clamp
part(
  "stem",
  [
    rod([0, 0, -240], [0, 0, -40], 24),
    rod([0, 0, -40], [0, 0, 6], 7),
    move([0, 0, 0], upright(thread(11, 4, 48))),
  ],
  { tube: [24, 0, -140, ...out] },
);
part("stem-plate", subtract(slab([150, 130, 8], [0, 0, 0], 3), upright(cyl(10, -20, 20, 32))), {
  face: [50, 40, 4, ...up],
});
part(
  "stem-rubbers",
  [1, -1].map((s) =>
    s > 0
      ? upright(
          lathe(
            [
              [4, 9],
              [4, 21],
              [14, 23],
              [20, 17],
              [20, 9],
            ],
            40,
            true,
          ),
        )
      : upright(
          lathe(
            [
              [-20, 9],
              [-20, 17],
              [-14, 23],
              [-4, 21],
              [-4, 9],
            ],
            40,
            true,
          ),
        ),
  ),
  { side: [22, 0, 12, ...out] },
  "rubber",
);
part(
  "stem-cups",
  [20, -23].map((x) => upright(ring(7, 24, x, x + 3, 44))),
  { rim: [24, 0, 22, ...out] },
);
fast("stem-nut", [0, 0, 24], up, nut(11, 17, 10));
part(
  "shock-foot",
  [
    ...eyeOf(20),
    rod([0, 0, 18], [0, 0, 200], 24),
    rod([-70, 0, 0], [70, 0, 0], 9),
    ...[1, -1].map((s) => hull(slab([40, 30, 10], [s * 56, 0, 0], 3), slab([20, 24, 10], [s * 40, 0, 0], 3))),
  ],
  { tube: [24, 0, 120, ...out], foot: [70, 12, 5, ...up] },
);
part(
  "foot-seat",
  [
    slab([190, 80, 14], [0, 0, -14], 4),
    hull(slab([120, 60, 10], [-80, 0, -22], 4), slab([40, 40, 20], [-240, 0, -24], 8)),
  ],
  { arm: [-160, 0, -16, ...up] },
);
[56, -56].forEach((x, i) => fast("foot-bolt-" + (i + 1), [x, 0, 5], up, bolt(9, 34, 14)));
part(
  "clamp-ring",
  subtract(
    union(upright(cyl(38, -40, 40, 56)), slab([40, 44, 70], [46, 0, 0], 6)),
    upright(cyl(27, -60, 60, 48)),
    slab([80, 6, 100], [60, 0, 0], 0.5),
    rod([48, -60, 0], [48, 60, 0], 6.4),
  ),
  { side: [0, 38, 20, 0, 1, 0] },
);
part("clamp-strut", [upright(cyl(26.4, -60, 210, 48)), upright(ring(26, 31, 60, 66, 48))], {
  tube: [26, 0, 140, ...out],
});
part("clamp-knuckle", [hull(slab([40, 60, 60], [-54, 0, 0], 10), slab([30, 90, 60], [-90, 0, -110], 14))], {
  body: [-90, 45, -110, 0, 1, 0],
});
part(
  "clamp-fork",
  [
    hull(slab([60, 70, 20], [0, 0, -52], 8), slab([30, 100, 20], [0, 0, -110], 8)),
    ...[1, -1].map((s) =>
      hull(slab([30, 14, 20], [0, s * 46, -110], 4), rod([0, s * 40, -220], [0, s * 54, -220], 20)),
    ),
  ],
  { leg: [0, 54, -170, 0, 1, 0] },
);
fast("clamp-bolt", [48, 22, 0], [0, 1, 0], bolt(11, 48, 17));

// --- steering wheel, park brake motor, air spring, drive flange, heat shield, idler, tie rod at any arm
fast("column-centre", [-10, 0, 0], out, bolt(14, 40, 21));
part("steering-hub", subtract(cyl(34, -44, -10, 48), cyl(6, -60, 0, 24)), {});
[36, -36].forEach((y, i) => fast("motor-screw-" + (i + 1), [9, 0, y], out, bolt(6, 26, 9)));
[0.5, 2.6, 4.7].forEach((a, i) =>
  fast("air-nut-" + (i + 1), [50 * Math.cos(a), 50 * Math.sin(a), 164], up, [
    nut(9, 14, 9),
    thread(9, 0, 18),
  ]),
);
round(6, 44, 0.3, (p) => p).forEach((p, i) =>
  fast("flange-bolt-" + (i + 1), [100, p[1], p[2]], out, bolt(9, 40, 13)),
);
part(
  "flange-cup",
  [
    lathe(
      [
        [0, 0],
        [0, 54],
        [78, 54],
        [86, 58],
        [100, 58],
        [100, 22],
        [100, 0],
      ],
      64,
    ),
  ],
  { rim: [93, 0, 58, ...up] },
);
part("flange-shaft", rod([108, 0, 0], [300, 0, -8], 13), { bar: [220, 0, 8, ...up] });
part(
  "heat-plate",
  [
    slab([260, 200, 4], [0, 0, 0], 2),
    slab([260, 4, 60], [0, 100, 28], 2),
    ...[-40, 0, 40].map((y) => slab([200, 12, 8], [0, y, 0], 3)),
  ],
  { edge: [130, 0, 0, ...out], low: [60, 40, -4, ...down] },
);
[90, -90].forEach((x, i) => fast("heat-screw-" + (i + 1), [x, -70, -3], down, bolt(7, 20, 11)));
[
  [46, 36],
  [46, -36],
  [-46, -36],
  [-46, 36],
].forEach(([y, z], i) => fast("idler-bolt-" + (i + 1), [0, y, z], out, bolt(10, 30, 15)));
fast("idler-nut", [24, 150, -40], down, nut(12, 18, 12));
part(
  "tie-eye",
  subtract(
    union(
      rod([-30, 140, -44], [-30, 140, -18], 19),
      hull(rod([-30, 128, -40], [-30, 128, -24], 14), rod([-20, 10, -36], [-20, 10, -20], 17)),
    ),
    rod([-30, 140, -60], [-30, 140, 0], 8),
  ),
  { side: [-12, 80, -30, ...out], eye: [-30, 158, -31, 0, 1, 0] },
);
