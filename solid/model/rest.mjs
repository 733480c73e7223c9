// Drums, links with a long bolt, bushes, the gearbox side, the underside, and the small car.
import {
  union,
  subtract,
  hull,
  move,
  turnX,
  turnY,
  turnZ,
  lathe,
  cyl,
  ring,
  rod,
  aim,
  slab,
  plate,
  tube,
  curve,
  round,
  thread,
  hexHead,
  bolt,
  nut,
  boot,
  PI,
} from "./kit.mjs";
export const parts = {};
const part = (name, solids, frames, stuff) => {
  parts[name] = { solids, frames, stuff };
};
const up = (g) => turnY(-PI / 2, g),
  upAt = (z, g) => move([0, 0, z], up(g));
const fast = (name, p, a, solids, more) =>
  part(
    name,
    [solids].flat().map((g) => aim(g, p, a)),
    { head: [...p, ...a], ...more },
  );
// --- stabiliser link with a long bolt, from below: washer, rubber, arm, rubber, washer, sleeve, washer, rubber, bar,
// rubber, washer, nut
const rub = lathe(
  [
    [0, 6],
    [0, 19],
    [5, 23],
    [9, 21],
    [15, 15],
    [15, 6],
  ],
  48,
  true,
);
const dish = (s) =>
  lathe(
    s > 0
      ? [
          [0, 6],
          [0, 17],
          [5, 25],
          [7.5, 24],
          [3, 16],
          [3, 6],
        ]
      : [
          [0, 6],
          [0, 16],
          [-4.5, 24],
          [-2, 25],
          [3, 17],
          [3, 6],
        ],
    48,
    true,
  );
part(
  "stk-bolt",
  [upAt(0, hexHead(15, -10, -1)), upAt(0, cyl(5, -1, 150)), upAt(0, thread(10, 150, 206, 2.4))],
  {
    head: [0, 0, -6, 0, 0, -1],
    end: [0, 0, 206, 0, 0, 1],
  },
);
[
  [1, 3, 1],
  [2, 52, -1],
  [3, 110, 1],
  [4, 160, -1],
].forEach(([i, z, s]) =>
  part("stk-washer-" + i, upAt(z, dish(s)), { rim: [0, 24, z, 0, 1, 0], cup: [12, 18, z, 0, 0, s] }),
);
[
  [1, 6, 1],
  [2, 37, -1],
  [3, 113, 1],
  [4, 145, -1],
].forEach(([i, z, s]) =>
  part(
    "stk-rubber-" + i,
    upAt(z, s > 0 ? rub : move([15, 0, 0], turnY(PI, rub))),
    { rim: [0, 21, z + 8, 0, 1, 0] },
    "rubber",
  ),
);
part(
  "stk-arm",
  subtract(
    hull(rod([0, 0, 21], [0, 0, 37], 30), rod([-130, 0, 23], [-130, 0, 35], 26)),
    rod([0, 0, 0], [0, 0, 60], 9),
  ),
  { top: [-70, 20, 37, 0, 0, 1], side: [0, 30, 29, 0, 1, 0] },
);
part("stk-sleeve", subtract(rod([0, 0, 55], [0, 0, 110], 10), rod([0, 0, 40], [0, 0, 120], 6)), {
  side: [0, 10, 82, 0, 1, 0],
});
part(
  "stk-bar",
  [
    subtract(
      hull(rod([0, 0, 128], [0, 0, 145], 22), rod([-40, 0, 128], [-40, 0, 145], 16)),
      rod([0, 0, 100], [0, 0, 160], 8),
    ),
    tube(
      curve([
        [-46, 0, 136],
        [-90, 0, 136],
        [-130, 30, 130],
        [-140, 100, 128],
      ]),
      11,
      18,
    ),
  ],
  { side: [-60, -10, 136, 0, 1, 0], eye: [0, 22, 136, 0, 1, 0] },
);
part("stk-nut", upAt(164, nut(10, 16)), { head: [0, 0, 164, 0, 0, 1] });
// --- bush of an arm in its bracket, cut across: ribs show how the rubber is wound
const ribs = (tw) =>
  round(12, 1, 0, (_, a) =>
    tube(
      Array.from({ length: 12 }, (_, i) => {
        const t = i / 11,
          r = 15 + t * 18,
          q = a + tw * (1 - t);
        return [30.5, r * Math.cos(q), r * Math.sin(q)];
      }),
      1.3,
      8,
    ),
  );
