// A picture from solids is turned by whoever asks for it: what turns it is fetched then.
let away = null,
  turned = null; // the key of what is turned

const back = () => {
  if (away) away();
  away = turned = null;
};

const start = async (key) => {
  const picture = key.previousElementSibling;
  const says =
    picture.getAttribute("aria-label") || picture.querySelector("svg").getAttribute("aria-label") || "";
  const canvas = document.createElement("canvas");
  canvas.tabIndex = 0;
  canvas.setAttribute("role", "img");
  picture.after(canvas);
  picture.style.visibility = "hidden";
  key.textContent = "The picture again";
  let stop = () => {};
  const leave = () => {
    stop();
    canvas.remove();
    picture.style.visibility = "";
    key.textContent = "Look around";
  };
  away = leave;
  turned = key;
  try {
    const { turn } = await import("./turn.js");
    stop = await turn(key.dataset.turn, canvas, says);
    if (away === leave) canvas.focus({ preventScroll: true });
    else stop();
  } catch {
    if (away === leave) back();
    key.textContent = "It cannot be turned here";
    key.disabled = true;
  }
};

document.addEventListener("click", (e) => {
  const key = e.target.closest && e.target.closest("[data-turn]");
  if (!key) return;
  const again = turned === key;
  back();
  if (!again) start(key);
});

// turnKeys shows the keys where a script runs; another page leaves what was turned.
export const turnKeys = () => {
  if (away && !document.querySelector(".turnable > canvas")) back();
  for (const key of document.querySelectorAll("[data-turn]")) key.hidden = false;
};
