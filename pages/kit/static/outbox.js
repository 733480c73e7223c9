// Records made without network: kept in this browser, sent in their order, each once, under
// the name of whoever made them. One leaves the box when the shop itself has answered for it.
window.outbox = (() => {
  const database = new Promise((done, fail) => {
    const asked = indexedDB.open("lugtak", 1);
    asked.onupgradeneeded = () => {
      asked.result.createObjectStore("outbox", { keyPath: "n", autoIncrement: true });
      asked.result.createObjectStore("ahead", { keyPath: "job" });
    };
    asked.onsuccess = () => done(asked.result);
    asked.onerror = () => fail(asked.error);
  });

  database.catch(() => {}); // told where something is to be kept

  const run = async (store, mode, act) => {
    const db = await database;
    return new Promise((done, fail) => {
      const tx = db.transaction(store, mode);
      const asked = act(tx.objectStore(store));
      tx.oncomplete = () => done(asked && asked.result);
      tx.onabort = () => fail(tx.error); // a full disk aborts without an error of its own
    });
  };

  // A browser that keeps nothing, as in a private window, has an empty box.
  const all = () => run("outbox", "readonly", (s) => s.getAll()).catch(() => []);
  const put = (entry) => run("outbox", "readwrite", (s) => s.put(entry));
  const drop = (n) => run("outbox", "readwrite", (s) => s.delete(n));

  // own says that an answer is the shop's: what stands between, a proxy or a portal, has not its
  // mark, and has taken nothing.
  const own = (headers) => headers.get("X-Lugtak") !== null;

  // add keeps a form as it was sent, with who and when; the same record is kept once.
  const add = async (form, submitter, person, title) => {
    const data = new FormData(form, submitter || undefined);
    const fields = [...data.entries()].filter(([name]) => name !== "_csrf");
    const id = data.get("id");
    if ((await all()).some((e) => e.id === id)) return;
    const job = location.pathname.split("/")[2] || "";
    await put({ id, job, person, title, fields, url: form.action, at: new Date().toISOString() });
  };

  const body = (entry) => {
    const files = entry.fields.some(([, v]) => v instanceof Blob);
    const out = files ? new FormData() : new URLSearchParams();
    for (const [name, value] of entry.fields) out.append(name, value);
    if (!entry.now) out.append("kept_at", entry.at);
    return out;
  };

  // identity is who is signed in, with the session's token; nothing where nobody is. Where the
  // shop did not answer itself it fails.
  const identity = async () => {
    const answer = await fetch("/token");
    if (!own(answer.headers)) throw new Error("away");
    const json = (answer.headers.get("Content-Type") || "").includes("json");
    return json && answer.ok ? answer.json() : null;
  };

  const refusal = async (answer) => {
    const page = new DOMParser().parseFromString(await answer.text(), "text/html");
    const says = page.querySelector(".fault, .refused");
    if (!says) return { refused: "The record no longer fits." };
    return { refused: says.textContent.trim().replace(/\s+/g, " "), code: says.dataset.code };
  };

  // deliver sends one record; it says whether to go on with the next.
  const deliver = async (entry, token) => {
    const headers = { "X-Csrf-Token": token, "HX-Request": "true" };
    const answer = await fetch(entry.url, { method: "POST", headers, body: body(entry) });
    if (!own(answer.headers) || answer.status === 401 || answer.status >= 500) return false;
    if (answer.ok) await drop(entry.n);
    else await put({ ...entry, ...(await refusal(answer)) });
    return true;
  };

  // send sends what waits, and says what came of it.
  const send = async () => {
    const out = { sent: 0, refused: 0, others: "", signIn: false };
    const waiting = (await all()).filter((e) => !e.refused);
    if (!waiting.length) return out;
    const who = await identity();
    if (!who) return { ...out, signIn: true };
    for (const entry of waiting) {
      if (entry.person !== who.person) {
        out.others = entry.person;
        continue;
      }
      if (!(await deliver(entry, who.token))) break;
      out.sent++;
    }
    out.refused = (await all()).filter((e) => e.refused).length;
    return out;
  };

  // flush sends from one tab at a time.
  let flushing = false;
  const flush = async () => {
    if (navigator.locks) {
      return navigator.locks.request("lugtak-outbox", { ifAvailable: true }, (lock) =>
        lock ? send() : null,
      );
    }
    if (flushing) return null;
    flushing = true;
    try {
      return await send();
    } finally {
      flushing = false;
    }
  };

  // again lets a refused record be sent once more, under the time it was made, or as of now.
  const again = (entry, now = false) => put({ ...entry, refused: "", now });

  // learn keeps the bench as it will stand after each of the next acts, and gives the pictures on it.
  const learn = async (job) => {
    const answer = await fetch(`/jobs/${job}/ahead`);
    if (!answer.ok || !own(answer.headers)) return [];
    const ahead = await answer.json();
    await run("ahead", "readwrite", (s) => s.put({ job, ...ahead }));
    return ahead.pages.flatMap((p) => [...p.html.matchAll(/src="(\/pictures\/[^"]+)"/g)].map((m) => m[1]));
  };
  const known = (job) => run("ahead", "readonly", (s) => s.get(job));

  return { add, all, again, drop, flush, identity, learn, known, own };
})();
