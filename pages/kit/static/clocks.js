// Clocks that run on the page, and the screen that stays awake on the bench.

// left is what is left of a time, as minutes and seconds; at its end the word for that.
export const left = (until, now, end = "done") => {
  const seconds = Math.max(0, Math.round((until - now) / 1000));
  if (!seconds) return end;
  return `${Math.floor(seconds / 60)}:${String(seconds % 60).padStart(2, "0")}`;
};

// clock is a time of the day as the shop's own pages write it.
export const clock = (at) =>
  at.toLocaleTimeString([], { hour: "2-digit", minute: "2-digit", hourCycle: "h23" });

// share is how much of a span has gone by, per cent.
export const share = (from, to, now) => Math.min(100, Math.max(0, (100 * (now - from)) / (to - from)));

export const tick = () => {
  const now = Date.now();
  for (const el of document.querySelectorAll("[data-until]")) {
    const until = Date.parse(el.dataset.until);
    if (isNaN(until)) continue;
    const tail = until > now && el.dataset.tail; // where the time of a clock stands beside it
    el.textContent = left(until, now, el.dataset.end) + (tail || "");
  }
  for (const el of document.querySelectorAll("progress[data-to]")) {
    el.value = share(Date.parse(el.dataset.from), Date.parse(el.dataset.to), now);
  }
};

// opens keeps a key shut until hands can have done what it says.
export const opens = () => {
  for (const key of document.querySelectorAll("[data-opens]")) {
    const until = Date.now() + 1000 * Number(key.dataset.opens);
    delete key.dataset.opens;
    const small = key.querySelector("small"),
      words = small.textContent;
    const wait = () => {
      key.disabled = Date.now() < until;
      small.textContent = key.disabled ? `opens in ${left(until, Date.now())}` : words;
      if (key.disabled && key.isConnected) setTimeout(wait, 200);
    };
    wait();
  }
};

let lock = null;

export const awake = async () => {
  if (
    !document.querySelector(".bench") ||
    !navigator.wakeLock ||
    document.visibilityState !== "visible" ||
    lock
  )
    return;
  try {
    lock = await navigator.wakeLock.request("screen");
    lock.addEventListener("release", () => {
      lock = null;
    });
  } catch {
    /* not allowed here */
  }
};
