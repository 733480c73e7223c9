// What others do, and what a wrench reads, while a page of a job is open.
import { begin, take, tone } from "./trace.js";
import { glimpse, tell } from "./strip.js";

let stream = null,
  streamURL = "";

export const main = () => document.querySelector("main[data-live]");

// What a tool in hand has read is told of twice: as a line of the journal, and a moment later by what it came to.
const verdictComes = 500; // ms
let due = 0,
  stale = false;
const mine = new Set(); // ids sent from here: their answer shows what they did

document.addEventListener("htmx:before:request", (e) => {
  const form = e.detail && e.detail.ctx && e.detail.ctx.sourceElement;
  if (form && form.matches("form") && form.elements.id) mine.add(form.elements.id.value);
});

const typed = (el) => (el.matches("select") ? false : el.value !== el.defaultValue);

// What somebody types is never swept away: the page waits until it is sent. Nor is a verdict: it stands until one goes
// on.
export const refresh = (query) => {
  if (query === undefined && document.querySelector(".verdictcard")) return;
  stale = [
    ...document.querySelectorAll(
      "main input:not([type=hidden], [type=radio], [type=checkbox], [type=file]), main textarea",
    ),
  ].some(typed);
  if (stale) return;
  const self = main() && main().dataset.self; // a form sent without script has left another address behind
  if (self)
    htmx.ajax("GET", self + (location.pathname === self ? (query ?? location.search) : ""), {
      target: "#page",
      swap: "outerMorph",
    });
};

document.addEventListener("focusout", () => {
  if (stale) setTimeout(refresh, 200);
});

// connect follows the job of the page; back is called when the line stands.
export const connect = (back) => {
  const m = main();
  if (!m) {
    if (stream) stream.close();
    stream = null;
    streamURL = "";
    return;
  }
  if (streamURL === m.dataset.live && stream && stream.readyState !== 2) return;
  if (stream) stream.close();
  streamURL = m.dataset.live;
  stream = new EventSource(streamURL);
  stream.addEventListener("begin", () => {
    begin();
  });
  stream.addEventListener("samples", (e) => take(JSON.parse(e.data)));
  stream.addEventListener("end", (e) => {
    const d = JSON.parse(e.data),
      out = document.getElementById("outcome");
    tone(d.good);
    if (out) out.textContent = d.says;
    begin();
    clearTimeout(due);
    refresh(
      d.good && document.querySelector("[data-mine]") ? `?pull=${encodeURIComponent(d.pull)}` : undefined,
    );
  });
  stream.addEventListener("change", (e) => {
    const m = main(),
      d = JSON.parse(e.data);
    if (!m || d.seq <= Number(m.dataset.seq) || mine.has(d.id)) return;
    if (d.says && d.by !== m.dataset.person) glimpse(d.says);
    clearTimeout(due);
    due = setTimeout(refresh, m.querySelector("[data-mine]") ? verdictComes : 0);
  });
  stream.addEventListener("who", (e) => {
    const also = document.getElementById("also");
    const others = JSON.parse(e.data).here.filter((name) => name !== main().dataset.person);
    if (also) also.textContent = others.length ? `also here: ${others.join(", ")}` : "";
  });
  stream.addEventListener("claim", (e) => {
    const d = JSON.parse(e.data);
    if (main() && main().dataset.person === d.from) tell(d.says);
    refresh();
  });
  stream.addEventListener("aim", () => {
    if (document.querySelector(".wrench")) location.reload();
  });
  stream.onopen = back;
};
