// Records made while the shop does not answer: kept, shown, sent on return.
import { clock } from "./clocks.js";
import { leads, says } from "./kept.js";
import { main, refresh } from "./live.js";
import { onLook, tell } from "./strip.js";

let shows = () => {};

// onPage says what is done when a page drawn ahead has come up.
export const onPage = (done) => {
  shows = done;
};

const jobOf = () => location.pathname.split("/")[2];

// standing says what waits here, and what was not taken.
export const standing = async () => {
  const line = says(await outbox.all());
  tell(line, line !== "");
};

// showKept lists what is kept here beside what the server knows, to be settled.
const showKept = async () => {
  const d = document.getElementById("kept"),
    list = d.querySelector("ol");
  list.replaceChildren();
  for (const e of await outbox.all()) {
    const row = document.createElement("li"),
      title = document.createElement("b");
    title.textContent = `${e.title}, ${e.person}, ${clock(new Date(e.at))}`;
    row.append(title);
    if (e.refused) {
      const says = document.createElement("p"),
        keys = document.createElement("p");
      says.textContent = `The shop says: ${e.refused}`;
      const send = (now) => async () => {
        await outbox.again(e, now);
        flush();
      };
      if (e.code === "bad_time") keys.append(settle("Record it as of now", send(true)), " ");
      else keys.append(settle("Send it again", send(false)), " ");
      keys.append(settle("Let it go", () => outbox.drop(e.n)));
      row.append(says, keys);
    }
    list.append(row);
  }
  if (!d.open) d.showModal();
};

const settle = (label, act) => {
  const b = document.createElement("button");
  b.className = "btn small";
  b.textContent = label;
  b.addEventListener("click", async () => {
    await act();
    await standing();
    await showKept();
  });
  return b;
};

// goOn shows the bench as it stands after what was kept here, as far as what was kept is what was
// expected. What another act leads to is for the shop to say: the page stays, and says so.
export const goOn = async () => {
  const m = main();
  if (!m || !jobOf()) return;
  const ahead = await outbox.known(jobOf());
  const mine = (await outbox.all()).filter((e) => e.job === jobOf() && !e.refused);
  if (!mine.length) return;
  const known = ahead && ahead.person === m.dataset.person ? ahead.pages : [];
  const { through, beyond } = leads(mine, known);
  if (through) {
    document.getElementById("page").outerHTML = known[through - 1].html;
    htmx.process(document.getElementById("page"));
    shows();
    await standing();
  }
  if (!beyond) return;
  for (const b of document.querySelectorAll(".keys button:not(.trouble)")) b.disabled = true;
  tell(
    `“${beyond.title}” is kept here and not recorded yet. What comes next is known when the shop answers.`,
    true,
  );
};

const formOf = (ctx) => {
  const form = ctx && ctx.sourceElement;
  return form && form.matches && form.matches("form") ? form : null;
};

// sends says that a request was to record something.
const sends = (ctx) => {
  const form = formOf(ctx);
  return Boolean(form) && form.method === "post";
};

// keep keeps what a form was to record; it is false where the form waits for the shop.
const keep = async (ctx) => {
  const form = formOf(ctx);
  if (!form || !form.matches("[data-queue]")) return false;
  const what = document.querySelector("h2.what, h3.what");
  const submitter = (ctx.request && ctx.request.submitter) || document.activeElement;
  const by = submitter && submitter.form === form ? submitter : null;
  const title = what ? what.textContent : document.title.replace(/ · Lugtak$/, "");
  const { person = "" } = (document.querySelector("main[data-person]") ?? document.body).dataset;
  await outbox.add(form, by, person, title);
  return true;
};

// When the shop answered last, and whether it is said that it does not.
let heard = new Date(),
  unheard = false;

// asOf says that the page shows what it knew then.
const asOf = (why) => {
  unheard = true;
  tell(`${why}: this page shows what it knew at ${clock(heard)}.`);
};

// away is a request that the shop has not answered.
const away = async (ctx) => {
  try {
    if (!(await keep(ctx))) {
      if (sends(ctx)) tell("No network: this needs the shop. Nothing was recorded.");
      else asOf("No network");
      return;
    }
  } catch {
    tell("No network, and this browser keeps nothing. Write down what was done; record it on return.");
    return;
  }
  await standing();
  if (main()) await goOn();
  else location.assign(`/jobs/${jobOf()}/bench`); // a card that is not the bench has had its answer
};

