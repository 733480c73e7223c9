// What is stuck, in an ear of its own, and what frees it. The bolt lies along X, its head toward +X.
import {
  aim,
  ball,
  bolt,
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
  shelf,
  slab,
  subtract,
  thread,
  tube,
  turnX,
  turnZ,
  union,
} from "./kit.mjs";

export const { parts, part, tool } = shelf();

part(
  "lug",
  subtract(
    union(
      hull(cyl(30, -40, 0, 56), slab([40, 100, 24], [-20, 0, -72], 4)),
      slab([64, 150, 22], [-20, 0, -92], 5),
    ),
    cyl(6.6, -60, 20, 40),
  ),
  {
    face: [0, 0, -46, ...out],
    beside: [0, 0, 22, ...out],
    side: [-20, 26, 0, 0, 1, 0],
    top: [-20, 0, 30, 0, 0, 1],
    back: [-40, 0, -40, -1, 0, 0],
    mouth: [0, 0, 0, ...out],
  },
);
const long = { tip: [-58, 0, 0, -1, 0, 0], crown: [9, 0, 0, ...out] };
part("stuck-bolt", bolt(12, 58, 18), { head: [0, 0, 0, ...out], ...long });
part(
  "rounded-bolt",
  [
    lathe(
      [
        [0, 13.5],
        [1.5, 13.5],
        [3, 9.6],
        [7, 9.3],
        [9, 7.4],
        [9, 0],
      ],
      40,
    ),
    cyl(6, -26, 0.5, 32),
    thread(12, -58, -25),
  ],
  { head: [0, 0, 0, ...out], ...long },
);
part(
  "stub",
  [
    subtract(
      union(cyl(6, -26, -3, 32), thread(12, -58, -25)),
      move([-2, 3, 2], turnX(0.6, slab([5, 9, 6], [0, 0, 0], 0.4))),
      move([-1, -4, -2], turnX(-0.5, slab([4, 7, 5], [0, 0, 0], 0.4))),
    ),
  ],
  { head: [-3, 0, 0, ...out], tip: long.tip },
);
part("drilled-stub", subtract(union(cyl(6, -26, -3, 32), thread(12, -58, -25)), cyl(3, -24, 5, 24)), {
  head: [-3, 0, 0, ...out],
  mouth: [-6, 0, 0, ...out],
  tip: long.tip,
});
part(
  "cap-bolt",
  subtract(union(cyl(9.5, 0, 12, 40), cyl(6, -26, 1, 32), thread(12, -58, -25)), hexHead(10, 4, 14)),
  { head: [0, 0, 0, ...out], recess: [4, 0, 0, ...out], rim: [12, 0, 8, ...out], tip: long.tip },
);
part("held-stud", [cyl(6, -44, 2, 32), thread(12, 0, 26), hexHead(7, 25, 38)], {
  head: [12, 0, 0, ...out],
  end: [30, 0, 0, ...out],
});
part("held-nut", nut(12, 18, 11), { head: [0, 0, 0, ...out] });
part("weld-nut", move([-1, 0, 0], nut(14, 21, 11)), {
  head: [0, 0, 0, ...out],
  hole: [8, 0, 0, ...out],
  rim: [10, 0, 10, 0.6, 0, 0.8],
});
part(
  "coil-insert",
  tube(
    Array.from({ length: 9 * 22 + 1 }, (_, i) => [
      -36 + (i / (9 * 22)) * 32,
      6.3 * Math.cos((i / 22) * 2 * PI),
      6.3 * Math.sin((i / 22) * 2 * PI),
    ]),
    1,
    8,
  ),
  { head: [-4, 0, 0, ...out], low: [-36, 0, 6, 0, 0, 1] },
);
part("guide", [ring(5.4, 12, 0, 26, 40), ring(5.4, 22, 0, 6, 48)], {
  top: [26, 0, 0, ...out],
  rim: [6, 0, 18, ...out],
});
part("left-ring", ring(38, 44.4, -26, 0, 64), { edge: [0, 0, 41, ...out], mid: [-12, 0, 38, 0, 0, -1] });

