// What is said of the network, of the session and of what was not taken: in a place of its own,
// beside the keys where the page has some, so that it covers none of them.
let lookAt = () => {};
let said = { text: "", list: false, glimpse: false };

// onLook says what the key on the strip opens.
export const onLook = (open) => {
  lookAt = open;
};

// place writes what is said into the page that stands there now.
export const place = () => {
  const strip = document.getElementById("offline");
  strip.hidden = !said.text;
  strip.classList.toggle("glimpse", said.glimpse);
  if (strip.dataset.said === said.text && strip.textContent) return; // spoken once
  strip.dataset.said = said.text;
  strip.textContent = said.text;
  if (!said.list) return;
  const look = document.createElement("button");
  look.type = "button";
  look.className = "btn small";
  look.textContent = "Look";
  look.addEventListener("click", () => lookAt());
  strip.append(" ", look);
};

// tell shows a line, with a key to what is kept here.
export const tell = (text, list = false) => {
  said = { text: text || "", list, glimpse: false };
  place();
};

// glimpse says for a moment what somebody else has done.
export const glimpse = (text) => {
  if (said.text) return;
  said = { text, list: false, glimpse: true };
  place();
  setTimeout(() => {
    if (said.text === text) tell("");
  }, 4000);
};
