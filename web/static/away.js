// Records made while the network is away: kept, shown, sent on return.
import { says } from "./kept.js";
import { main, refresh } from "./live.js";
import { onLook, tell } from "./strip.js";

let shows = () => {};

// onPage says what is done when a page drawn ahead has come up.
export const onPage = (done) => {
  shows = done;
};

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
    const at = new Date(e.at).toLocaleTimeString([], { hour: "2-digit", minute: "2-digit" });
    title.textContent = `${e.title}, ${e.person}, ${at}`;
    row.append(title);
    if (e.refused) {
      const says = document.createElement("p"),
        keys = document.createElement("p");
      says.textContent = `The shop says: ${e.refused}`;
      keys.append(
        settle("Send it again", async () => {
          await outbox.again(e);
          flush();
        }),
        " ",
        settle("Let it go", () => outbox.drop(e.n)),
      );
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

// goOn shows the bench as it stands after what was kept here, as far as it was drawn ahead.
export const goOn = async (skip) => {
  const m = main(),
    job = location.pathname.split("/")[2];
  if (!m || !job) return;
  const ahead = await outbox.known(job);
  const mine = (await outbox.all()).filter((e) => e.job === job && !e.refused);
  if (!ahead || ahead.person !== m.dataset.person || !mine.length) return;
  const page = ahead.pages[mine.length - 1 + (skip || 0)];
  if (!page) {
    tell("No network, and what comes next was not drawn ahead. What was recorded is kept here.", true);
    return;
  }
  const into = document.getElementById("page");
  into.outerHTML = page;
  htmx.process(document.getElementById("page"));
  shows();
};

document.addEventListener("htmx:error", async (e) => {
  const ctx = e.detail && e.detail.ctx,
    form = ctx && ctx.sourceElement;
  if (!form || !form.matches("form[data-queue]")) {
    tell("No network: this page shows what it last knew.");
    return;
  }
  const what = document.querySelector("h2.what, h3.what");
  const submitter = (ctx.request && ctx.request.submitter) || document.activeElement;
  const by = submitter && submitter.form === form ? submitter : null;
  const title = what ? what.textContent : document.title;
  try {
    await outbox.add(form, by, main() ? main().dataset.person : "", title);
  } catch {
    tell("No network, and this browser keeps nothing. Write down what was done; record it on return.");
    return;
  }
  for (const b of document.querySelectorAll(".keys button")) b.disabled = true;
  await standing();
  await goOn(form.action.endsWith("/later") ? 1 : 0);
});

export const flush = async () => {
  const out = await outbox.flush().catch(() => null); // still away: the next round tries again
  if (!out) return;
  if (out.sent) refresh();
  if (out.signIn) tell("Sign in again: what was recorded is kept here and sent then.", true);
  else if (out.others) tell(`Records of ${out.others} are kept here until ${out.others} signs in.`, true);
  else await standing();
};

// learn has the next acts drawn ahead, once the page stands still.
let learning = 0,
  learnt = "";

export const learn = () => {
  const m = document.querySelector("main.bench");
  const job = location.pathname.split("/")[2];
  if (!m || !job || learnt === `${job}/${m.dataset.seq}`) return;
  clearTimeout(learning);
  learning = setTimeout(async () => {
    if ((await outbox.all()).length) return;
    await outbox
      .learn(job)
      .then(() => {
        learnt = `${job}/${m.dataset.seq}`;
      })
      .catch(() => {});
  }, 700);
};
window.addEventListener("online", flush);
setInterval(async () => {
  if ((await outbox.all()).some((e) => !e.refused)) flush();
}, 4000);
if (navigator.serviceWorker) navigator.serviceWorker.register("/sw.js").catch(() => {});
onLook(showKept);
