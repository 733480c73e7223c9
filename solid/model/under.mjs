// Dampers, springs, propeller shaft, rear axle: parts by themselves, X along the part or out of the work, Z up.
import m from "@jscad/modeling";
import {
  aim,
  ball,
  boot,
  curve,
  cyl,
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
  spring,
  subtract,
  thread,
  tube,
  turnX,
  turnY,
  union,
  up,
} from "./kit.mjs";

export const { parts, part, tool } = shelf();
const eye = (p, r = 20) => [
  subtract(
    rod([p[0], p[1] - 18, p[2]], [p[0], p[1] + 18, p[2]], r),
    rod([p[0], p[1] - 30, p[2]], [p[0], p[1] + 30, p[2]], r * 0.5),
  ),
  subtract(
    rod([p[0], p[1] - 22, p[2]], [p[0], p[1] + 22, p[2]], r * 0.5),
    rod([p[0], p[1] - 30, p[2]], [p[0], p[1] + 30, p[2]], 6),
  ),
];

// --- dampers: upright, drawn out; the same pushed in
for (const [name, rodTop] of [
  ["shock", 250],
  ["shock-in", 90],
])
  part(
    name,
    [
      rod([0, 0, -180], [0, 0, 30], 24),
      rod([0, 0, 26], [0, 0, 34], 27),
      rod([0, 0, 30], [0, 0, rodTop - 16], 8),
      ...eye([0, 0, -202]),
      ...eye([0, 0, rodTop]),
    ],
    {
      top: [0, 0, rodTop + 20, ...up],
      high: [0, 0, rodTop, ...out],
      low: [0, 0, -202, ...out],
      tube: [24, 0, -80, ...out],
      rod: [8, 0, 60, ...out],
      collar: [0, 0, 34, ...up],
    },
  );

// --- joints: one by itself in its plate, its stud up; a rod end alone
part(
  "joint-unit",
  [
    hull(
      ...[0, 2.09, 4.19].map((a) =>
        move([54 * Math.cos(a), 54 * Math.sin(a), 0], turnY(-PI / 2, cyl(14, 0, 8, 28))),
      ),
    ),
    turnY(
      -PI / 2,
      lathe(
        [
          [-26, 0],
          [-26, 22],
          [-20, 27],
          [8, 28],
          [12, 22],
          [12, 0],
        ],
        48,
      ),
    ),
    turnY(
      -PI / 2,
      lathe(
        [
          [34, 9.5],
          [74, 7],
          [76, 5.6],
        ],
        32,
      ),
    ),
    turnY(-PI / 2, thread(11, 74, 100)),
  ].map((g, i) =>
    i === 0
      ? subtract(
          g,
          ...[0, 2.09, 4.19].map((a) =>
            move([54 * Math.cos(a), 54 * Math.sin(a), 0], turnY(-PI / 2, cyl(5.5, -10, 20, 24))),
          ),
        )
      : g,
  ),
  {
    end: [0, 0, 100, ...up],
    taper: [9, 0, 46, ...out],
    hole: [54, 0, 8, ...up],
    plate: [54, 14, 4, 0, 1, 0],
    low: [0, 0, -26, 0, 0, -1],
  },
);
part("joint-unit-boot", turnY(-PI / 2, boot(24, 11, 12, 40, 2)), { rim: [24, 0, 20, ...out] }, "rubber");
part("arm-end", hull(rod([0, 0, -12], [0, 0, 0], 70), rod([-180, 30, -12], [-180, 30, 0], 30)), {
  top: [-100, 0, 0, ...up],
  edge: [40, 56, -6, 0, 1, 0],
});
part(
  "rivets",
  [0, 2.09, 4.19].map((a) =>
    move(
      [54 * Math.cos(a), 54 * Math.sin(a), 8],
      turnY(
        -PI / 2,
        lathe(
          [
            [-20, 5.4],
            [0, 5.4],
            [0, 10],
            [5, 8],
            [7, 0],
          ],
          28,
        ),
      ),
    ),
  ),
  { one: [54, 0, 14, ...up], two: [-27, 46, 14, ...up] },
);
part("joint-line", [move([0, 0, 1], turnY(-PI / 2, ring(70, 73, 0, 1.4, 72)))], { line: [71, 0, 2, ...up] });
part(
  "grease-nipple",
  [
    turnY(-PI / 2, cyl(4.4, -40, -26, 24)),
    turnY(-PI / 2, hexHead(9, -38, -30)),
    turnY(
      -PI / 2,
      lathe(
        [
          [-54, 0],
          [-54, 2.4],
          [-50, 3.4],
          [-46, 2.2],
          [-40, 2.8],
        ],
        24,
      ),
    ),
  ],
  { tip: [0, 0, -54, 0, 0, -1], hex: [5, 0, -34, ...out] },
);
tool(
  "grease-gun",
  [
    cyl(7, 0, 22, 24),
    tube(
      curve([
        [20, 0, 0],
        [60, 0, 0],
        [110, 0, 30],
        [150, 0, 90],
      ]),
      5.5,
      12,
    ),
    aim(cyl(26, 0, 190, 40), [148, 0, 84], [0.25, 0, 0.97]),
    hull(rod([160, 0, 120], [160, 0, 124], 8), rod([250, 0, 190], [254, 0, 194], 8)),
  ],
  { tip: [0, 0, 0, -1, 0, 0], body: [200, 0, 200, ...out] },
);