part(
  "bush-rubber",
  ring(14, 34, -30, 30),
  { face: [30, 0, 25, 1, 0, 0], low: [30, 18, -18, 1, 0, 0] },
  "rubber",
);
part("bush-ribs", ribs(0), { mid: [31, 17, 17, 1, 0, 0] });
part("bush-ribs-wound", ribs(0.62), { mid: [31, 22, 12, 1, 0, 0] });
part("bush-inner", ring(8, 14, -34, 34), { face: [34, 0, 11, 1, 0, 0] });
part("bush-mark", [slab([2, 2, 5], [34.5, 0, 11], 0.5)]);
part(
  "bush-arm",
  [
    subtract(
      hull(rod([-24, 0, 0], [24, 0, 0], 44), rod([-15, 170, -8], [15, 170, -8], 24)),
      cyl(34, -60, 60),
    ),
    ring(33.6, 36.5, -28, 28),
  ],
  { end: [15, 172, 8, 0, 1, 0], side: [24, 110, 6, 1, 0, 0] },
);
part(
  "bush-bracket",
  [
    plate(
      [
        [-56, 66],
        [56, 66],
        [40, -20],
        [14, -34],
        [-14, -34],
        [-40, -20],
      ],
      -44,
      -38,
    ),
    slab([90, 112, 10], [4, 0, 70], 2),
    slab([100, 230, 14], [0, 0, 82], 4),
  ],
  { top: [40, -90, 82, 1, 0, 0] },
);
fast(
  "bush-bolt",
  [34, 0, 0],
  [1, 0, 0],
  [
    hexHead(21, 0, 11),
    lathe(
      [
        [0, 17],
        [1.5, 17],
        [4, 12],
      ],
      40,
    ),
    cyl(7, -84, 0.5, 32),
  ],
);
// --- side of a gearbox with its seal, inner joint with circlip
part(
  "gearbox-side",
  [
    subtract(
      union(
        hull(slab([120, 260, 240], [-110, 20, 10], 40), slab([40, 170, 160], [-36, 0, 0], 30)),
        cyl(56, -40, 4, 64),
        ...round(6, 74, 0.3, (p) => move(p, cyl(9, -40, -10, 24))),
      ),
      cyl(33, -60, 20, 64),
    ),
    ...round(7, 1, 0.4, (_, a) => turnX(a, slab([36, 5, 26], [-20, 0, 66], 2))),
  ],
  {
    lip: [4, 0, 48, 1, 0, 0],
    below: [-20, 0, -60, 0, 0, -1],
    bar1: [5, 46, 0, 1, 0, 0],
    bar2: [5, -46, 0, 1, 0, 0],
    side: [-60, 120, 60, 0, 1, 0],
  },
);
part(
  "seal",
  [ring(25, 33, -6, 3, 64), ring(22, 26, -4, 0, 64)],
  { lip: [3, 0, 29, 1, 0, 0], low: [3, 10, -27, 1, 0, 0] },
  "rubber",
);
part(
  "inner-joint",
  [
    lathe(
      [
        [8, 0],
        [8, 20],
        [14, 48],
        [22, 50],
        [30, 50],
        [38, 54],
        [90, 54],
        [96, 48],
        [96, 0],
      ],
      64,
    ),
    lathe(
      [
        [-78, 0],
        [-78, 14],
        [-74, 16],
        [-66, 16],
        [-66, 13.5],
        [-62, 13.5],
        [-62, 16],
        [-20, 16],
        [-18, 22],
        [8, 22],
      ],
      40,
    ),
    ...round(22, 16, 0, (p, a) => turnX(a, slab([40, 2.4, 3.4], [-42, 0, 16], 0.4))),
  ],
  {
    edge1: [10, 44, 0, -1, 0, 0],
    edge2: [10, -44, 0, -1, 0, 0],
    cup: [64, 0, 54, 0, 0, 1],
    stub: [-40, 0, 16, 0, 0, 1],
    hold: [64, 0, -54, 0, 0, -1],
    pry1: [8, 52, 0, 0.32, 0.95, 0.1],
    pry2: [8, -52, 0, 0.32, -0.95, 0.1],
  },
);
part("circlip", [subtract(ring(13.8, 17.6, -65.6, -62.4, 48), slab([8, 6, 12], [-64, 0, 16], 0.4))], {
  top: [-64, 10, 14, 0, 0.6, 0.8],
});
part(
  "inner-boot",
  lathe(
    [
      [96, 52],
      [104, 52],
      [108, 46],
      [114, 50],
      [122, 40],
      [129, 44],
      [137, 34],
      [144, 37],
      [152, 28],
      [158, 30],
      [166, 20],
      [180, 17],
    ],
    64,
  ),
  {},
  "rubber",
);
part("inner-bar", [cyl(13, 170, 420), ring(52, 54.6, 97, 103)], { end: [400, 0, 0, 1, 0, 0] });
// --- drum brake
const bow = (r0, r1, x0, x1, a0, a1) => {
  const pts = [];
  for (let i = 0; i <= 24; i++) {
    const a = a0 + ((a1 - a0) * i) / 24;
    pts.push([r1 * Math.cos(a), r1 * Math.sin(a)]);
  }
  for (let i = 24; i >= 0; i--) {
    const a = a0 + ((a1 - a0) * i) / 24;
    pts.push([r0 * Math.cos(a), r0 * Math.sin(a)]);
  }
  return plate(pts, x0, x1);
};
const coil = (a, b, r = 5, n = 9) => {
  const l = Math.hypot(...b.map((x, i) => x - a[i])),
    N = n * 12;
  return aim(
    tube(
      Array.from({ length: N + 1 }, (_, i) => {
        const t = i / N,
          e = Math.min(t, 1 - t) < 0.12 ? 0 : 1,
          q = t * n * 2 * PI;
        return [t * l, e * r * Math.cos(q), e * r * Math.sin(q)];
      }),
      1.5,
      8,
    ),
    a,
    b.map((x, i) => x - a[i]),
  );
};
part(
  "drum-plate",
  [
    subtract(
      lathe(
        [
          [-6, 0],
          [-6, 118],
          [2, 122],
          [2, 126],
          [-3, 126],
          [-10, 120],
          [-10, 0],
        ],
        72,
      ),
      cyl(34, -20, 20),
    ),
    ...[1, -1].flatMap((s) => [40, -40].map((z) => slab([5, 16, 18], [-4, s * 92, z], 2))),
  ],
  { rim: [2, 88, 88, 1, 0, 0] },
);
part(
  "drum",
  [
    subtract(
      lathe(
        [
          [0, 118],
          [0, 127],
          [6, 130],
          [44, 130],
          [54, 124],
          [60, 96],
          [60, 34],
          [54, 34],
          [54, 94],
          [46, 114],
          [6, 115],
        ],
        96,
        true,
      ),
      ...round(5, 57, PI / 2, (p) => move(p, cyl(7, 40, 70, 24))),
    ),
    ...[14, 22, 30].map((x) => ring(129, 132, x, x + 4, 96)),
  ],
  {
    rim: [44, -92, 92, 1, 0, 0],
    face: [60, 0, 70, 1, 0, 0],
    open: [0, 0, 0, -1, 0, 0],
    inner: [2, 0, 116, -1, 0, 0],
  },
);
for (const [n, s] of [
  ["front", 1],
  ["rear", -1],
]) {
  const f = (a) => (s > 0 ? a : PI - a),
    a0 = -1.08,
    a1 = 1.12;
  part("shoe-" + n, [bow(86, 104, 14, 19, f(a0 - 0.16), f(a1 + 0.12)), bow(104, 108, 2, 32, f(a0), f(a1))], {
    web: [19, s * 88, 30, 1, 0, 0],
    low: [19, s * 52, -80, 1, 0, 0],
    mid: [19, s * 95, 0, 1, 0, 0],
  });
  part(
    "shoe-lining-" + n,
    bow(108, 113.5, 3, 31, f(a0 + 0.04), f(a1 - 0.06)),
    { edge: [31, s * 105, 40, 1, 0, 0] },
    "lining",
  );
  part(
    "hold-down-" + n,
    [
      move(
        [0, s * 95, 0],
        lathe(
          [
            [20, 9],
            [23, 9],
            [24, 4],
            [34, 4],
            [34, 10],
            [37, 10],
            [37, 2],
          ],
          24,
        ),
      ),
      coil([19, s * 95, 0], [36, s * 95, 0], 7, 4),
    ],
    { top: [37, s * 95, 0, 1, 0, 0] },
  );
}
part(
  "wheel-cylinder",
  [
    rod([14, -30, 92], [14, 30, 92], 13),
    rod([14, -42, 92], [14, 42, 92], 7),
    slab([24, 30, 30], [2, 0, 92], 4),
  ],
  { mid: [27, 0, 92, 1, 0, 0], end: [14, 34, 92, 0, 1, 0] },
);
part(
  "wc-boots",
  [1, -1].map((s) => move([14, 0, 92], turnZ((s * PI) / 2, boot(12, 8, 29, 38, 2)))),
  { a: [22, 33, 92, 1, 0, 0] },
  "rubber",
);
part(
  "adjuster",
  [
    rod([12, -66, 58], [12, 66, 58], 5),
    move(
      [12, 10, 58],
      turnZ(
        PI / 2,
        union(cyl(11, -4, 4, 20), ...round(10, 11, 0, (p) => move(p, slab([8, 2, 3], [0, 0, 0], 0.3)))),
      ),
    ),
    slab([4, 8, 60], [22, -58, 40], 2),
  ],
  { star: [22, 10, 58, 1, 0, 0] },
);
part("drum-springs", [coil([24, -62, 76], [24, 62, 76], 5, 12), coil([24, -60, -84], [24, 60, -84], 5, 12)], {
  top: [29, -20, 76, 1, 0, 0],
  low: [29, -20, -84, 1, 0, 0],
});
part(
  "park-lever",
  [
    hull(rod([8, -62, 70], [12, -62, 70], 9), rod([8, -70, -50], [12, -70, -50], 7)),
    tube(
      curve([
        [10, -70, -54],
        [8, -40, -70],
        [0, -30, -90],
        [-40, -30, -110],
        [-120, -30, -120],
      ]),
      4,
      10,
    ),
  ],
  { cable: [4, -34, -84, 1, 0, 0] },
);
part(
  "anchor",
  [slab([24, 44, 20], [8, 0, -92], 3), ...[1, -1].map((s) => slab([3, 16, 26], [20, s * 12, -92], 1))],
  {},
);
part(
  "rear-hub",
  lathe(
    [
      [-120, 0],
      [-120, 30],
      [-30, 34],
      [-12, 60],
      [-8, 60],
      [-8, 30],
      [40, 30],
      [42, 68],
      [50, 68],
      [50, 30],
      [64, 28],
      [64, 0],
    ],
    64,
  ),
  { face: [50, 0, 50, 1, 0, 0] },
);
part(
  "rear-studs",
  round(5, 57, PI / 2, (p) => move(p, [thread(12, 49, 80, 2.6)])),
  {},
);
// --- underside: rails, gearbox with tail, member, mount, two shafts and their support
part(
  "rails",
  [1, -1]
    .map((s) => hull(slab([70, 900, 80], [s * 430, -40, 60], 8)))
    .concat([1, -1].map((s) => slab([60, 120, 12], [s * 400, 0, 14], 3))),
  { left: [-430, 200, 20, 0, 0, -1] },
);
part(
  "box",
  [
    hull(slab([300, 60, 280], [0, 420, 90], 60), slab([190, 40, 190], [0, 150, 80], 50)),
    hull(slab([170, 40, 170], [0, 150, 78], 50), rod([0, -120, 70], [0, -100, 70], 60)),
    rod([0, -170, 70], [0, -100, 70], 46),
    slab([210, 230, 26], [0, 290, -38], 12),
    ...[1, -1].flatMap((s) => [200, 290, 380].map((y) => upAtXY(s * 92, y, -56, hexHead(13, 0, 8)))),
    slab([90, 70, 20], [0, 0, 16], 4),
  ],
  {
    pan: [60, 270, -52, 0, 0, -1],
    pad: [0, 290, -52, 1, 0, 0, 0, 0, 1],
    edge: [104, 290, -48, 0, 0, -1],
    lift: [0, 320, -52, 0, 0, 1],
    tail: [0, -100, 12, 0, 0, -1],
  },
);
function upAtXY(x, y, z, g) {
  return move([x, y, z], turnY(PI / 2, g));
}
part(
  "member",
  [
    hull(slab([90, 130, 12], [-410, 0, 2], 4), slab([20, 90, 30], [-330, 0, -12], 4)),
    hull(slab([90, 130, 12], [410, 0, 2], 4), slab([20, 90, 30], [330, 0, -12], 4)),
    slab([680, 84, 34], [0, 0, -14], 8),
    slab([560, 30, 8], [0, 0, -34], 3),
  ],
  { mid: [120, 0, -38, 0, 0, -1], under: [-180, 0, -38, 0, 0, -1] },
);
part(
  "mount-rubber",
  lathe(
    [
      [2, 50],
      [8, 54],
      [14, 40],
      [14, 0],
      [2, 0],
    ]
      .reverse()
      .map(([x, r]) => [16 - x, r])
      .reverse(),
    48,
  ),
  {},
  "rubber",
);
parts["mount-rubber"].solids = move(
  [0, 0, -2],
  up(
    lathe(
      [
        [0, 0],
        [0, 48],
        [5, 54],
        [12, 46],
        [17, 40],
        [17, 0],
      ],
      48,
    ),
  ),
);
[
  [-410, 40],
  [-410, -40],
  [410, 40],
  [410, -40],
].forEach(([x, y], i) => fast("member-bolt-" + (i + 1), [x, y, -4], [0, 0, -1], bolt(12, 40, 18)));
[
  [-24, 0],
  [24, 0],
].forEach(([x, y], i) => fast("mount-nut-" + (i + 1), [x, y, -38], [0, 0, -1], nut(12, 18)));
part(
  "prop",
  [
    rod([0, -560, 60], [0, -240, 66], 38),
    rod([0, -240, 66], [0, -170, 70], 26),
    ...[1, -1].map((s) =>
      hull(slab([14, 40, 34], [s * 32, -228, 67], 4), slab([20, 30, 46], [s * 16, -250, 66], 4)),
    ),
  ],
  { mid: [0, -400, 24, 0, 0, -1] },
);
// --- the small car; front = +Y
const wheelAt = (x, y) => [
  move(
    [x, y, 320],
    lathe(
      [
        [-110, 0],
        [-110, 250],
        [-90, 320],
        [90, 320],
        [110, 250],
        [110, 190],
        [90, 180],
        [90, 0],
      ],
      32,
    ),
  ),
];
part(
  "car",
  subtract(
    union(
      hull(
        slab([1700, 4100, 300], [0, 0, 430], 90),
        slab([1760, 3900, 200], [0, 0, 560], 90),
        slab([1640, 3300, 300], [0, -100, 720], 120),
        slab([1560, 700, 200], [0, 1500, 690], 90),
      ),
      hull(slab([1620, 3000, 60], [0, -420, 850], 20), slab([1320, 1700, 60], [0, -560, 1400], 25)),
    ),
    ...[1, -1].flatMap((s) => [1280, -1300].map((y) => rod([s * 620, y, 330], [s * 1000, y, 330], 380))),
  ),
  {
    sill: [850, 0, 300, 1, 0, 0],
    roof: [0, -560, 1430, 0, 0, 1],
    nose: [0, 2050, 560, 0, 1, 0],
    low: [600, 760, 280, 0, 0, -1],
    back: [0, -1300, 280, 0, 0, -1],
  },
);
[
  ["fr", 1, 1280],
  ["fl", -1, 1280],
  ["rr", 1, -1300],
  ["rl", -1, -1300],
].forEach(([n, s, y]) =>
  part(
    "car-" + n,
    wheelAt(s * 770, y).map((g) =>
      s < 0 ? move([2 * s * 770, 0, 0], turnZ(PI, move([0, -2 * y, 0], g))) : g,
    ),
    {
      mid: [s * 880, y, 320, s, 0, 0],
      low: [s * 770, y, 0, 0, 0, -1],
      tread: [s * 770, y - 320, 240, 0, -1, 0],
    },
    "rubber",
  ),
);
for (const [n, s, y] of [
  ["fl", -1, 1280],
  ["rl", -1, -1300],
])
  parts["car-" + n].solids = [
    move(
      [s * 770, y, 320],
      lathe(
        [
          [-110, 0],
          [-110, 250],
          [-90, 320],
          [90, 320],
          [110, 250],
          [110, 0],
        ],
        32,
      ),
    ),
  ];
part("car-under", slab([900, 420, 60], [0, 300, 250], 20));
part(
  "chassis",
  [
    slab([760, 3400, 26], [0, 0, 330], 6),
    rod([-700, 1280, 320], [700, 1280, 320], 34),
    rod([-700, -1300, 320], [700, -1300, 320], 34),
  ],
  {
    floor: [0, 0, 343, 0, 0, 1],
  },
);
