// A demo shop of its own for each test, on a free port, and the hands to use it.
import { spawn, spawnSync } from "node:child_process";
import { cpSync, mkdtempSync, rmSync } from "node:fs";
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
  worked: [{}, { option: true }],
  shop: async ({ worked }, use) => {
    const dir = mkdtempSync(join(tmpdir(), "lugtak-e2e-"));
    const on = Object.entries(worked).flatMap(([job, words]) => ["--worked", `${job}=${words}`]);
    if (!on.length) cpSync(process.env.LUGTAK_FILLED, dir, { recursive: true });
    const db = join(dir, "shop.db");
    const s = await serve(["demo", "--young", "--addr", "127.0.0.1:0", "--db", db, ...on]);
    await use({ ...s, db, dir });
    await s.stop();
    rmSync(dir, { recursive: true, force: true });
  },
});
export { expect };

export const dey = ["Foreman Dey", "482915"];

// own is a test in a real shop with its first foreman, and nothing else.
export const own = test.extend({
  shop: async ({}, use) => {
    const dir = mkdtempSync(join(tmpdir(), "lugtak-own-"));
    const db = join(dir, "shop.db");
    const pin = `${dey[1]}\n${dey[1]}\n`;
    const made = spawnSync(binary, ["init", "--db", db, "--name", dey[0]], { input: pin });
    expect(made.status, String(made.stderr)).toBe(0);
    const s = await serve(["serve", "--addr", "127.0.0.1:0", "--db", db]);
    await use({ ...s, db });
    await s.stop();
    rmSync(dir, { recursive: true, force: true });
  },
});

// after is a test in a shop whose jobs were worked on, each to the step that begins so.
export const after = (worked) => test.extend({ worked: async ({}, use) => use(worked) });

// signIn signs somebody in, and stands at the bays. The form is filled in with the whole job.
export async function signIn(page, shop, [name, pin]) {
  await page.request.post(shop.url + "/signin", { form: { name, pin } });
  await page.goto(shop.url + "/");
  await page.getByRole("heading", { name: "Bays" }).waitFor();
}

// toRoom goes to another page of the job, which on a phone stands in its menu.
export async function toRoom(page, name) {
  const menu = page.locator(".jobmenu summary");
  if (await menu.isVisible()) await menu.click();
  await page.getByRole("link", { name, exact: true }).filter({ visible: true }).first().click();
}

const screen = { width: 1280, height: 800 },
  phone = { width: 390, height: 844 };

// order ticks work at a place of the order, and opens its axle where that is shut.
export async function order(page, place, work) {
  const tick = page.locator(`input[name="task"][aria-label="${work}, ${place}"]`);
  const axle = page.locator("details.axle").filter({ has: tick });
  if ((await axle.getAttribute("open")) === null) await axle.locator("summary").click();
  await tick.check();
}

// axe finds nothing serious, and nothing hangs over the edge on a screen or a phone.
export async function sound(page) {
  // There are no frames, which is what axe's other mode opens a page more for each time; and what
  // passed is not described, which takes as long as finding what did not.
  const axe = new AxeBuilder({ page }).setLegacyMode(true).options({ resultTypes: ["violations"] });
  const { violations } = await axe.analyze();
  const bad = violations.filter((v) => ["serious", "critical"].includes(v.impact));
  expect(bad.map((v) => `${v.id}: ${v.nodes.map((n) => n.target.join(" ")).join("; ")}`)).toEqual([]);
  const was = page.viewportSize();
  for (const size of [was.width < 500 ? screen : phone, was]) {
    await page.setViewportSize(size);
    expect(await page.evaluate(over), `wider than its window of ${size.width} px`).toBeLessThanOrEqual(1);
  }
}

// over is by how many pixels a page is wider than its window.
export const over = () => document.documentElement.scrollWidth - document.documentElement.clientWidth;

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

