// Checks the file it lies in: the ties of the record, the shop's signature, and the words of the page.
const hex = (bytes) => [...new Uint8Array(bytes)].map((b) => b.toString(16).padStart(2, "0")).join("");
const bytes = (base64) => Uint8Array.from(atob(base64), (c) => c.charCodeAt(0));
const sha256 = async (text) => hex(await crypto.subtle.digest("SHA-256", new TextEncoder().encode(text)));

// A tie is over the JSON array of a line's fields, behind the tie before it, with < > & and the line separators
// escaped.
const escaped = (c) => "\\u" + c.charCodeAt(0).toString(16).padStart(4, "0");
const written = (fields) => JSON.stringify(fields).replace(/[<>&\u2028\u2029]/g, escaped);

// chained follows the ties; it gives the last one, or the line that does not fit.
const chained = async (text, file) => {
  const bodies = text
    .split("\n")
    .filter((line) => line.includes('"body":'))
    .map((line) => line.slice(line.indexOf('"body":') + 7, line.lastIndexOf(',"hash":')));
  let last = "";
  for (const [i, e] of file.events.entries()) {
    const fields = [last, e.id, e.job, e.seq, e.at, e.by, e.kind, bodies[i]];
    if (e.v) fields.push(e.v, e.ask ?? "");
    if (e.sent) fields.push(e.sent);
    const tie = await sha256(written(fields));
    if (tie !== e.hash || e.seq !== i + 1 || e.job !== file.job) return { broken: e, no: i + 1, tie };
    last = tie;
  }
  return { last };
};

// said is all that a part of the page says: its text, and its attributes.
const said = (node) => {
  if (node.nodeType === Node.TEXT_NODE) return node.data;
  const own = [...(node.attributes ?? [])].map((a) => [a.name, a.value]);
  own.sort(([a], [b]) => (a < b ? -1 : 1)); // their order is nobody's to keep
  return [...own.map(([name, value]) => `\n${name}=${value}\n`), ...[...node.childNodes].map(said)].join("");
};

// whole is all that was signed of the page, before anything is written into it.
const whole = [...document.querySelectorAll("head > title, #look, #said, #proof")].map(said).join("");

// strange says that something stands on the page besides what the shop writes: an addition of the browser's own, or
// words that only seem to be the shop's.
const strange = () => {
  const parts = (of) => [...of.children].map((el) => el.id || el.localName).join(" ");
  const loose = [...document.body.childNodes].some((n) => n.nodeType === Node.TEXT_NODE && n.data.trim());
  return (
    loose ||
    parts(document.head) !== "meta meta meta title look" ||
    parts(document.body) !== "seal said proof record signed script"
  );
};

const show = (state, head, says) => {
  const seal = document.getElementById("seal");
  seal.className = state;
  seal.querySelector("b").textContent = head;
  seal.querySelector("span").textContent = says;
};

const broken = (says) =>
  show(
    "broken",
    "This record is broken",
    `${says} Do not rely on what stands below: ask the shop for the record itself.`,
  );

// around shows the lines beside the one that does not fit.
const around = (file, found) => {
  const list = document.getElementById("lines");
  list.hidden = false;
  const add = (e, words, off) => {
    const li = document.createElement("li");
    li.textContent = `line ${e.seq}, ${e.by}, ${new Date(e.at).toLocaleString()}: ${words}`;
    li.classList.toggle("off", off);
    list.append(li);
  };
  const before = file.events[found.no - 2];
  if (before) add(before, "holds", false);
  add(
    found.broken,
    `was tied as ${String(found.broken.hash).slice(0, 8)}, reads ${found.tie.slice(0, 8)}`,
    true,
  );
  const left = file.events.length - found.no;
  if (left > 0) add(file.events.at(-1), `and ${left} lines hang on a broken tie`, true);
};

const check = async () => {
  const text = document.getElementById("record").textContent;
  const sealed = JSON.parse(document.getElementById("signed").textContent);
  let file;
  try {
    file = JSON.parse(text);
  } catch {
    return broken("The record in this file cannot be read any more.");
  }
  const found = await chained(text, file);
  if (found.broken) {
    around(file, found);
    const held = found.no > 1 ? ` Lines 1 to ${found.no - 1} hold.` : "";
    return broken(`Line ${found.no} was changed after it was signed.${held}`);
  }
  if (file.key !== sealed.key) return broken("Record and page were signed by two keys.");
  const raw = bytes(file.key);
  const key = await crypto.subtle.importKey("raw", raw, "Ed25519", false, ["verify"]);
  const signed = (signature, words) =>
    crypto.subtle.verify("Ed25519", key, bytes(signature), new TextEncoder().encode(words));
  const end = `${file.job}\n${file.events.length} ${found.last}\n`;
  if (!(await signed(file.signature, `lugtak job\n${end}`))) {
    return broken("How the record ends was not signed by this key.");
  }
  const words = await sha256(whole);
  if (!(await signed(sealed.signature, `lugtak report\n${end}${words}\n`))) {
    return broken("The record holds, but the words of this page are not those that were signed.");
  }
  if (strange()) {
    return show("unchecked", "Not checked", "Something stands on this page that the shop did not write.");
  }
  const print = new Uint8Array(await crypto.subtle.digest("SHA-256", raw)).slice(0, 5);
  document.querySelector("#words b").textContent = [...print].map((b) => sealed.words[b]).join(" ");
  const now = new Date().toLocaleTimeString([], { hour: "2-digit", minute: "2-digit", hourCycle: "h23" });
  show(
    "holds",
    "This record holds",
    `Checked here ${now}, nothing was sent. Compare the five words at the end.`,
  );
};

check().catch((e) => {
  show("unchecked", "Not checked", `This browser cannot check it (${e.name}). Ask the shop for the record.`);
});