// a handle of a pistol tool: its barrel along X from x0 to x1, the hand below
const pistol = (x0, x1, r, at) => [
  lathe(
    [
      [x0, r * 0.6],
      [x0 + 14, r],
      [x1 - 12, r],
      [x1, r * 0.8],
    ],
    40,
  ),
  hull(slab([46, 34, 20], [at, 0, -r - 4], 6), slab([50, 38, 30], [at + 14, 0, -r - 108], 9)),
  slab([12, 14, 30], [at - 32, 0, -r - 22], 4),
  hull(slab([52, 40, 14], [at + 14, 0, -r - 124], 5), slab([46, 36, 8], [at + 14, 0, -r - 132], 3)),
];
const grip = (r, at) => ({ grip: [at + 10, 0, -r - 60, 1, 0, 0] });
const socketOf = (af, l) => [
  subtract(
    lathe(
      [
        [-af * 0.5, af * 0.74],
        [l * 0.6, af * 0.76],
        [l * 0.7, 14],
        [l, 14],
      ],
      48,
    ),
    hexHead(af * 1.02, -af * 0.6, 2),
  ),
];
tool("impact", [...socketOf(18, 46), cyl(9, 44, 62, 28), ...pistol(60, 210, 36, 150)], {
  socket: [20, 0, 14, 0, 0, 1],
  body: [140, 0, 36, 0, 0, 1],
  ...grip(36, 150),
});
tool(
  "air-hammer",
  [
    hull(slab([2, 20, 3], [1, 0, 0], 0.6), slab([10, 15, 15], [40, 0, 0], 4)),
    cyl(7.5, 38, 92, 28),
    lathe(
      [
        [88, 11],
        [92, 14],
        [104, 14],
        [108, 19],
        [190, 19],
        [194, 24],
      ],
      36,
    ),
    ...pistol(190, 270, 26, 232),
  ],
  { bit: [24, 0, 8, 0, 0, 1], body: [150, 0, 19, 0, 0, 1], ...grip(26, 232) },
);
tool(
  "drill",
  [
    lathe(
      [
        [0, 0],
        [3, 4.8],
        [64, 4.8],
      ],
      24,
    ),
    tube(
      Array.from({ length: 67 }, (_, i) => [2 + i * 0.9, 4.6 * Math.cos(i / 4), 4.6 * Math.sin(i / 4)]),
      1.1,
      8,
    ),
    lathe(
      [
        [60, 8],
        [74, 17],
        [104, 19],
        [108, 14],
        [120, 14],
      ],
      36,
    ),
    ...pistol(116, 270, 38, 200),
  ],
  { bit: [30, 0, 5, 0, 0, 1], body: [190, 0, 38, 0, 0, 1], ...grip(38, 200) },
);
// a wrench for taps, over what it turns
const tapWrench = (x) => [
  slab([14, 46, 22], [x, 0, 0], 4),
  rod([x, -120, 0], [x, -20, 0], 6),
  rod([x, 20, 0], [x, 120, 0], 6),
];
tool(
  "extractor",
  [
    lathe(
      [
        [-20, 2.4],
        [8, 4.6],
        [12, 4.6],
      ],
      24,
    ),
    tube(
      Array.from({ length: 40 }, (_, i) => [
        -18 + i * 0.7,
        (2.4 + i * 0.055) * Math.cos(-i / 3),
        (2.4 + i * 0.055) * Math.sin(-i / 3),
      ]),
      0.9,
      8,
    ),
    cyl(5, 10, 30, 24),
    ...tapWrench(34),
  ],
  { tip: [-20, 0, 0, -1, 0, 0], grip: [34, 90, 0, 0, 1, 0], mid: [18, 0, 5, 0, 0, 1] },
);
tool(
  "chaser",
  [
    subtract(
      thread(12, -34, 2, 2.4),
      ...[0, 1].map((i) => turnX((i * PI) / 2, slab([50, 3.4, 30], [-16, 0, 0], 0.1))),
    ),
    cyl(4.4, -34, 30, 24),
    ...tapWrench(34),
  ],
  { tip: [-34, 0, 0, -1, 0, 0], grip: [34, 90, 0, 0, 1, 0], mid: [14, 0, 5, 0, 0, 1] },
);
tool(
  "extractor-socket",
  [
    subtract(
      lathe(
        [
          [-8, 14.5],
          [20, 15],
          [30, 15],
          [32, 13],
          [52, 13],
        ],
        48,
      ),
      lathe(
        [
          [-10, 10.4],
          [8, 8.4],
          [8, 0],
        ],
        7,
      ),
    ),
  ],
  { end: [52, 0, 0, ...out], side: [10, 0, 15, 0, 0, 1] },
);
tool("six-point", [...socketOf(18, 46).map((g) => subtract(g, slab([13, 12.7, 12.7], [42, 0, 0], 0.3)))], {
  end: [46, 0, 0, ...out],
  side: [10, 0, 13, 0, 0, 1],
  mouth: [-9, 0, 12, -1, 0, 0],
});
tool(
  "hex-bit",
  [
    hexHead(9.6, 0, 30),
    lathe(
      [
        [24, 8],
        [30, 12],
        [62, 12],
      ],
      36,
    ),
  ],
  { end: [62, 0, 0, ...out], side: [44, 0, 12, 0, 0, 1] },
);
tool(
  "hex-key",
  [
    move(
      [3, 0, 0],
      tube(
        curve(
          [
            [0, 0, 0],
            [26, 0, 0],
            [34, 6, 0],
            [36, 16, 0],
            [36, 110, 0],
          ],
          6,
        ),
        3.6,
        6,
      ),
    ),
  ],
  { grip: [39, 90, 0, 0, 1, 0] },
);
tool(
  "torch",
  [
    lathe(
      [
        [70, 5],
        [74, 11],
        [104, 12],
        [110, 7],
        [126, 7],
      ],
      32,
    ),
    tube(
      curve([
        [120, 0, 0],
        [170, 0, 6],
        [210, 0, 30],
        [240, 0, 70],
      ]),
      6,
      14,
    ),
    aim(cyl(17, 0, 110, 32), [236, 0, 64], [0.55, 0, 0.84]),
  ],
  { nozzle: [90, 0, 12, 0, 0, 1], grip: [270, 0, 120, 0.55, 0, 0.84] },
);
part(
  "flame",
  lathe(
    [
      [2, 0],
      [8, 7],
      [22, 12],
      [44, 11],
      [72, 4],
      [72, 0],
    ],
    32,
  ),
  { tip: [2, 0, 0, -1, 0, 0], mid: [30, 0, 12, 0, 0, 1] },
  "fluid",
);
tool(
  "weld-gun",
  [
    cyl(1.4, 0, 20, 12),
    lathe(
      [
        [14, 6],
        [16, 9],
        [56, 11],
        [60, 8],
      ],
      28,
    ),
    tube(
      curve([
        [58, 0, 0],
        [100, 0, 4],
        [140, 0, 30],
        [176, 0, 70],
      ]),
      8,
      14,
    ),
    aim(cyl(16, 0, 130, 32), [170, 0, 62], [0.6, 0, 0.8]),
  ],
  { nozzle: [36, 0, 10, 0, 0, 1], grip: [214, 0, 120, 0.6, 0, 0.8] },
);
// an angle grinder: its disc cuts at the origin
tool(
  "grinder",
  [
    move([58, 0, 0], turnZ(PI / 2, cyl(58, -1.4, 1.4, 64))),
    move([58, 0, 0], turnZ(PI / 2, cyl(16, -6, 10, 32))),
    move([58, 0, 0], turnZ(PI / 2, subtract(ring(60, 64, -8, 8, 64), slab([40, 90, 200], [0, 60, 0], 1)))),
    move([58, 24, 0], turnZ(PI / 2, cyl(24, -14, 20, 36))),
    hull(move([84, 34, 0], cyl(22, 0, 10, 32)), move([300, 34, 0], cyl(26, 0, 10, 32))),
  ],
  { disc: [58, -2, 30, 0, -1, 0], grip: [230, 34, 0, 1, 0, 0], rim: [0, 0, 0, -1, 0, 0] },
);
tool(
  "burr",
  [
    lathe(
      [
        [-3, 3],
        [0, 5.6],
        [16, 5.6],
        [18, 3],
        [52, 3],
      ],
      24,
    ),
    lathe(
      [
        [48, 8],
        [54, 15],
        [120, 16],
        [126, 19],
        [200, 17],
        [206, 10],
      ],
      32,
    ),
  ],
  { tip: [0, 0, 0, -1, 0, 0], grip: [150, 0, 0, 1, 0, 0] },
);
tool(
  "pick",
  [
    tube(
      curve([
        [0, 0, 0],
        [6, 2, 4],
        [14, 0, 14],
        [30, 0, 18],
        [90, 0, 18],
      ]),
      1.8,
      10,
    ),
    move(
      [88, 0, 18],
      lathe(
        [
          [0, 5],
          [6, 8],
          [80, 9],
          [88, 6],
        ],
        28,
      ),
    ),
  ],
  { tip: [0, 0, 0, -1, 0, 0], grip: [140, 0, 18, 1, 0, 0] },
);
// a small brush, and the drop it leaves
tool(
  "brush",
  [
    lathe(
      [
        [0, 2],
        [4, 8],
        [20, 9],
        [22, 10],
        [34, 10],
        [38, 5],
      ],
      28,
    ),
    rod([36, 0, 0], [170, 0, 0], 5),
  ],
  { tip: [0, 0, 0, -1, 0, 0], grip: [110, 0, 0, 1, 0, 0] },
);
part(
  "drop",
  lathe(
    [
      [-3, 0],
      [-2, 9],
      [3, 12],
      [9, 9],
      [22, 0],
    ],
    28,
  ),
  { top: [12, 0, 0, ...out] },
  "fluid",
);
tool(
  "watch",
  [
    lathe(
      [
        [0, 0],
        [0, 44],
        [6, 50],
        [18, 50],
        [22, 46],
        [22, 41],
        [18, 40],
        [18, 0],
      ],
      56,
    ),
    rod([12, 0, 48], [12, 0, 64], 7),
    slab([3, 3, 34], [20, 0, 15], 1),
    slab([3, 24, 3], [20, 10, 0], 1),
    ball([20, 0, 0], 4),
  ],
  { face: [20, 0, 30, ...out] },
);
tool(
  "drift",
  lathe(
    [
      [0, 10],
      [2, 12],
      [128, 12],
      [132, 15],
      [140, 15],
      [142, 13],
    ],
    32,
  ),
  { end: [142, 0, 0, ...out], grip: [80, 0, 0, ...out], tip: [0, 0, 0, -1, 0, 0] },
);
tool(
  "long-bar",
  [
    rod([0, -80, 0], [0, 330, 0], 12),
    hull(rod([0, -80, 0], [0, -84, 0], 12), slab([6, 4, 22], [0, -118, 0], 1)),
  ],
  { end: [0, 330, 0, 0, 1, 0], grip: [0, 280, 0, 0, 1, 0] },
);
