// Keys: what stands under data-key is pressed by its letter, and ? lists them.
const shown = (el) => el && el.offsetParent !== null && !el.disabled;

export const typing = (el) =>
  el &&
  (el.matches("textarea, select") ||
    (el.matches("input") && !["checkbox", "radio", "hidden"].includes(el.type)));

// A second tap on what has only just come up keeps nothing: nobody has seen it yet.
const guard = 600;
let shownAt = 0,
  stood = "";

// What stands at the keys: what was recorded so far, and their words.
const inSight = () => {
  const bench = document.querySelector("[data-seq]");
  const keys = [...document.querySelectorAll(".keys .go")].map((k) => k.textContent);
  return [location.pathname, bench && bench.dataset.seq, ...keys].join("|");
};

// fresh notes that a page has just come up; the same one drawn again has been seen. The first is fetched as a whole: a
// finger on it waited for it.
export const fresh = (first = false) => {
  const now = inSight();
  if (!first && now !== stood) shownAt = Date.now();
  stood = now;
};

document.addEventListener(
  "click",
  (e) => {
    const key = e.target.closest && e.target.closest(".keys .go");
    if (!key) return;
    if (Date.now() - shownAt >= guard && !takesNew(key)) return;
    e.preventDefault();
    e.stopPropagation();
  },
  true,
);

// A key that asks first leads to the answers: there space gives the one that has the focus.
document.addEventListener("click", (e) => {
  const key = e.target.closest && e.target.closest("[data-leads]");
  const first = key && document.querySelector(key.dataset.leads);
  if (first) first.focus();
});

const newBox = (key) => key.form && key.form.querySelector(".new input");

// takesNew is the first of the two acts by which new hardware goes in: it is in hand. It is true
// where that was still to be said, and then nothing else is.
const takesNew = (key) => {
  const box = newBox(key);
  if (!box || box.checked) return false;
  box.click();
  shownAt = Date.now();
  return true;
};

// keyWords lets a key that asks for two acts say which one comes.
export const keyWords = () => {
  for (const key of document.querySelectorAll(".keys .go[data-first]")) {
    const words = key.firstChild,
      box = newBox(key);
    if (!key.dataset.then) key.dataset.then = words.textContent;
    words.textContent = box && !box.checked ? key.dataset.first : key.dataset.then;
  }
};

document.addEventListener("change", (e) => {
  if (!e.target.matches(".new input")) return;
  keyWords();
  const key = e.target.form.querySelector(".go");
  document.getElementById("spoken").textContent = key.firstChild.textContent.trim();
});

// ownsSpace says that space on a focused control is that control's own: not where a heading has
// the focus because its step came up, nor on an answer that is given.
const ownsSpace = (el) => {
  const control = el.closest('button, a[href], summary, input, [tabindex]:not([tabindex="-1"])');
  return (
    !!control && !control.matches("canvas") && !(control.matches("input[type=radio]") && control.checked)
  );
};

const press = (key) => {
  const el = [...document.querySelectorAll(`[data-key="${key}"]`)].find(shown);
  if (el) el.click();
  return !!el;
};

document.addEventListener("keydown", (e) => {
  if (e.ctrlKey || e.metaKey || e.altKey || typing(e.target)) return;
  const field = document.querySelector(`[data-focuskey="${CSS.escape(e.key)}"]`);
  if (field) {
    field.focus();
    e.preventDefault();
    return;
  }
  if (e.key === "?") {
    showKeys();
    e.preventDefault();
    return;
  }
  if (e.key === " " && ownsSpace(e.target)) return;
  if (document.querySelector("dialog[open]")) return;
  if (!e.repeat && press(e.key.toLowerCase())) e.preventDefault();
});

const showKeys = () => {
  const d = document.getElementById("keys");
  const list = d.querySelector("dl");
  list.replaceChildren();
  const add = (k, what) => {
    const dt = document.createElement("dt"),
      dd = document.createElement("dd");
    dt.textContent = k;
    dd.textContent = what;
    list.append(dt, dd);
  };
  for (const el of document.querySelectorAll("[data-key]")) {
    const label = el.firstChild ? el.firstChild.textContent.trim() : "";
    if (shown(el)) add(el.dataset.key === " " ? "space" : el.dataset.key.toUpperCase(), label);
  }
  add("tab", "the next control");
  add("?", "this list");
  if (!d.open) d.showModal();
};

document.addEventListener("click", (e) => {
  if (e.target.closest(".keys-open")) showKeys();
  const fill = e.target.closest(".fill");
  if (fill) {
    const form = fill.closest(".card").querySelector("form");
    form.elements.name.value = fill.dataset.name; // of keys it takes the one that says so
    form.elements.pin.value = fill.dataset.pin;
    form.requestSubmit();
  }
});
