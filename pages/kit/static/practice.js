// The simulated wrench of the practice bay: held by space, or dragged round its arc. What the
// fastener will do stands in the page; where the hand lets go is sent.
import { at, letGoAt } from "./swing.js";

const button = document.querySelector("[data-hold]");

const slowNm = 0.3; // of the amount: below it a hand runs down quickly
const ftLb = 1.3558179; // N·m in a pound-force foot, NIST SP 811
const quick = 90; // degrees a second while nothing resists
const slow = 22; // and against resistance

const begin = () => {
  const curve = JSON.parse(button.dataset.curve);
  const torque = button.dataset.torque === "true";
  const loose = button.dataset.loose === "true";
  const amount = Number(button.dataset.amount) || Math.max(...curve.map((p) => p[1]));
  const form = button.form;
  const svg = document.querySelector("svg.swing");
  const arm = document.getElementById("arm");
  const force = document.getElementById("force");
  const gauge = document.getElementById(torque ? "gauge" : "gauge-angle");
  const foot = document.getElementById("gauge-ft");
  const plot = document.querySelector("svg[data-plot]");
  const end = curve[curve.length - 1][0];
  let turned = 0;
  let peak = 0;
  let pace = 1;
  let held = false;
  let sent = false;
  let last = 0;

  const draw = () => {
    const nm = at(curve, turned);
    peak = Math.max(peak, nm);
    gauge.textContent = torque ? nm.toFixed(0) : (turned - curve[0][0]).toFixed(0);
    if (foot) foot.textContent = (nm / ftLb).toFixed(1);
    force.textContent = `${Math.round((nm * 1000) / Number(svg.dataset.bar))} N`;
    // The handle goes back on its ratchet after every stroke.
    arm.setAttribute("transform", `rotate(${(turned % 44).toFixed(1)} 130 212)`);
    if (!plot) return;
    const n = (k) => Number(plot.dataset[k]);
    const x = (a) => n("x0") + ((n("x1") - n("x0")) * Math.min(a, n("amax"))) / n("amax");
    const y = (m) => n("y0") + ((n("y1") - n("y0")) * Math.min(m, n("mmax"))) / n("mmax");
    const from = Math.max(0, turned - n("amax"));
    const points = curve.filter((p) => p[0] <= turned && p[0] >= from).map((p) => [p[0] - from, p[1]]);
    points.push([turned - from, nm]);
    plot
      .querySelector(".tr")
      .setAttribute("points", points.map((p) => `${x(p[0]).toFixed(1)},${y(p[1]).toFixed(1)}`).join(" "));
    const tip = plot.querySelector(".tip");
    tip.setAttribute("cx", x(turned - from));
    tip.setAttribute("cy", y(nm));
    tip.setAttribute("visibility", "visible");
  };

  const send = () => {
    held = false;
    if (sent || peak <= 0) return;
    sent = true;
    form.elements.let.value = letGoAt({ torque, loose, amount, peak, turned, nm: at(curve, turned), end });
    form.requestSubmit();
  };

  const tick = (now) => {
    if (!held) return;
    const dt = Math.min(0.05, (now - last) / 1000);
    last = now;
    const rate = at(curve, turned) < slowNm * amount && torque ? quick : slow;
    turned = Math.min(end, turned + pace * rate * dt);
    draw();
    if (turned >= end) send();
    else requestAnimationFrame(tick);
  };

  const hold = () => {
    if (held || sent) return;
    held = true;
    last = performance.now();
    requestAnimationFrame(tick);
  };

  document.addEventListener(
    "keydown",
    (e) => {
      if (e.target.matches("input, select, textarea")) return;
      if (e.key === " ") hold();
      else if (e.key === "ArrowUp") pace = Math.min(3, pace * 1.3);
      else if (e.key === "ArrowDown") pace = Math.max(0.2, pace / 1.3);
      else return;
      e.preventDefault();
      e.stopPropagation();
    },
    true,
  );
  document.addEventListener("keyup", (e) => {
    if (e.key === " " && held) send();
  });
  button.addEventListener("pointerdown", hold);
  for (const over of ["pointerup", "pointercancel"]) {
    document.addEventListener(over, () => {
      if (held) send();
    });
  }
  // Typed without a swing, the figure goes as it stands.
  button.addEventListener("click", (e) => {
    if (!form.elements.let.value) e.preventDefault();
  });

  let grip = null;
  const angle = (e) => {
    const box = svg.getBoundingClientRect();
    const x = ((e.clientX - box.left) / box.width) * 580 - 130;
    const y = ((e.clientY - box.top) / box.height) * 400 - 212;
    return (Math.atan2(y, x) * 180) / Math.PI;
  };
  svg.addEventListener("pointerdown", (e) => {
    if (sent) return;
    svg.setPointerCapture(e.pointerId);
    grip = angle(e);
  });
  svg.addEventListener("pointermove", (e) => {
    if (grip === null) return;
    const by = angle(e) - grip;
    grip = angle(e);
    if (by > 0 && by < 90) {
      turned = Math.min(end, turned + by);
      draw();
    }
  });
  svg.addEventListener("pointerup", () => {
    if (grip !== null && at(curve, turned) > slowNm * amount) send();
    grip = null;
  });
};

if (button) begin();
