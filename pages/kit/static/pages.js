// What single pages do beyond forms and links. Every page works without.
import { typing } from "./keys.js";
import { says, series } from "./series.js";
import { tone } from "./trace.js";

// Trouble opens over the picture at once, network or not.
document.addEventListener("click", (e) => {
  const at = e.target.closest && e.target.closest(".bench .key.trouble, .bench .key.hand, .bench .untrouble");
  if (!at) return;
  e.preventDefault();
  const open = !at.matches(".untrouble");
  document.querySelector("main[data-live]").classList.toggle("introuble", open);
  const hand = at.matches(".hand") && document.getElementById("handover");
  if (hand) {
    hand.open = true;
    hand.querySelector("#handto").focus();
    hand.scrollIntoView({ block: "nearest" });
    return;
  }
  const heading = document.querySelector(open ? ".introuble-only h2" : ".bench .what");
  if (heading) heading.focus({ preventScroll: true });
});

// Signing in: a name is touched, then the PIN on the pad.
const pad = document.querySelector(".pinpad");
if (pad) {
  for (const digit of pad.querySelectorAll("[data-digit]")) digit.hidden = false;
  document.addEventListener("click", (e) => {
    const digit = e.target.closest("[data-digit]");
    const pin = document.getElementById("pin");
    if (e.target.matches('.nameof input[type="radio"]')) pin.focus();
    if (!digit) return;
    pin.value = digit.dataset.digit === "⌫" ? pin.value.slice(0, -1) : pin.value + digit.dataset.digit;
  });
}

// A sheet: what is typed leaves the rows that hold it; a row rings its joint.
document.addEventListener("input", (e) => {
  const rows = e.target.dataset.filter;
  if (!rows) return;
  const words = e.target.value.toLowerCase().split(/\s+/);
  for (const row of document.querySelectorAll(rows)) {
    const text = row.textContent.toLowerCase();
    row.hidden = !words.every((w) => text.includes(w));
  }
});

const ring = (e) => {
  const row = e.target.closest && e.target.closest(".sheetrow[data-joint]");
  if (!row) return;
  for (const j of document.querySelectorAll(".sheetpic [data-joint]")) {
    j.classList.toggle("ringed", j.dataset.joint === row.dataset.joint);
  }
};

for (const kind of ["pointerover", "focusin", "click"]) document.addEventListener(kind, ring);

// A file goes into the field that names its text, where it can be looked at.
document.addEventListener("change", async (e) => {
  if (!e.target.matches("[data-into]") || !e.target.files[0]) return;
  const into = document.getElementById(e.target.dataset.into);
  into.value = await e.target.files[0].text();
  into.dispatchEvent(new Event("input", { bubbles: true }));
});

// A picture that was taken goes at once: there is nothing more to say of it.
document.addEventListener("change", (e) => {
  if (e.target.matches("[data-sends]") && e.target.files[0]) e.target.form.requestSubmit();
});

// A bar too narrow for its words says them below the timeline.
for (const kind of ["focusin", "pointerover"]) {
  document.addEventListener(kind, (e) => {
    const bar = e.target.closest && e.target.closest("[data-says]");
    if (bar) bar.closest("figure").querySelector(".says-bar").textContent = bar.dataset.says;
  });
}

// A step to be moved: the arrows walk it through the plan, and what that costs is said
// before anything is moved.
let tried = 0;

const tryMove = async (input) => {
  const form = input.form,
    mine = ++tried;
  const out = form.querySelector(".trycost");
  if (input.value.trim() === "") {
    out.textContent = "";
    return;
  }
  const query = new URLSearchParams({ step: form.elements.step.value, behind: input.value });
  try {
    const res = await fetch(`${form.dataset.try}?${query}`);
    const text = res.ok ? await res.text() : "";
    if (mine === tried) out.textContent = text;
  } catch {
    out.textContent = "";
  }
};

document.addEventListener("input", (e) => {
  if (e.target.closest("form[data-try]")) tryMove(e.target);
});

document.addEventListener("keydown", (e) => {
  const input = e.target.closest && e.target.closest("form[data-try] .input");
  if (!input) return;
  if (e.key === "Escape") {
    input.value = "";
    input.closest("details").open = false;
    return;
  }
  const by = { ArrowUp: -1, ArrowDown: 1 }[e.key];
  if (!by) return;
  e.preventDefault();
  const stands = Number(input.dataset.no) - 1;
  let to = (input.value === "" ? stands : Number(input.value)) + by;
  if (to === stands + 1) to += by; // behind itself it stands where it is
  input.value = String(Math.max(0, to));
  tryMove(input);
});

document.addEventListener("change", (e) => {
  if (e.target.matches("[data-go]")) e.target.form.requestSubmit();
});

// What is ticked of an order is told in its picture, and how much at its axle.
document.addEventListener("change", (e) => {
  if (!e.target.matches('.axle input[name="task"]')) return;
  const dot = document.querySelector(`.orderdot[data-task="${CSS.escape(e.target.value)}"]`);
  if (dot) dot.classList.toggle("on", e.target.checked);
  const axle = e.target.closest(".axle");
  const n = axle.querySelectorAll(":checked").length;
  axle.querySelector("[data-ticked]").textContent = n ? `${n} touched` : "";
});

