// The strip at the foot of the page: no network, or what somebody else has done.
let lookAt = () => {};

// onLook says what the key on the strip opens.
export const onLook = (open) => {
  lookAt = open;
};

const strip = document.getElementById("offline");

// tell shows a line on the strip, with a key to what is kept here.
export const tell = (text, list) => {
  strip.hidden = !text;
  strip.textContent = text || "";
  if (!list) return;
  const look = document.createElement("button");
  look.className = "btn small";
  look.textContent = "Look";
  look.addEventListener("click", () => lookAt());
  strip.append(" ", look);
};

// glimpse says for a moment what somebody else has done.
export const glimpse = (text) => {
  if (!strip.hidden) return;
  tell(text);
  strip.classList.add("glimpse");
  setTimeout(() => {
    strip.classList.remove("glimpse");
    if (strip.textContent === text) tell("");
  }, 4000);
};
