// A demo shop of its own for each test, on a free port, and the hands to use it.
import { spawn } from "node:child_process";
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join, resolve } from "node:path";
import AxeBuilder from "@axe-core/playwright";
import { test as base, expect } from "@playwright/test";

export const binary = resolve(import.meta.dirname, "..", "bin", "lugtak");
export const aro = ["Technician Aro", "2401"],
  bel = ["Technician Bel", "3712"],
  cass = ["Foreman Cass", "5820"];
export const half = "demo-half-done",
  waiting = "demo-waiting";

export async function serve(args) {
  const child = spawn(binary, args, { stdio: ["ignore", "pipe", "inherit"] });
  const url = await new Promise((ok, fail) => {
    let text = "";
    child.stdout.on("data", (d) => {
      text += d;
      const m = text.match(/http:\/\/[\d.]+:\d+/);
      if (m) ok(m[0]);
    });
    child.on("exit", (code) => fail(new Error(`the server ended with ${code}: ${text}`)));
  });
  const gone = new Promise((ok) => child.on("exit", ok));
  return {
    url,
    stop: () => {
      child.kill("SIGTERM");
      return gone;
    },
    kill: () => {
      child.kill("SIGKILL");
      return gone;
    },
  };
}

export const test = base.extend({
  context: async ({ context }, use) => {
    await context.addInitScript(noteSwaps);
    await use(context);
  },
  shop: async ({}, use) => {
    const dir = mkdtempSync(join(tmpdir(), "lugtak-e2e-"));
    const db = join(dir, "shop.db");
    const s = await serve(["demo", "--addr", "127.0.0.1:0", "--db", db]);
    await use({ ...s, db, dir });
    await s.stop();
    rmSync(dir, { recursive: true, force: true });
  },
});
export { expect };

export async function signIn(page, shop, [name, pin]) {
  await page.goto(shop.url + "/signin");
  await page.getByLabel("Name").fill(name);
  await page.getByLabel("PIN").fill(pin);
  await page.getByRole("button", { name: "Sign in" }).click();
  await expect(page.getByRole("heading", { name: "Bays" })).toBeVisible();
}

// toRoom goes to another page of the job, which on a phone stands in its menu.
export async function toRoom(page, name) {
  const menu = page.locator(".jobmenu summary");
  if (await menu.isVisible()) await menu.click();
  await page.getByRole("link", { name, exact: true }).filter({ visible: true }).first().click();
}

// axe finds nothing serious, and nothing hangs over the edge.
export async function sound(page) {
  const { violations } = await new AxeBuilder({ page }).analyze();
  const bad = violations.filter((v) => ["serious", "critical"].includes(v.impact));
  expect(bad.map((v) => `${v.id}: ${v.nodes.map((n) => n.target.join(" ")).join("; ")}`)).toEqual([]);
  const over = await page.evaluate(
    () => document.documentElement.scrollWidth - document.documentElement.clientWidth,
  );
  expect(over, "the page is wider than its window").toBeLessThanOrEqual(1);
}

export const what = (page) => page.locator("h2.what");

// The shop takes a second tap within 700 ms of the record before for a nervous finger, and that
// record was made before its page came up.
export const guard = 720;

// noteSwaps keeps, in each page, when what stands there came up.
const noteSwaps = () => {
  window.cameUp = 0;
  const now = () => {
    window.cameUp = performance.now();
  };
  document.addEventListener("htmx:after:swap", now);
  document.addEventListener("DOMContentLoaded", now);
  new MutationObserver((all) => {
    if (all.some((m) => [...m.addedNodes].some((n) => n.id === "page"))) now();
  }).observe(document, { childList: true, subtree: true });
};

const cameUp = (page) => page.evaluate(() => [window.cameUp ?? -1, performance.timeOrigin].join());

// stand lets a step stand until the shop takes a tap on it, as a person does; it gives which
// page stood there.
export async function stand(page) {
  const stands = await cameUp(page);
  const stood = await page.evaluate(() => performance.now() - (window.cameUp ?? performance.now()));
  await page.waitForTimeout(Math.max(0, guard - stood));
  return stands;
}

export const seqOf = (page) => page.locator("main.bench").getAttribute("data-seq");

// press lets the step stand for a moment, as a person does, and presses space.
export async function press(page) {
  await stand(page);
  await space(page);
}

async function space(page) {
  await page.evaluate(() => document.activeElement.blur());
  await page.keyboard.press(" ");
}

// keep presses space and waits until the record has gone on.
export async function keep(page) {
  const seq = await seqOf(page),
    title = await what(page).textContent();
  const next = page.locator(`main.bench:not([data-seq="${seq}"])`);
  await taps(page, () => space(page), next, `after “${title}”`);
}

// tap taps a key, and waits for what should come of it.
export const tap = (page, key, came) => taps(page, () => key.click(), came.first(), "after a tap");

// taps does what a hand does: a page that was redrawn between the look and the tap takes none, and
// is tapped again. One that stood and did nothing is a fault.
async function taps(page, touch, came, says) {
  for (let left = 2; ; left--) {
    const stood = await stand(page);
    await touch();
    const seen = expect(came, says).toBeVisible();
    const fault = await seen.then(
      () => null,
      (e) => e,
    );
    if (!fault) return;
    if (!left || (await cameUp(page)) === stood) throw fault;
  }
}

// byClick chooses a wrench that clicks, or marks, where one that traces stands first;
// it is false where only one that traces will do.
export async function byClick(page) {
  const option = page.locator("#tool option:not([disabled])", { hasText: /· (click|marks)/ }).first();
  if (!(await option.count())) return false;
  const tool = page.locator("#tool");
  const chosen = await option.getAttribute("value");
  if ((await tool.inputValue()) === chosen) return true;
  const came = page.waitForEvent("load"); // a key of the page before takes the other wrench
  await tool.selectOption(chosen);
  await came;
  await expect(page.locator(".key.go")).not.toContainText("Take ");
  return true;
}

