// The scripts' own arithmetic and words. What they do on a page, the browser tests show.
import assert from "node:assert/strict";
import { test } from "node:test";
import { clockwise, nearest, turned } from "../../pages/kit/static/angle.js";
import { clock, left, share } from "../../pages/kit/static/clocks.js";
import { leads, says } from "../../pages/kit/static/kept.js";
import { Turn } from "../../pages/kit/static/motion.js";
import { says as told, series } from "../../pages/kit/static/series.js";
import { at, letGoAt } from "../../pages/kit/static/swing.js";

test("a soak is told in minutes and seconds, and is done at its end", () => {
  const end = Date.UTC(2026, 10, 26, 9, 15);
  for (const [before, want] of [
    [15 * 60_000, "15:00"],
    [61_000, "1:01"],
    [9_400, "0:09"],
    [400, "done"],
    [0, "done"],
    [-60_000, "done"],
  ])
    assert.equal(left(end, end - before), want);
  assert.equal(share(0, 200, 50), 25);
  assert.equal(share(0, 200, -1), 0);
  assert.equal(share(0, 200, 900), 100);
});

test("a time of the day is written by twenty-four hours", () => {
  assert.equal(clock(new Date(2026, 11, 1, 0, 5)), "00:05");
  assert.equal(clock(new Date(2026, 11, 1, 16, 30)), "16:30");
});

test("a stud that is turned stays within its pitch, and takes the next choice round it", () => {
  assert.equal(clockwise(0, 1), 0);
  assert.equal(clockwise(1, 0), 90);
  assert.equal(clockwise(-1, 0), -90);
  assert.equal(turned(50, 20, 60), 10);
  assert.equal(turned(10, -20, 60), 50);
  const holes = [0, 10, 20, 30, 40, 50];
  for (const [deg, want] of [
    [0, 0],
    [14, 10],
    [16, 20],
    [44, 40],
    [57, 0], // nearer to the slot it comes to than to the hole before
    [54, 50],
  ])
    assert.equal(nearest(holes, deg, 60), want, `${deg}°`);
});

test("what waits on the tablet is counted, and what was not taken comes first", () => {
  assert.equal(says([]), "");
  assert.equal(says([{ url: "/x/step" }]), "No network: 1 record is kept here and sent on return.");
  assert.match(says([{ url: "/x/step" }, { url: "/x/later" }]), /^No network: 2 records are /);
  assert.equal(
    says([{ url: "/x/step" }, { url: "/x/step", refused: "no" }]),
    "Not taken: 1 record kept here. Somebody has to decide.",
  );
});

test("a page drawn ahead is reached by the very act it was drawn for, and by no other", () => {
  const record = (act, fields) => ({ url: `http://shop/jobs/j/${act}`, fields: Object.entries(fields) });
  const pages = [
    { act: { do: "handle", fields: { step: "crack" } } },
    { act: { do: "set", fields: { step: "tight", joint: "wheel", letter: "1", tool: "w2", set: "60" } } },
    { act: { do: "click", fields: { step: "tight", joint: "wheel", letter: "1", tool: "w2" } } },
  ];
  const crack = record("handle", { step: "crack", id: "a", seq: "4", stay: "1" });
  const set = record("set", {
    step: "tight",
    joint: "wheel",
    letter: "1",
    tool: "w2",
    set: "60",
    unit: "Nm",
  });
  const click = record("click", { step: "tight", joint: "wheel", letter: "1", tool: "w2", adapter: "" });
  const through = (...all) => leads(all, pages).through;
  assert.deepEqual(leads([crack, set, click], pages), { through: 3, beyond: null });
  assert.equal(through(), 0);
  for (const [name, other] of Object.entries({
    "one of them alone": record("handle", { step: "crack", letter: "2" }),
    "another step": record("handle", { step: "off" }),
    trouble: record("trouble", { step: "crack", what: "stuck" }),
    later: record("later", { step: "crack" }),
    "a hand-over": record("handover", { step: "crack", to: "Bel" }),
  })) {
    assert.deepEqual(leads([other, crack], pages), { through: 0, beyond: other }, name);
  }
  const else_ = record("set", {
    step: "tight",
    joint: "wheel",
    letter: "1",
    tool: "w2",
    set: "60",
    other: "58",
  });
  assert.deepEqual(leads([crack, else_, click], pages), { through: 1, beyond: else_ });
  assert.equal(through(crack, record("find", { step: "crack", text: "a worn tyre" }), set), 2, "a remark");
  assert.equal(leads([crack, set, click, click], pages).beyond, click, "beyond what was drawn");
});