// --- mounts: a rubber mount with its plates; the support of a propeller shaft
part(
  "gbox-mount",
  [
    slab([150, 70, 10], [0, 0, 0], 3),
    lathe(
      [
        [5, 50],
        [24, 54],
        [44, 48],
        [44, 0],
        [5, 0],
      ],
      56,
    ),
    slab([90, 64, 10], [0, 0, 49], 3),
    rod([0, 0, 50], [0, 0, 86], 7),
  ].map((g, i) =>
    i === 1
      ? turnY(-PI / 2, g)
      : i === 0
        ? subtract(g, ...[1, -1].map((s) => rod([s * 58, 0, -20], [s * 58, 0, 20], 7)))
        : g,
  ),
  {
    low1: [75, 0, -5, ...out],
    high1: [75, 0, 54, ...out],
    stud: [0, 0, 86, ...up],
    hole1: [-58, -36, 0, 0, -1, 0],
    hole2: [58, -36, 0, 0, -1, 0],
  },
);
part(
  "prop-front",
  [
    rod([-420, 0, 0], [-34, 0, 0], 34),
    lathe(
      [
        [-40, 34],
        [-20, 22],
        [0, 19],
        [70, 17],
        [70, 0],
        [-40, 0],
      ],
      56,
    ),
  ],
  {
    tube: [-200, 0, 34, ...up],
    near: [-100, 34, 0, 0, 1, 0],
    far: [-300, -34, 0, 0, -1, 0],
    end: [70, 0, 0, ...out],
    seat: [10, 0, 19, ...up],
    line: [-60, 0, 34, ...up],
  },
);
part(
  "prop-rear",
  [
    rod([150, 0, 0], [520, 0, 0], 34),
    lathe(
      [
        [96, 17.4],
        [96, 27],
        [140, 27],
        [156, 34],
        [156, 0],
        [140, 0],
        [140, 17.4],
      ],
      56,
      true,
    ),
  ],
  {
    tube: [330, 0, 34, ...up],
    near: [330, 34, 0, 0, 1, 0],
    mouth: [96, 0, 22, -1, 0, 0],
    line: [170, 0, 34, ...up],
  },
);
part("prop-lines", [slab([70, 6, 2], [-66, 0, 34.6], 0.3), slab([70, 6, 2], [186, 0, 34.6], 0.3)], {
  a: [-66, 0, 36, ...up],
  b: [186, 0, 36, ...up],
});
part("prop-bearing", [ring(17.4, 34, 0, 26, 56), ring(33, 37, -2, 28, 56)], {
  inner: [26, 0, 21, ...out],
  top: [13, 0, 37, ...up],
  back: [0, 0, 22, -1, 0, 0],
});
part(
  "support-rubber",
  lathe(
    [
      [2, 37],
      [2, 58],
      [8, 62],
      [18, 62],
      [24, 58],
      [24, 37],
      [18, 44],
      [8, 44],
    ],
    64,
    true,
  ),
  { side: [24, 0, 52, ...out], top: [13, 0, 62, ...up] },
  "rubber",
);
part(
  "support-bracket",
  [
    subtract(
      union(ring(61, 68, -2, 28, 64), slab([30, 200, 14], [13, 0, 70], 3)),
      ...[1, -1].map((s) => rod([13, s * 84, 40], [13, s * 84, 100], 7)),
    ),
  ],
  {
    ear: [28, 84, 70, ...out],
    hole: [13, 84, 77, ...up],
    hole1: [13, 84, 77, ...up],
    hole2: [13, -84, 77, ...up],
    low: [13, 0, -68, 0, 0, -1],
  },
);
tool(
  "puller",
  [
    thread(18, 40, 210, 3),
    hexHead(24, 208, 224),
    slab([22, 150, 30], [150, 0, 0], 5),
    ...[1, -1].map((s) => [
      hull(slab([190, 12, 24], [60, s * 62, 0], 4), slab([20, 12, 24], [-30, s * 50, 0], 3)),
      hull(slab([8, 34, 22], [-36, s * 36, 0], 2), slab([20, 14, 22], [-28, s * 52, 0], 2)),
    ]),
  ].flat(),
  { screw: [224, 0, 0, ...out], leg: [60, 68, 0, 0, 1, 0], foot: [-40, 30, 0, -1, 0, 0] },
);
tool(
  "press-tube",
  [
    ring(18, 26, 0, 120, 56),
    lathe(
      [
        [116, 0],
        [116, 30],
        [126, 30],
        [126, 0],
      ],
      48,
    ),
  ],
  { end: [126, 0, 0, ...out], side: [60, 0, 26, ...up] },
);
tool(
  "knife",
  [
    hull(slab([60, 1.6, 20], [30, 0, 0], 0.4), slab([2, 1.2, 2], [0, 0, -9], 0.3)),
    hull(slab([30, 12, 22], [74, 0, 0], 4), slab([20, 16, 24], [170, 0, 0], 5)),
  ],
  { tip: [0, 0, -9, -1, 0, 0], grip: [120, 0, 0, ...out] },
);
const yoke = (s) =>
  [
    lathe(
      [
        [s * 150, 34],
        [s * 90, 32],
        [s * 70, 24],
        [s * 70, 0],
        [s * 150, 0],
      ],
      48,
    ),
    ...[1, -1].map((t) =>
      hull(slab([50, 16, 34], [s * 66, t * 38, 0], 5), rod([0, t * 32, 0], [0, t * 46, 0], 24)),
    ),
  ].map((g, i) => (i ? subtract(g, rod([0, -80, 0], [0, 80, 0], 15)) : g));
