// The device on the bar: its own motion is read from the snug point on, and what it came to is sent as it was read.
import { Turn } from "./motion.js";
import { tone } from "./trace.js";

let turn = null, // since the snug point
  sounded = false,
  lies = null; // how it told last that it lies

const gauge = () => document.querySelector(".phonegauge");
const bands = () => JSON.parse(gauge().dataset.bands);
const says = (text) => {
  const line = document.getElementById("phonesays");
  if (line && line.textContent !== text) line.textContent = text;
};

const words = () => {
  const about = turn.upright
    ? "about the vertical: by its gyroscope alone, which drifts"
    : "told by gravity and gyroscope";
  const again = turn.grips ? `, ${turn.grips} new grip${turn.grips > 1 ? "s" : ""}` : "";
  const strays = turn.strays > bands().stray ? " It tilted as well: lay it flat on the bar." : "";
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
  if (key && (key.disabled || (asks && !turn))) {
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

// Some devices tell their motion only once the person lets them, at a touch.
const asks = window.DeviceOrientationEvent && window.DeviceOrientationEvent.requestPermission;

// The key lets the device tell its motion where it must be asked, begins the count, and then sends what it came to.
document.addEventListener(
  "click",
  (e) => {
    const key = e.target.closest && e.target.closest("[data-phone]");
    if (!key || !gauge()) return;
    if (turn && turn.counted > 1) {
      const sent = {
        angle: turn.counted.toFixed(1),
        upright: turn.upright ? "1" : "",
        grips: turn.grips,
        seconds: turn.seconds.toFixed(1),
        stray: turn.strays.toFixed(1),
      };
      for (const [name, value] of Object.entries(sent)) key.form.elements[name].value = value;
      turn = null;
      return; // it is sent
    }
    e.preventDefault();
    e.stopPropagation();
    if (!lies) {
      asks.call(window.DeviceOrientationEvent).catch(() => says("It was not let tell its motion."));
      return;
    }
    turn = new Turn(bands());
    turn.feed(...lies);
    sounded = false;
    begun(key);
  },
  true,
);

// Each page begins anew; a device that has to be asked is asked by its key.
const ready = () => {
  if (!gauge()) turn = null;
  const key = document.querySelector("[data-phone]");
  if (!key || lies || !asks) return;
  key.disabled = false;
  says("Touch the key, and let this device tell its motion.");
};
document.addEventListener("htmx:after:swap", ready);
ready();