// lookAt tells of the page that stands there: which it is, and for how long it has stood.
const lookAt = (page) =>
  page.evaluate(() => ({
    is: [window.cameUp ?? -1, performance.timeOrigin].join(),
    stood: performance.now() - (window.cameUp ?? performance.now()),
    seq: document.querySelector("main.bench")?.dataset.seq,
    title: document.querySelector("h2.what")?.textContent,
  }));

// stand lets a step stand until the shop takes a tap on it, as a person does; it gives what
// stood there.
export async function stand(page) {
  const stands = await lookAt(page);
  await page.waitForTimeout(Math.max(0, guard - stands.stood));
  return stands;
}

// tended waits until the service worker answers for the page.
export const tended = (page) =>
  page
    .waitForFunction(() => navigator.serviceWorker.controller, null, { timeout: 20_000 })
    .catch(() => page.reload());

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
export const keep = (page) => taps(page, () => space(page), goneOn);

const goneOn = (page, { seq }) => page.locator(`main.bench:not([data-seq="${seq}"])`);

// tap taps a key, and waits for what should come of it.
export const tap = (page, key, came) =>
  taps(
    page,
    () => key.click(),
    () => came.first(),
  );

// taps does what a hand does: a page that was redrawn between the look and the tap takes none, and
// is tapped again. One that stood and did nothing is a fault.
async function taps(page, touch, comes) {
  for (let left = 2; ; left--) {
    const stands = await stand(page);
    await touch();
    const came = comes(page, stands).waitFor({ timeout: 30_000 });
    const fault = await came.then(
      () => null,
      (e) => e,
    );
    if (!fault) return;
    fault.message = `after “${stands.title}”: ${fault.message}`;
    if (!left || (await lookAt(page)).is === stands.is) throw fault;
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

// waits lets the bench go on by a key alone after a good pull: a slow test sees the verdict too.
export async function waits(page, shop) {
  await page.goto(`${shop.url}/you`);
  await page.getByText("wait for my key").click();
  await page.getByRole("button", { name: "Keep" }).click();
  await expect(page.getByRole("radio", { name: "wait for my key" })).toBeChecked();
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

// layBeside measures what decides on the old part and the new one, alike, and takes it.
export async function layBeside(page) {
  const rows = page.locator(".measure.decides");
  await tap(page, page.locator(".key.go"), rows);
  for (let n = 0; n < (await rows.count()); n++) {
    for (const field of await rows.nth(n).locator(".input").all()) await field.fill(String(12 + 7 * n));
    const eye = rows.nth(n).getByText("Alike", { exact: true });
    if (await eye.count()) await eye.click();
  }
  const accept = page.getByRole("button", { name: "Accept the part" });
  await accept.waitFor();
  await tap(page, accept, page.locator("main.bench"));
}

// What the hand writes where a step asks for it, of parts that are sound.
export const written = {
  readings: "26.41 26.40 26.41",
  new: "28",
  discard: "25",
  value: "0.02",
  wheel: "400",
  turns: "17.5",
  strokes: "6",
  temp: "42",
  out: "120",
  in: "140",
  spec: "as the maker asks",
};

// fillIn fills in, on the page itself, what stands in the step to be filled in, and gives what
// else it asks for.
function fillIn(written) {
  const all = (query) => [...document.querySelectorAll(query)].filter((el) => el.offsetParent);
  const write = (input, text) => {
    input.value = text;
    for (const kind of ["input", "change"]) input.dispatchEvent(new Event(kind, { bubbles: true }));
  };
  for (const form of all(".measureat details.only form, #stepform, #fluidform"))
    for (const input of form.querySelectorAll("input"))
      if (written[input.name]) write(input, written[input.name]);
  for (const input of all(".measureat input[name=value]")) {
    const said = input
      .closest("form")
      .parentElement.innerText.match(/Limit (([\d.]+) to|at least|at most) ([\d.]+)/);
    const usual = (to, from, most) =>
      from ? (Number(from) + most) / 2 : to === "at least" ? most / 0.6 : most * 0.6;
    if (said) write(input, String(usual(said[1], said[2], Number(said[3]))));
  }
  for (const note of all(".feltnote.asked")) write(note, "tyre changed round");
  const picks = [all(".checkbox.new input"), all(".withchoice input[type=radio]").slice(0, 1)].flat();
  const named = (query, word) => all(query).filter((el) => el.closest("label").innerText === word);
  const radios = [named(".felt input", "Sound"), named("#fluidform .pick input", "amber")].flat();
  for (const box of [...picks, ...radios]) if (!box.checked) box.click();
  const key = all(".key.go")[0]?.innerText ?? "";
  return {
    variant: all("button.variant").length > 0,
    measured: /^Judge/.test(key),
    beside: /^Measure new beside old/.test(key),
    taken: /^Take /.test(key),
    castle: all(".castle").length > 0,
    round: all(".round a").length > 0,
    kept: all(".verdictcard").length > 0,
  };
}

// act does what the step asks for once: it answers, counts, measures, confirms what is new, and
// pulls with a wrench that clicks where there is one.
export async function act(page) {
  const asks = await page.evaluate(fillIn, written);
  const go = page.locator(".key.go");
  if (asks.variant) return taps(page, () => page.locator("button.variant").first().click(), goneOn);
  if (asks.measured) {
    const inside = page.locator(".measureat .verdict-word", { hasText: "inside" });
    await tap(page, go, inside);
    return act(page);
  }
  if (asks.beside) return layBeside(page);
  if (asks.taken) {
    if (await byClick(page)) return act(page);
    const seq = await seqOf(page);
    await tap(page, go, page.locator("[data-mine]"));
    await swing(page);
    return expect(goneOn(page, { seq })).toBeVisible();
  }
  if (asks.kept) {
    await tap(page, go, page.locator("main.bench:not(:has(.verdictcard))")); // before it goes on by itself
    return act(page);
  }
  if (asks.round) {
    await tap(page, page.locator(".round a"), page.locator("main.bench:not(:has(.round))"));
    return act(page);
  }
  if (asks.castle) await turnStud(page, 20);
  return keep(page);
}

// turnStud turns the stud of the drawn castle nut by finger, and sees the choice follow.
export async function turnStud(page, deg) {
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

// hang hangs torque tools in the crib of a shop that has none, each by the certificate it came with.
export async function hang(page, shop, tools) {
  const day = new Date(Date.now() - 30 * 86_400_000).toISOString().slice(0, 10);
  for (const [name, kind, max, step, drive, length] of tools) {
    await page.goto(shop.url + "/crib");
    const form = page.locator("details.hang");
    if (!(await form.evaluate((d) => d.open))) await form.locator("summary").click();
    await form.getByLabel(/^What it is called here/).fill(name);
    await form.getByLabel("Kind").selectOption(kind);
    await form.getByLabel("Highest torque").fill(max);
    await form.getByLabel("Step between two marks").fill(step);
    await form.getByLabel("Square drive").selectOption(drive);
    await form.getByLabel("Square to mid-hand").fill(length);
    await form.getByLabel("Number engraved on it").fill("S " + name);
    await form.getByLabel("Day of the calibration").fill(day);
    await form.getByLabel("Number of its certificate").fill("C-" + max);
    await form.getByLabel("A picture of the certificate").setInputFiles(picture);
    await form.getByRole("button", { name: "Hang it" }).click();
    await expect(page.locator("section.tool", { hasText: name })).not.toContainText("Not to be used");
  }
}

export const picture = resolve(import.meta.dirname, "../docs/screenshots/bays.png");

// clickers are torque tools that reach from the smallest screw to a hub.
export const clickers = [
  ["Click 25", "click", "25", "0.5", "1/4", "280"],
  ["Click 100", "click", "100", "0.5", "3/8", "360"],
  ["Click 200", "click", "200", "1", "1/2", "420"],
  ["Click 340", "click", "340", "2", "1/2", "600"],
];