part("yoke-a", [...yoke(-1), rod([-420, 0, 0], [-148, 0, 0], 34)], {
  ear: [0, 46, 0, 0, 1, 0],
  tube: [-260, 0, 34, ...up],
  back: [0, -46, 0, 0, -1, 0],
});
part(
  "yoke-b",
  yoke(1)
    .map((g) => turnX(PI / 2, g))
    .concat([
      lathe(
        [
          [148, 34],
          [148, 60],
          [162, 60],
          [162, 0],
          [148, 0],
        ],
        56,
      ),
    ]),
  { flange: [162, 0, 50, ...out], ear: [0, 0, 46, ...up], rim: [155, 0, 60, ...up] },
);
part(
  "cross",
  [
    rod([0, -40, 0], [0, 40, 0], 10),
    rod([0, 0, -40], [0, 0, 40], 10),
    ball([0, 0, 0], 17),
    ...[1, -1].flatMap((s) => [
      rod([0, s * 30, 0], [0, s * 44, 0], 14.4),
      rod([0, 0, s * 30], [0, 0, s * 44], 14.4),
    ]),
  ],
  { cap: [0, 44, 0, 0, 1, 0], high: [0, 0, 44, ...up], low: [0, 0, -44, 0, 0, -1], body: [15, 0, 8, ...out] },
);
part(
  "prop-flange",
  [
    lathe(
      [
        [164, 60],
        [164, 0],
        [176, 0],
        [176, 60],
      ],
      56,
      true,
    ),
    lathe(
      [
        [176, 30],
        [240, 44],
        [300, 70],
        [300, 0],
        [176, 0],
      ],
      56,
    ),
  ],
  { face: [170, 0, 60, ...up], rim: [170, 0, 60, ...up], case: [260, 0, 54, ...up] },
);
part("flange-line", [slab([30, 7, 2], [165, 0, 60.6], 0.3)], { line: [165, 0, 62, ...up] });
tool(
  "angle-gauge",
  [
    slab([70, 16, 46], [0, 0, 24], 4),
    move([0, -9, 28], turnX(PI / 2, turnY(PI / 2, ring(0.1, 17, -1, 1, 40)))),
  ],
  { face: [0, -10, 28, 0, -1, 0], foot: [0, 0, 0, 0, 0, -1] },
);

// --- rear: leaf spring with its axle, shackle; coil on its arm; air spring
const leafAt = (k) =>
  tube(
    curve(
      Array.from({ length: 9 }, (_, i) => [
        0,
        (-1 + i / 4) * (600 - k * 120),
        (-((600 - k * 120) ** 2) / 6000) * (1 - (-1 + i / 4) ** 2) * 1.2 - k * 11,
      ]),
      4,
    ),
    4.6,
    6,
  );