// What is offered beside the order is ticked where it stands on the vehicle.
document.addEventListener("click", (e) => {
  const offer = e.target.closest("[data-tick]");
  if (!offer) return;
  const box = document.querySelector(`input[name="task"][value="${CSS.escape(offer.dataset.tick)}"]`);
  if (box && !box.checked) box.click();
});

// A form that needs no answer on the page is sent beside it.
document.addEventListener("submit", async (e) => {
  const form = e.target.closest("form[data-quiet]");
  if (!form) return;
  e.preventDefault();
  const r = await fetch(form.action, {
    method: "POST",
    body: new URLSearchParams(new FormData(form)),
  }).catch(() => null);
  if (r && r.ok) return;
  const out = document.getElementById("outcome");
  const f = r && new DOMParser().parseFromString(await r.text(), "text/html").querySelector(".fault");
  out.textContent = f ? f.textContent : "The wrench does not answer.";
});

// A gauge that stands at the old part and goes over the new one as well says the same of both.
const sameOf = (el) => [...el.closest(".sides").querySelectorAll("input")];
const offerSame = (root) => {
  for (const same of root.querySelectorAll(".sides .same")) {
    const [old, fresh] = sameOf(same);
    same.hidden = !old.value || !!fresh.value;
  }
};
document.addEventListener("input", (e) => e.target.closest(".sides") && offerSame(document));
document.addEventListener("htmx:after:swap", () => offerSame(document));
offerSame(document);
document.addEventListener("click", (e) => {
  const same = e.target.closest(".sides .same");
  if (!same) return;
  const [old, fresh] = sameOf(same);
  fresh.value = old.value;
  fresh.dispatchEvent(new Event("input", { bubbles: true }));
});

// An answer on its way to a form that is typed on would take back what was typed meanwhile.
document.addEventListener("input", (e) => {
  const form = e.target.closest("form.matched");
  if (form) form.dispatchEvent(new Event("htmx:abort"));
});

// 1 to 4 answer the first manoeuvre of a road test that has no answer yet.
document.addEventListener("keydown", (e) => {
  if (e.ctrlKey || e.metaKey || e.altKey || typing(e.target)) return;
  const open = [...document.querySelectorAll(".felt")].find((g) => !g.querySelector(":checked"));
  const answer = open && open.querySelectorAll("input")[Number(e.key) - 1];
  if (!answer) return;
  answer.click();
  answer.focus();
  e.preventDefault();
});

// A word that is touched stands in the note of its manoeuvre.
document.addEventListener("click", (e) => {
  const word = e.target.closest("[data-word]");
  if (!word) return;
  const note = word.closest("li").querySelector(".feltnote");
  note.value = [note.value.trim(), word.dataset.word].filter(Boolean).join(", ");
});

// The key of a road test leads through what has no answer yet: there space says that it was sound.
document.addEventListener(
  "click",
  (e) => {
    const key = e.target.closest && e.target.closest('.keys .go[form="trialform"]');
    const open = key && [...document.querySelectorAll(".felt")].find((g) => !g.querySelector(":checked"));
    if (!open) return;
    e.preventDefault();
    e.stopPropagation();
    open.querySelector("input").focus();
    document.getElementById("spoken").textContent = open.getAttribute("aria-label");
  },
  true,
);

// The pause clock of a bedding series: the passenger begins it, a tone tells each stop, and a
// reload or another page in between loses nothing.
const begun = (el) => `series:${el.dataset.series}`;
let told = 0;

const clock = () => {
  for (const el of document.querySelectorAll("[data-series]")) {
    el.hidden = false;
    const [begin, end] = el.querySelectorAll("button");
    const at = Number(localStorage.getItem(begun(el)));
    begin.hidden = !!at;
    end.hidden = !at;
    const stops = Number(el.dataset.stops);
    const now = series((Date.now() - at) / 1000, stops, Number(el.dataset.interval));
    el.querySelector("b").textContent = at ? says(now, stops) : "";
    if (at && now.stop !== told) tone(true);
    told = at ? now.stop : 0;
  }
};

document.addEventListener("click", (e) => {
  const el = e.target.closest("[data-series]");
  if (!el || !e.target.closest("button")) return;
  if (e.target.closest(".bad")) localStorage.removeItem(begun(el));
  else localStorage.setItem(begun(el), String(Date.now()));
  clock();
});

if (document.querySelector("[data-series]")) {
  clock();
  setInterval(clock, 250);
}

// A figure is typed on its own pad, with what a maker writes; a source that was named before is taken by a touch.
document.addEventListener("click", (e) => {
  const key = e.target.closest && e.target.closest("[data-pad] [data-type]");
  if (key) {
    const field = document.getElementById(key.closest("[data-pad]").dataset.pad);
    if (key.dataset.type === "⌫") {
      field.value = field.value.replace(/\s*\S\s*$/u, "");
    } else {
      field.value = (field.value + key.dataset.type).trimStart();
    }
    field.dispatchEvent(new Event("input", { bubbles: true }));
  }
  const as = e.target.closest && e.target.closest("[data-fills]");
  if (!as) return;
  for (const [id, text] of [
    [as.dataset.fills, as.dataset.with],
    [as.dataset.and, as.dataset.page],
  ]) {
    const field = document.getElementById(id);
    field.value = text;
    field.dispatchEvent(new Event("input", { bubbles: true }));
  }
});

document.addEventListener("click", (e) => {
  if (e.target.closest && e.target.closest("[data-print]")) window.print();
});