document.addEventListener("htmx:error", (e) => {
  if (e.detail && e.detail.ctx) away(e.detail.ctx);
});

// An answer without the shop's mark is none; one to somebody whose session has ended loses nothing.
document.addEventListener("htmx:before:response", (e) => {
  const ctx = e.detail.ctx;
  const shop = outbox.own(ctx.response.headers);
  if (shop && ctx.response.status !== 401) {
    heard = new Date();
    if (unheard) standing();
    unheard = false;
    return;
  }
  e.preventDefault();
  if (!shop) away(ctx);
  else signedOut(ctx);
});

const signedOut = async (ctx) => {
  if (!sends(ctx) && !main()) {
    asOf("Sign in again");
    return;
  }
  await keep(ctx).catch(() => false);
  tell(signAgain, true);
  askWho();
};

const signAgain = "Sign in again: what was recorded is kept here and sent then.";

// askWho has the person sign in again where they stand; what they pressed is sent then.
const askWho = () => {
  const d = document.getElementById("again");
  if (!main() || d.open) return;
  d.querySelector("[name=name]").value = main().dataset.person;
  d.querySelector(".fault").hidden = true;
  d.showModal();
};

document.addEventListener("submit", async (e) => {
  if (!e.target.matches("#again form")) return;
  e.preventDefault();
  const form = e.target,
    fault = form.querySelector(".fault");
  fault.hidden = true;
  try {
    const sent = new URLSearchParams(new FormData(form));
    const answer = await fetch("/signin", { method: "POST", body: sent, redirect: "manual" });
    if (answer.type !== "opaqueredirect") throw await faultOf(answer);
    const who = await outbox.identity();
    form.querySelector("[name=pin]").value = "";
    takeToken(who.token);
  } catch (why) {
    fault.textContent = typeof why === "string" ? why : "No network: sign in when it is back.";
    fault.hidden = false;
    return;
  }
  document.getElementById("again").close();
  await flush();
  refresh();
});

const faultOf = async (answer) => {
  if (!outbox.own(answer.headers)) return null;
  const page = new DOMParser().parseFromString(await answer.text(), "text/html");
  const says = page.querySelector(".fault");
  return says ? says.textContent.trim().replace(/\s+/g, " ") : "Name and PIN do not belong together.";
};

// takeToken puts the new session's token where the page sends it from.
const takeToken = (token) => {
  document.body.setAttribute("hx-headers:inherited", JSON.stringify({ "X-Csrf-Token": token }));
  for (const field of document.querySelectorAll("input[name=_csrf]")) field.value = token;
};

export const flush = async () => {
  const out = await outbox.flush().catch(() => null); // still away: the next round tries again
  if (!out) return;
  if (out.sent) refresh();
  if (out.signIn) {
    tell(signAgain, true);
    askWho();
  } else if (out.others) tell(`Records of ${out.others} are kept here until ${out.others} signs in.`, true);
  else await standing();
};

// night says which of the two themes shows.
const night = () => {
  const { theme } = document.documentElement.dataset;
  return theme ? theme === "dark" : matchMedia("(prefers-color-scheme: dark)").matches;
};

// learn has the next acts drawn ahead, once the page stands still.
let learning = 0,
  learnt = "";

export const learn = () => {
  const m = document.querySelector("main.bench");
  const job = jobOf();
  if (!m || !job || learnt === `${job}/${m.dataset.seq}`) return;
  clearTimeout(learning);
  learning = setTimeout(async () => {
    if ((await outbox.all()).length) return;
    const pictures = await outbox.learn(job).catch(() => null);
    if (!pictures) return;
    learnt = `${job}/${m.dataset.seq}`;
    // Whoever answers for pages without network keeps what was fetched once.
    const theme = night() ? "-night.png" : "-day.png";
    for (const p of new Set(pictures)) if (p.endsWith(theme)) await fetch(p).catch(() => {});
  }, 700);
};
window.addEventListener("online", flush);
setInterval(async () => {
  if ((await outbox.all()).some((e) => !e.refused)) flush();
}, 4000);
if (navigator.serviceWorker) navigator.serviceWorker.register("/sw.js").catch(() => {});
onLook(showKept);