part(
  "leaf-pack",
  [
    ...[0, 1, 2].map((k) => m.transforms.scale([7, 1, 1], leafAt(k))),
    ...[1, -1].map((s) => rod([-32, s * 604, 0], [32, s * 604, 0], 24)),
  ],
  {
    front: [0, 604, 24, ...up],
    rear: [0, -604, 24, ...up],
    centre: [0, 0, -66, ...up],
    middle: [32, 0, -84, ...out],
    eye1: [34, 604, 0, ...out],
    pad: [0, 0, -100, 0, 0, -1],
  },
);
part(
  "centre-bolt",
  [
    rod([0, 0, -118], [0, 0, -106], 11),
    rod([0, 0, -110], [0, 0, -60], 5),
    move([0, 0, -66], turnY(-PI / 2, nut(9, 15, 9))),
  ],
  { head: [0, 0, -118, 0, 0, -1], nut: [0, 0, -58, ...up] },
);
part("axle-tube", [rod([-330, 0, -140], [330, 0, -140], 38), slab([90, 110, 14], [0, 0, -104], 3)], {
  pad: [30, 40, -97, ...up],
  tube: [250, 0, -102, ...up],
  low: [-200, 0, -178, 0, 0, -1],
  end: [330, 0, -140, ...out],
});
part("pad-pin", [rod([0, 0, -112], [0, 0, -96], 6)], { hole: [0, 0, -96, ...up] });
tool(
  "g-clamp",
  [
    slab([24, 20, 150], [70, 0, -80], 4),
    slab([90, 20, 24], [36, 0, -150], 4),
    slab([90, 20, 24], [36, 0, -12], 4),
    rod([0, 0, -140], [0, 0, -88], 8),
    rod([0, 0, -24], [0, 0, 40], 7),
    rod([0, -34, 40], [0, 34, 40], 4),
    rod([0, 0, -54], [0, 0, -24], 12),
  ],
  { screw: [0, 0, 40, ...up], bow: [82, 0, -80, ...out] },
);
part("coil-spring", spring(66, 7.5, 0, 250, 5.6, [0, 0]), {
  end: [66, 0, 0, ...out],
  top: [66, 0, 250, ...out],
  mid: [66, 0, 120, ...out],
  high: [0, 0, 258, ...up],
  low: [0, 0, -8, 0, 0, -1],
});
part("coil-squeezed", spring(66, 7.5, 0, 170, 5.6, [0, 0]), {
  mid: [66, 0, 90, ...out],
  end: [66, 0, 0, ...out],
});
part(
  "coil-arm",
  [
    hull(rod([0, 0, -26], [0, 0, -10], 92), rod([-260, 0, -22], [-260, 0, -12], 40)),
    rod([-300, -50, -16], [-300, 50, -16], 26),
    hull(rod([0, 0, -24], [0, 0, -12], 60), rod([170, 0, -24], [170, 0, -12], 30)),
    turnY(-PI / 2, ring(40, 50, -10, 6, 56)),
  ],
  {
    seat: [60, 40, -10, ...up],
    pad: [60, 0, -26, 0, 0, -1],
    drain: [-120, 0, -10, ...up],
    bush: [-300, 52, -16, 0, 1, 0],
    joint: [190, 0, -18, ...out],
  },
);
part(
  "coil-frame",
  [
    slab([240, 200, 60], [0, 0, 300], 12),
    turnY(
      -PI / 2,
      lathe(
        [
          [262, 0],
          [262, 50],
          [270, 50],
          [270, 0],
        ],
        48,
      ),
    ),
  ],
  { seat: [0, 0, 262, 0, 0, -1], side: [120, 60, 300, ...out] },
);
part(
  "seat-rubber",
  [turnY(-PI / 2, ring(52, 80, -10, -2, 64)), slab([10, 12, 8], [80, 0, -4], 2)],
  { notch: [86, 0, -4, ...out] },
  "rubber",
);
part(
  "chain",
  Array.from({ length: 15 }, (_, i) => {
    const a = (i / 14) * PI,
      p = [100 * Math.sin(a) + 20, 0, 150 + 175 * Math.cos(a)];
    const link = turnY(
      PI / 2,
      lathe(
        Array.from({ length: 8 }, (_, k) => [
          3.4 * Math.sin((k * PI) / 4),
          11 + 3.4 * Math.cos((k * PI) / 4),
        ]),
        20,
        true,
      ),
    );
    return move(p, i % 2 ? turnX(PI / 2, link) : link);
  }),
  { low: [60, 0, -10, 0, 0, -1], mid: [124, 0, 150, ...out], high: [40, 0, 330, ...up] },
);
part(
  "spring-line",
  [
    slab([3, 9, 40], [29, -6, 442], 0.6),
    slab([3, 9, 34], [33, -6, 472], 0.6),
    slab([3, 9, 30], [28, -6, 280], 0.6),
  ],
  { line: [31, -2, 445, 0, 1, 0] },
);
part(
  "air-bag",
  [
    lathe(
      [
        [0, 50],
        [-6, 62],
        [4, 74],
        [40, 84],
        [90, 86],
        [130, 80],
        [150, 60],
        [150, 0],
        [0, 0],
      ],
      64,
    ),
    lathe(
      [
        [-60, 0],
        [-60, 46],
        [-50, 52],
        [0, 50],
        [0, 0],
      ],
      56,
    ),
  ].map((g) => turnY(-PI / 2, g)),
  {
    top: [0, 0, 150, ...up],
    fold: [74, 0, 6, ...out],
    side: [86, 0, 90, ...out],
    piston: [52, 0, -40, ...out],
    high: [30, 0, 150, ...up],
    low: [0, 0, -60, 0, 0, -1],
    wide1: [-86, 0, 90, -1, 0, 0],
    wide2: [86, 0, 90, ...out],
  },
  "rubber",
);
part(
  "air-plate",
  [
    turnY(
      -PI / 2,
      lathe(
        [
          [150, 0],
          [150, 66],
          [160, 66],
          [164, 60],
          [164, 0],
        ],
        56,
      ),
    ),
    rod([34, 0, 162], [34, 0, 184], 8),
    tube(
      curve([
        [34, 0, 180],
        [34, 0, 214],
        [60, 10, 236],
        [130, 30, 240],
      ]),
      3.4,
      12,
    ),
  ],
  { port: [42, 0, 178, ...out], line: [120, 28, 246, ...up] },
);

