// What is kept without network: sent in its order, each once, and let go only when the shop itself has answered.
import assert from "node:assert/strict";
import { readFileSync } from "node:fs";
import { beforeEach, test } from "node:test";
import { runInThisContext } from "node:vm";
import { IDBFactory } from "fake-indexeddb";
import { DOMParser } from "linkedom";

const script = readFileSync(new URL("../../pages/kit/static/outbox.js", import.meta.url), "utf8");
let box, sent, answers;

// The shop's answers carry its mark; what stands between has none.
const shop = (status, body = "", mark = "1") =>
  new Response(body, { status, headers: mark ? { "X-Lugtak": mark, "Content-Type": "text/html" } : {} });
const aro = () =>
  new Response(JSON.stringify({ token: "t-aro", person: "Aro" }), {
    headers: { "X-Lugtak": "1", "Content-Type": "application/json" },
  });
const refused = '<div class="fault" data-code="order">That step\n waits.</div>';

beforeEach(() => {
  globalThis.window = globalThis;
  Object.defineProperty(globalThis, "navigator", { value: {}, configurable: true, writable: true });
  globalThis.indexedDB = new IDBFactory();
  globalThis.DOMParser = DOMParser;
  globalThis.location = new URL("http://shop/jobs/j/bench");
  globalThis.FormData = class {
    constructor(form) {
      this.list = form.fields;
    }
    entries() {
      return this.list;
    }
    get(name) {
      return this.list.find(([n]) => n === name)?.[1];
    }
  };
  sent = [];
  answers = [];
  globalThis.fetch = async (url, init = {}) => {
    if (url === "/token") return answers.who ? answers.who() : aro();
    sent.push({ url, ...init, body: Object.fromEntries(init.body ?? []) });
    const next = answers.shift();
    if (!next) throw new TypeError("nobody answers");
    return next;
  };
  runInThisContext(script);
  box = globalThis.outbox;
});

const keep = (id, person = "Aro", step = id) =>
  box.add(
    {
      action: `http://shop/jobs/j/step`,
      fields: [
        ["_csrf", "old"],
        ["id", id],
        ["step", step],
      ],
    },
    null,
    person,
    `Step ${step}`,
  );
const ids = async () => (await box.all()).map((e) => e.id);

test("one record is kept once, under its time, without the token of the page", async () => {
  await keep("a");
  await keep("a");
  await keep("b");
  assert.deepEqual(await ids(), ["a", "b"]);
  const [a] = await box.all();
  assert.deepEqual(a.fields, [
    ["id", "a"],
    ["step", "a"],
  ]);
  assert.equal(a.job, "j");
  assert.equal(a.person, "Aro");
  assert.ok(Date.now() - Date.parse(a.at) < 5000);
});

test("what is kept is sent in its order, with its time and the session's own token, and goes", async () => {
  await keep("a");
  await keep("b");
  const at = (await box.all()).map((e) => e.at);
  answers.push(shop(200), shop(200));
  const out = await box.flush();
  assert.deepEqual([out.sent, out.refused, out.others, out.signIn], [2, 0, "", false]);
  assert.deepEqual(
    sent.map((s) => s.body.id),
    ["a", "b"],
  );
  assert.deepEqual(
    sent.map((s) => s.body.kept_at),
    at,
  );
  assert.equal(sent[0].headers["X-Csrf-Token"], "t-aro");
  assert.deepEqual(await ids(), []);
});

test("no answer of the shop is no answer: all stays, in its order", async () => {
  for (const [name, answer] of [
    ["a portal says yes", () => shop(200, "welcome", "")],
    ["a proxy says it is away", () => shop(502, "bad gateway", "")],
    ["the shop itself stumbles", () => shop(500)],
    ["the session has ended", () => shop(401)],
    ["nobody answers", () => null],
  ]) {
    await keep("a");
    await keep("b");
    const answered = answer();
    if (answered) answers.push(answered);
    await box.flush().catch(() => null);
    assert.deepEqual(await ids(), ["a", "b"], name);
    assert.equal(sent.length, 1, `${name}: the second was sent before the first was taken`);
    for (const e of await box.all()) await box.drop(e.n);
    sent.length = 0;
    answers.length = 0;
  }
});

test("what the shop refuses stays with its words, and the next is sent", async () => {
  await keep("a");
  await keep("b");
  answers.push(shop(422, refused), shop(200));
  const out = await box.flush();
  assert.deepEqual([out.sent, out.refused], [2, 1]);
  const [a] = await box.all();
  assert.deepEqual([a.id, a.refused, a.code], ["a", "That step waits.", "order"]);
  await box.flush();
  assert.equal(sent.length, 2, "a refused record was sent by itself");
  answers.push(shop(200));
  await box.again(a, true);
  await box.flush();
  assert.equal(sent[2].body.id, "a");
  assert.equal(sent[2].body.kept_at, undefined, "as of now, and yet under its old time");
  assert.deepEqual(await ids(), []);
});

test("a refusal without words is one all the same", async () => {
  await keep("a");
  answers.push(shop(409, "<p>conflict</p>"));
  await box.flush();
  assert.match((await box.all())[0].refused, /no longer fits/);
});

test("records of another person wait for that person", async () => {
  await keep("a", "Bel");
  await keep("b");
  answers.push(shop(200));
  const out = await box.flush();
  assert.deepEqual([out.sent, out.others], [1, "Bel"]);
  assert.deepEqual(await ids(), ["a"]);
});

test("nobody signed in sends nothing; an answer that is not the shop's is no person", async () => {
  await keep("a");
  answers.who = () => shop(200, "<p>sign in</p>");
  assert.equal((await box.flush()).signIn, true);
  answers.who = () => shop(200, '{"person":"Aro"}', "");
  await assert.rejects(box.flush(), /away/);
  assert.equal(sent.length, 0);
  assert.deepEqual(await ids(), ["a"]);
});

test("two that send at once send each record once, with the browser's locks and without", async () => {
  const held = new Set();
  const locks = {
    async request(name, _, act) {
      if (held.has(name)) return act(null);
      held.add(name);
      try {
        return await act({});
      } finally {
        held.delete(name);
      }
    },
  };
  for (const has of [{}, { locks }]) {
    globalThis.navigator = has;
    sent.length = 0;
    await keep("a");
    answers.push(shop(200), shop(200));
    await Promise.all([box.flush(), box.flush()]);
    assert.equal(sent.length, 1);
    answers.length = 0;
  }
});

test("a browser that keeps nothing says so where something is to be kept, and has an empty box", async () => {
  globalThis.indexedDB = {
    open: () => {
      const r = {};
      setTimeout(() => {
        r.error = new Error("private");
        r.onerror();
      });
      return r;
    },
  };
  runInThisContext(script);
  assert.deepEqual(await globalThis.outbox.all(), []);
  box = globalThis.outbox;
  await assert.rejects(keep("a"), /private/);
});
