// What the pages do beyond forms and links. Every page works without; each part has a module
// of its own.
import "./castle.js";
import "./missing.js";
import "./pages.js";
import "./phonegauge.js";
import { flush, goOn, learn, onPage, standing } from "./away.js";
import { awake, opens, tick } from "./clocks.js";
import { fresh, keyWords, typing } from "./keys.js";
import { connect, main } from "./live.js";
import { place } from "./strip.js";
import { turnKeys } from "./turning.js";
import { count } from "./verdict.js";
import { say } from "./voice.js";

setInterval(tick, 1000);

document.addEventListener("visibilitychange", () => {
  awake();
  if (document.visibilityState === "visible") connect(flush);
});

const ready = () => {
  for (const b of document.querySelectorAll(".keys-open")) b.hidden = false;
  connect(flush);
  awake();
  tick();
  learn();
  keyWords();
  place();
  turnKeys();
  count();
  opens();
  const t = document.getElementById("trouble");
  if (t) t.scrollIntoView({ block: "nearest" });
};

// Another step: the focus goes to its heading, the page takes its name, and it is spoken once: by the focus, and what
// goes with it beside; where somebody types the focus stays, and all is said beside.
let shownStep = "";

const announce = (first) => {
  const what = document.querySelector(".bench .what, .release .what");
  const also = (what && what.dataset.also) || "";
  const says = what ? [what.textContent, also].filter(Boolean).join(", ") : "";
  if (says === shownStep) return;
  shownStep = says;
  say(says);
  if (first || !what) return;
  const title = main() && main().dataset.title;
  if (title) document.title = `${title} · Lugtak`;
  const busy = typing(document.activeElement);
  document.getElementById("spoken").textContent = busy ? says : also;
  if (!busy) what.focus({ preventScroll: true });
};

// What is asked by an address is kept in more places than one looks: no PIN and no token goes along.
document.addEventListener("htmx:config:request", (e) => {
  const { method, body } = e.detail.ctx.request;
  if (method !== "GET" || !body) return;
  for (const name of ["pin", "_csrf"]) body.delete(name);
});

// A part that fills in, as what a figure means while it is typed, is no page that came up.
const partly = (e) => {
  const at = e && e.detail && e.detail.ctx && e.detail.ctx.target;
  return at && at.id !== "page";
};

const redrawn = (e) => {
  ready();
  if (!partly(e)) fresh();
  announce(false);
};

document.addEventListener("htmx:after:swap", redrawn);
onPage(redrawn);
announce(true);
ready();
fresh(true);
standing().then(goOn);
