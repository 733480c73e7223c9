// A pull that was kept stands for a while, then its key goes on by itself: any touch lets it stay.
let timer = 0;

// stay lets the verdict stand until somebody goes on.
const stay = () => {
  clearInterval(timer);
  timer = 0;
  const go = document.querySelector(".keys .go[data-counts]"),
    hold = document.querySelector("[data-stay]");
  if (hold) hold.hidden = true;
  if (!go) return;
  delete go.dataset.counts;
  const left = go.querySelector(".counts");
  if (left) left.remove();
};

// count begins where a page came up that goes on by itself.
export const count = () => {
  clearInterval(timer);
  timer = 0;
  const go = document.querySelector(".keys .go[data-counts]"),
    hold = document.querySelector("[data-stay]");
  if (!go || !hold) return;
  hold.hidden = false;
  const until = Date.now() + Number(go.dataset.counts);
  const left = document.createElement("span");
  left.className = "counts";
  left.setAttribute("aria-hidden", "true");
  go.prepend(left);
  const tick = () => {
    if (!go.isConnected) return stay();
    const rest = until - Date.now();
    left.textContent = Math.max(1, Math.ceil(rest / 1000));
    if (rest > 0) return;
    delete go.dataset.counts;
    clearInterval(timer);
    timer = 0;
    go.click();
  };
  tick();
  timer = setInterval(tick, 100);
};

for (const kind of ["pointerdown", "keydown"]) {
  document.addEventListener(
    kind,
    (e) => {
      const own = kind === "keydown" ? e.key === " " : e.target.closest(".keys .go");
      if (timer && !own) stay();
    },
    true,
  );
}

document.addEventListener("click", (e) => {
  if (e.target.closest("[data-stay]")) stay();
});

document.addEventListener("visibilitychange", () => {
  if (timer && document.visibilityState !== "visible") stay();
});