// --- motors of the park brake, starter of the cable's lever
part(
  "brake-motor",
  [
    hull(slab([60, 44, 40], [30, 0, 0], 8), slab([50, 40, 36], [40, 60, 0], 8)),
    cyl(24, 8, 84, 40),
    subtract(cyl(13, -12, 4, 36), ...round(6, 12.6, 0, (p) => move(p, cyl(2.4, -20, 1, 12)))),
    ...[1, -1].map((s) => slab([10, 22, 26], [4, 0, s * 32], 4)),
    slab([34, 26, 24], [54, 92, 0], 4),
  ],
  {
    spline: [-12, 0, 0, -1, 0, 0],
    plug: [54, 106, 0, 0, 1, 0],
    lug1: [4, 0, 45, 0, 0, 1],
    lug2: [4, 0, -45, 0, 0, -1],
    body: [60, 20, 22, ...up],
  },
);
part(
  "motor-caliper",
  [
    subtract(hull(cyl(36, -90, -10, 56), slab([60, 30, 80], [-50, -46, 0], 8)), cyl(12.6, -30, 0, 36)),
    ...[1, -1].map((s) =>
      subtract(slab([20, 22, 28], [-18, 0, s * 36], 4), move([0, 0, s * 36], cyl(3.4, -40, 0, 16))),
    ),
  ],
  { seat: [-10, 0, 30, ...out], face: [-10, 0, 0, ...out] },
);
part(
  "spindle-end",
  [
    subtract(cyl(12, -36, -4, 36), ...round(6, 12.6, 0, (p) => move(p, cyl(2.4, -20, 1, 12)))),
    hexHead(8, -5, 4),
  ],
  { head: [4, 0, 0, ...out] },
);
part(
  "motor-plug",
  [
    slab([26, 30, 24], [54, 124, 0], 4),
    slab([12, 14, 6], [54, 122, 14], 1.5),
    tube(
      curve([
        [54, 138, 0],
        [54, 170, 4],
        [30, 200, 30],
        [0, 214, 70],
      ]),
      7,
      14,
    ),
  ],
  { catch: [54, 122, 18, ...up], cable: [30, 200, 38, ...up] },
  "rubber",
);
part(
  "console-button",
  [
    slab([60, 200, 130], [-36, 0, 0], 14),
    subtract(slab([12, 60, 40], [-4, 0, 0], 6), slab([6, 44, 3], [3, 0, -8], 0.5)),
    move([3, 0, 4], ring(8, 11, -1, 1, 36)),
  ],
  { face: [4, 0, 0, ...out], lamp: [-4, 70, 34, ...out] },
);
part("lamp-off", [move([-6, 70, 34], cyl(9, 0, 3, 32))], { top: [-3, 70, 34, ...out] });
