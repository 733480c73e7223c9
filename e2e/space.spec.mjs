// A foot switch gives one key, and it is the space bar: from the first step to the ledger with it
// alone, in a real shop. What is measured is typed; nothing is clicked, and no focus is moved.
import { execFileSync } from "node:child_process";
import { mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join, resolve } from "node:path";
import {
  aro,
  binary,
  clickers,
  expect,
  guard,
  hang,
  order,
  serve,
  signIn,
  stand,
  test,
  what,
  written,
} from "./shop.mjs";

const patterns = resolve(import.meta.dirname, "../demo/files/patterns");

const who = { name: "Technician Ull", pin: "471382" };

// realShop is made as an operator makes one: no demo, no stand-in wrenches.
const real = test.extend({
  shop: async ({}, use) => {
    const dir = mkdtempSync(join(tmpdir(), "lugtak-real-"));
    const db = join(dir, "shop.db");
    execFileSync(binary, ["init", "--db", db, "--name", who.name], { input: who.pin + "\n", stdio: "pipe" });
    // Sheets of its own, as a shop puts them on its shelf: those of the demo are invented, and planned by nobody.
    const sheets = join(dir, "library", "patterns");
    mkdirSync(sheets, { recursive: true });
    for (const name of readdirSync(patterns)) {
      const text = readFileSync(join(patterns, name), "utf8").replace("invented: true\n", "");
      writeFileSync(join(sheets, name), text);
    }
    const s = await serve(["serve", "--addr", "127.0.0.1:0", "--db", db, "--library", join(dir, "library")]);
    await use({ ...s, db });
    await s.stop();
    rmSync(dir, { recursive: true, force: true });
  },
});

// begun takes a vehicle into the fleet and begins a job on it.
async function begun(page, shop, vehicle, tasks) {
  await page.request.post(shop.url + "/signin", { form: who });
  await hang(page, shop, clickers);
  await page.goto(shop.url + "/vehicles/new");
  await page.locator("[name=fleet]").fill("U-7");
  await page.locator("#name").fill("Ostrel"); // six models stand there, those it may be like first
  await page.locator(`[name=sheet][value=${vehicle}]`).click();
  await page.waitForURL(/jobs\/new/);
  await page.getByLabel("Complaint").fill("it knocks and hums");
  await page.getByLabel("Odometer").fill("97412");
  await page.getByRole("button", { name: "Choose the work" }).click();
  for (const [place, work] of tasks) await order(page, place, work);
  await page.getByRole("button", { name: "Make the plan" }).click();
  await page.goto(page.url().replace(/\/plan.*/, "/bench"));
}

// writes types into the empty fields that the step shows, with the keyboard: each is come to by
// its own focus, as a finger on it would give. It says whether there were any.
async function writes(page) {
  let wrote = false;
  const fields = page.locator(
    ".measureat details.only form input, #stepform input, #fluidform input, .measure.decides input",
  );
  for (const field of await fields.all()) {
    const name = await field.getAttribute("name");
    const text = written[name] ?? (/^(old|new)-/.test(name ?? "") ? "12" : undefined);
    if (!text || !(await field.isVisible()) || (await field.inputValue())) continue;
    if (["checkbox", "radio", "hidden"].includes(await field.getAttribute("type"))) continue;
    await field.focus();
    await page.keyboard.type(text);
    wrote = true;
  }
  // What was typed is left by the key that leaves any field; the space bar goes on from there.
  if (wrote) {
    await page.evaluate(() => document.activeElement.blur());
    await page.waitForTimeout(guard); // a page that answers while one types has asked by then
    await expect(page.locator(".htmx-request")).toHaveCount(0);
  }
  return wrote;
}

const places = (page) =>
  page.evaluate(() =>
    [
      location.pathname + location.search,
      document.querySelector("main.bench")?.dataset.seq,
      document.querySelector("h2.what")?.textContent,
      [...document.querySelectorAll('[data-key=" "]')].find((el) => el.offsetParent)?.textContent.trim(),
      document.querySelectorAll(":checked").length,
      document.activeElement?.name,
      document.activeElement?.className,
    ].join(" · "),
  );

async function bySpaceAlone(page) {
  const seen = [];
  for (let n = 0; n < 420; n++) {
    if (/\/ledger/.test(page.url())) return seen;
    await page.waitForTimeout(guard); // nobody presses again before they have looked
    await writes(page);
    await stand(page); // nor a page that came up meanwhile
    await expect(page.locator(".key.go", { hasText: "opens in" })).toHaveCount(0, { timeout: 20_000 });
    const was = await places(page);
    seen.push(was);
    await page.keyboard.press(" ");
    await expect
      .poll(() => places(page).catch(() => was), { message: `space does nothing at ${was}` })
      .not.toBe(was);
  }
  throw new Error("the job does not end:\n" + seen.slice(-12).join("\n"));
}

for (const [vehicle, tasks] of [
  ["ostrel-c22", [["front left", "Hub unit"]]],
  [
    "ostrel-c22",
    [
      ["front left", "Stabiliser link"],
      ["front right", "Outer tie rod end"],
    ],
  ],
])
  real(
    `from the first step to the ledger with the space bar alone: ${tasks.map((t) => t[1]).join(", ")}`,
    async ({ page, shop }) => {
      const errors = [];
      page.on("pageerror", (e) => errors.push(e.message));
      await begun(page, shop, vehicle, tasks);
      await expect(what(page)).toBeVisible();
      const steps = await bySpaceAlone(page);
      expect(steps.length).toBeGreaterThan(30);
      expect(errors).toEqual([]);
    },
  );

test("the same step drawn anew leaves its key alive, another one waits to be seen", async ({
  page,
  shop,
}) => {
  await signIn(page, shop, aro);
  await page.goto(`${shop.url}/jobs/demo-struts/bench`);
  const title = await what(page).textContent();
  await page.waitForTimeout(guard);
  // What a line that stands again does: the page as it is, and a finger right behind it.
  const anew = () =>
    page.evaluate(async () => {
      const drawn = new Promise((done) => document.addEventListener("htmx:after:swap", done, { once: true }));
      window.htmx.ajax("GET", location.pathname, { target: "#page", swap: "outerMorph" });
      await drawn;
      document.querySelector(".keys .go").click();
    });
  await anew();
  await expect(what(page)).not.toHaveText(title);
  const next = await what(page).textContent();
  await page.evaluate(() => document.querySelector(".keys .go").click()); // nobody has seen it yet
  await page.waitForTimeout(guard);
  await expect(what(page)).toHaveText(next);
});