test("a swing reads its curve, and says where it let go", () => {
  const curve = [
    [0, 4],
    [90, 4],
    [120, 94],
    [140, 40],
  ];
  assert.equal(at(curve, 45), 4);
  assert.equal(at(curve, 105), 49);
  assert.equal(at(curve, 500), 40);
  const go = (more) =>
    letGoAt({ torque: true, loose: false, amount: 130, peak: 94, nm: 94, turned: 120, ...more });
  assert.equal(go({}), 94);
  assert.equal(go({ nm: 50, turned: 136 }), 136.5); // the thread gives way: the hand wanted its figure
  assert.equal(go({ loose: true, nm: 50, turned: 18 }), 98.7); // it came, or it broke
  assert.equal(go({ torque: false, turned: 61.4 }), 61);
});

test("a series of stops is clocked to its end", () => {
  const at = (s) => told(series(s, 10, 30), 10);
  assert.equal(at(0), "stop 1 of 10, next in 30 s");
  assert.equal(at(29.2), "stop 1 of 10, next in 1 s");
  assert.equal(at(30), "stop 2 of 10, next in 30 s");
  assert.equal(at(299), "stop 10 of 10, next in 1 s");
  assert.equal(at(300), "series done: drive on and let it cool");
});

// A device on a bar whose axis lies somewhere: turned in steps about it, with a hand's tremble, as the standard's own
// angles tell it. The rotation is made by Rodrigues' formula, which the counting shares nothing with.
const lies = (axis, deg, tilt) => {
  const a = (deg * Math.PI) / 180,
    [x, y, z] = axis,
    [c, s] = [Math.cos(a), Math.sin(a)];
  const r = [
    [c + x * x * (1 - c), x * y * (1 - c) - z * s, x * z * (1 - c) + y * s],
    [y * x * (1 - c) + z * s, c + y * y * (1 - c), y * z * (1 - c) - x * s],
    [z * x * (1 - c) - y * s, z * y * (1 - c) + x * s, c + z * z * (1 - c)],
  ];
  const [ct, st] = [Math.cos(tilt), Math.sin(tilt)]; // how it lay before, about X
  const m = r.map(([p, q, w]) => [p, q * ct + w * st, -q * st + w * ct]);
  const d = 180 / Math.PI; // R = Z(alpha) X(beta) Y(gamma)
  return [
    Math.atan2(-m[0][1], m[1][1]) * d,
    Math.asin(Math.max(-1, Math.min(1, m[2][1]))) * d,
    Math.atan2(-m[2][0], m[2][2]) * d,
  ];
};

const swung = (axis, path, tilt = 0.3) => {
  const turn = new Turn({ gravity: 1.5, gyro: 2.5, drift: 0.03, grip: 1 });
  let at = 0,
    t = 0;
  const go = (deg) => turn.feed((t += 0.05), ...lies(axis, deg + 0.2 * Math.sin(7 * t), tilt));
  go(0);
  for (const to of path) {
    const steps = Math.max(1, Math.ceil(Math.abs(to - at) / 2));
    for (let k = 1; k <= steps; k++) go(at + ((to - at) * k) / steps);
    at = to;
  }
  return turn;
};

test("a phone on the bar counts its turn about any axis, and says which gravity does not tell", () => {
  for (const [axis, upright] of [
    [[0, 0, 1], true],
    [[0, 0, -1], true],
    [[1, 0, 0], false],
    [[0, 1, 0], false],
    [[0.6, 0, 0.8], false],
  ])
    for (const goal of [45, 90, 180, 270, 360]) {
      const turn = swung(axis, [goal]);
      assert.ok(Math.abs(turn.counted - goal) < 1, `${axis} ${goal}: ${turn.counted}`);
      assert.equal(turn.upright, upright, `${axis}`);
      assert.ok(turn.err >= (upright ? 2.5 : 1.5) && turn.err < 6, `${turn.err}`);
      assert.ok(turn.strays < 2, `${turn.strays}`);
    }
});

test("a bar swung back for another grip is not counted, its spring neither", () => {
  const turn = swung([0, 1, 0], [50, 10, 50]);
  assert.equal(turn.grips, 1);
  assert.ok(Math.abs(turn.counted - 90) < 2.5, `${turn.counted}`);
  const sprung = swung([0, 1, 0], [60, 56, 90]);
  assert.equal(sprung.grips, 0);
  assert.ok(Math.abs(sprung.counted - 90) < 1.5, `${sprung.counted}`);
  assert.ok(swung([0, 1, 0], [50, 10, 50]).err > sprung.err);
});
