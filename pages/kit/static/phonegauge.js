// The device on the bar: its own motion is read from the snug point on, and what it came to is sent as it was read.
import { Turn } from "./motion.js";
import { tone } from "./trace.js";

let turn = null, // since the snug point
  sounded = false,
  lies = null; // how it told last that it lies

const gauge = () => document.querySelector(".phonegauge");
const says = (text) => {
  const line = document.getElementById("phonesays");
  if (line && line.textContent !== text) line.textContent = text;
};

const words = () => {
  const about = turn.upright
    ? "about the vertical: by its gyroscope alone, which drifts"
    : "told by gravity and gyroscope";
  const again = turn.grips ? `, ${turn.grips} new grip${turn.grips > 1 ? "s" : ""}` : "";
  const strays = turn.strays > 15 ? " It tilted as well: lay it flat on the bar." : "";
  return `± ${turn.err}° ${about}${again}.${strays}`;
};

// begun names the key by what it does now; a page that is drawn anew meanwhile names it by what it did.
const begun = (key) => {
  const [name, sub] = ["It is turned", "keeps what it came to"];
  if (key.firstChild.textContent === name) return;
  key.firstChild.textContent = name;
  key.querySelector("small").textContent = sub;
};

window.addEventListener("deviceorientation", (e) => {
  const box = gauge();
  if (!box || e.alpha === null || e.beta === null || e.gamma === null) return;
  lies = [e.timeStamp / 1000, e.alpha, e.beta, e.gamma];
  const key = document.querySelector("[data-phone]");
  if (key && key.disabled) {
    key.disabled = false;
    says("Lay it on the bar, then touch the key.");
  }
  if (!turn) return;
  if (key) begun(key);
  turn.feed(...lies);
  document.getElementById("turned").textContent = Math.round(turn.counted);
  says(words());
  if (turn.counted >= Number(box.dataset.goal) && !sounded) {
    sounded = true;
    tone(true);
  }
});

// The key begins the count, and then sends what it came to.
document.addEventListener(
  "click",
  async (e) => {
    const key = e.target.closest && e.target.closest("[data-phone]");
    if (!key || !gauge()) return;
    if (turn && turn.counted > 1) {
      const form = key.form;
      form.elements.angle.value = turn.counted.toFixed(1);
      form.elements.err.value = turn.err;
      turn = null;
      return; // it is sent
    }
    e.preventDefault();
    e.stopPropagation();
    turn = new Turn();
    turn.feed(...lies);
    sounded = false;
    begun(key);
  },
  true,
);

// Some devices ask the person first, at a touch.
const asks = window.DeviceOrientationEvent && window.DeviceOrientationEvent.requestPermission;
if (asks)
  document.addEventListener("click", (e) => {
    if (e.target.closest && e.target.closest("a[href*='panel=phone']")) asks().catch(() => {});
  });

// Another page begins anew.
document.addEventListener("htmx:after:swap", () => {
  if (!gauge()) turn = null;
});