// swing pulls the stand-in of the wrench that was taken on this page: to what it asks
// for, where nothing else is said.
export async function swing(page, { amount, plays = "sound" } = {}) {
  const at = await page.getByRole("link", { name: "stand-in wrench" }).getAttribute("href");
  const wrench = await page.context().newPage();
  await wrench.goto(new URL(at, page.url()).href);
  const asked = (await wrench.locator("#aim").innerText()).match(/([\d.]+) ?(N·m|°)/);
  await wrench.getByLabel(/Pull to|Turn on by/).fill(amount ?? asked[1]);
  await wrench.getByLabel("What the bolt does").selectOption(plays);
  await wrench.getByLabel("Pace").selectOption("20");
  // What the last pull came to still stands there: the page is left once this one was sent.
  const sent = wrench.waitForResponse((r) => r.request().method() === "POST");
  await wrench.getByRole("button", { name: "Pull" }).click();
  await sent;
  await expect(wrench.locator("#outcome")).not.toBeEmpty();
  await wrench.close();
}

// measure writes down what the step asks to be measured, of a part that is sound.
export async function measure(page) {
  const form = page.locator(".measureat details.only form").first();
  if (!(await form.count())) return;
  const figures = { readings: "26.41 26.40 26.41", new: "28", discard: "25", value: "0.02", wheel: "400" };
  for (const [name, figure] of Object.entries(figures)) {
    const field = form.locator(`input[name="${name}"]`);
    if (await field.count()) await field.fill(figure);
  }
  await page.locator(".key.go", { hasText: "Judge what is measured" }).click();
  await expect(page.locator(".measureat .verdict-word").first()).toHaveText("inside");
}

// layBeside measures what decides on the old part and the new one, alike, and takes it.
export async function layBeside(page) {
  const rows = page.locator("tr.decides");
  await tap(page, page.locator(".key.go"), rows);
  for (let n = 0; n < (await rows.count()); n++) {
    for (const field of await rows.nth(n).locator("input").all()) await field.fill(String(12 + 7 * n));
  }
  await page.getByRole("button", { name: "Accept the part" }).click();
  await expect(page.locator("main.bench")).toBeVisible();
}

// act does what the step asks for once: it answers, counts, confirms what is new, and
// pulls with a wrench that clicks where there is one.
export async function act(page) {
  const seq = await seqOf(page);
  const ask = page.locator("button.variant").first();
  if (await ask.count()) {
    await tap(page, ask, page.locator(`main.bench:not([data-seq="${seq}"])`));
    return;
  }
  await measure(page);
  const key = page.locator(".key.go");
  if (/^Measure new beside old/.test(await key.innerText())) {
    await layBeside(page);
    return;
  }
  if (/^Take /.test(await key.innerText()) && !(await byClick(page))) {
    await tap(page, key, page.locator(".key.go", { hasText: "Pull" }));
    await swing(page);
    await expect(page.locator(`main.bench:not([data-seq="${seq}"])`)).toBeVisible();
    return;
  }
  const fresh = page.locator(".checkbox.new input");
  if (await fresh.count()) await fresh.check();
  if (await page.locator(".castle").count()) await turnStud(page, 20);
  await drive(page);
  await bottle(page);
  const strokes = page.locator("input[name=strokes]");
  if (await strokes.count()) await strokes.fill("6");
  const temp = page.locator("input[name=temp]");
  if (await temp.count()) await temp.fill("42");
  const pick = page.locator(".withchoice input[type=radio]").first();
  if (await pick.count()) await pick.check();
  const turns = page.locator("input[name=turns]");
  if (await turns.count()) await turns.fill("17.5");
  await keep(page);
}

// drive says that every manoeuvre of a road test was as it should be.
async function drive(page) {
  const rows = page.locator(".trial .felt");
  for (let i = 0; i < (await rows.count()); i++)
    await rows.nth(i).getByRole("radio", { name: "Sound" }).check({ force: true });
  const since = page.getByLabel("what was done about it");
  for (let i = 0; i < (await since.count()); i++) await since.nth(i).fill("tyre changed round");
}

// bottle writes down what came out and went in, where that is asked.
async function bottle(page) {
  if (!(await page.locator("#fluidform").count())) return;
  await page.getByLabel("came out").fill("120");
  await page.getByLabel("went in").fill("140");
  await page.getByLabel("what stands on the can").fill("as the maker asks");
  await page.getByRole("radio", { name: "amber" }).check();
}

// turnStud turns the stud of the drawn castle nut by finger, and sees the choice follow.
async function turnStud(page, deg) {
  const nut = await page.locator(".castle svg").boundingBox();
  const [x, y, r] = [nut.x + nut.width / 2, nut.y + nut.height / 2, nut.width / 3];
  const end = (deg * Math.PI) / 180;
  await page.mouse.move(x, y - r);
  await page.mouse.down();
  await page.mouse.move(x + r * Math.sin(end / 2), y - r * Math.cos(end / 2));
  await page.mouse.move(x + r * Math.sin(end), y - r * Math.cos(end));
  await page.mouse.up();
  await expect(page.locator("input[name=hole]:checked")).toHaveValue(String(deg));
}

// work goes on with the keys until the step's title matches, and lets that step stand: a
// key just shown takes no tap.
export async function work(page, until) {
  for (let n = 0; n < 220; n++) {
    if (until.test(await what(page).textContent())) {
      await stand(page);
      return;
    }
    await act(page);
  }
  throw new Error("the job does not end");
}
