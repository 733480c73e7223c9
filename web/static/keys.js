// Keys: what stands under data-key is pressed by its letter, and ? lists them.
const shown = (el) => el && el.offsetParent !== null && !el.disabled;

export const typing = (el) =>
  el &&
  (el.matches("textarea, select") ||
    (el.matches("input") && !["checkbox", "radio", "hidden"].includes(el.type)));

// A second tap on what has only just come up keeps nothing: nobody has seen it yet.
const guard = 600;
let shownAt = 0;

// fresh notes that a page has just come up.
export const fresh = () => {
  shownAt = Date.now();
};

document.addEventListener(
  "click",
  (e) => {
    if (e.target.closest && e.target.closest(".keys .go") && Date.now() - shownAt < guard) {
      e.preventDefault();
      e.stopPropagation();
    }
  },
  true,
);

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
  // Space on a focused control is that control's own.
  if (e.key === " " && e.target.closest("button, a[href], summary, input, [tabindex]")) return;
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
    document.getElementById("name").value = fill.dataset.name;
    document.getElementById("pin").value = fill.dataset.pin;
    fill.closest(".card").querySelector("form").requestSubmit();
  }
});
