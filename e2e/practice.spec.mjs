// The practice bay: every exercise by keys alone, by a hand that tries what is laid out, pulls to
// the figure, refuses no part it has not measured, and lets the car leave.
import { execFileSync } from "node:child_process";
import { aro, bel, binary, expect, signIn, sound, test } from "./shop.mjs";

// next does something that brings the next page, and waits for it.
async function next(page, act) {
  await page.evaluate(() => (window.before = true));
  await act();
  await page.waitForFunction(() => !window.before && document.readyState === "complete");
}

const press = (page, key) => next(page, () => page.keyboard.press(key));

// byPlan does the acts that the easiest exercises say are next.
async function byPlan(page, acts) {
  for (let n = 0; n < acts; n++) {
    await next(page, () => page.getByRole("link", { name: /next by the plan/ }).click());
    await next(page, () => page.getByRole("button", { name: /Do it/ }).click());
  }
  await next(page, () => page.getByRole("link", { name: /next by the plan/ }).click());
}

// What is hidden is drawn by a seed: this hand knows no other way than the plan, and some draws
// want one.
const seed = "7";

const begin = async (page, shop, key) => {
  await page.route("**/practice", (route) => {
    const sent = route.request().postData();
    return route.continue(sent ? { postData: `${sent}&seed=${seed}` } : {});
  });
  await page.goto(shop.url + "/practice");
  await page.keyboard.press(key);
  await page.waitForURL(/practice\/./);
};

// held pulls with space until the live figure has gone some way, then lets go: what is hidden
// may be a thread that never gets there.
async function held(page) {
  const gauge = page.locator("#gauge, #gauge-angle");
  await page.evaluate(() => document.activeElement.blur());
  await page.keyboard.down(" ");
  await expect.poll(async () => Number(await gauge.textContent()) >= 30, { intervals: [10] }).toBe(true);
  await page.keyboard.up(" ");
  await page.waitForURL(/practice\/./);
}

// typed says where the hand let go.
async function typed(page) {
  const key = page.locator("[data-hold]");
  const loose = (await key.getAttribute("data-loose")) === "true";
  await page.locator("#let").fill(loose ? "60" : await key.getAttribute("data-amount"));
  await next(page, () => page.locator("#let").press("Enter"));
}

// seen is what the page asks for, and what it lays out.
function seen() {
  const all = (query) => [...document.querySelectorAll(query)].filter((el) => el.offsetParent);
  const button = (word) => all("button").some((b) => b.innerText.startsWith(word));
  return {
    ended: all(".bigscore").length > 0,
    renew: all('[data-key="p"]').length > 0,
    pull: all("[data-hold]").length > 0,
    refuse: button("Refuse it"),
    act: button("Do it"),
    offers: all(".whatnext a").map((a) => new URL(a.href).searchParams.get("step")),
  };
}

// one does what the page asks for, by its keys; of what is laid out, what the plan has first. It
// is false at the end.
async function one(page, order) {
  const asks = await page.evaluate(seen);
  if (asks.ended) return false;
  if (asks.pull && !asks.renew) {
    await typed(page);
    const fast = page.locator('[data-key="t"]');
    if (!(await fast.isVisible())) return true;
    await press(page, "t");
    await press(page, "1");
  } else if (asks.refuse && !asks.renew) {
    await press(page, "k");
    const same = (await page.locator(".said").innerText()).includes("no difference");
    await press(page, same ? "a" : "r");
  } else if (asks.renew || asks.act || !asks.offers.length)
    await press(page, " "); // or it may leave
  else {
    const first = asks.offers.reduce((a, b) => (order.indexOf(a) < order.indexOf(b) ? a : b));
    await press(page, String(asks.offers.indexOf(first) + 1));
  }
  return true;
}

// planned is the order of the plan that an exercise is cut from.
const planned = (vehicle, ...operations) => {
  const args = ["plan", "--vehicle", vehicle, "--json", ...operations.flatMap((o) => ["--operation", o])];
  return JSON.parse(execFileSync(binary, args, { maxBuffer: 1 << 26 })).steps.map((s) => s.id);
};

// A small one, one of two operations, and one of another vehicle: the careful hand of
// core/practice does every one of them.
for (const [key, name, ...of] of [
  ["1", "Wheel back on", "ostrel-c22", "stabiliser-link@FL"],
  ["4", "Front pads", "ostrel-c22", "pads-rotors@FL", "pads-rotors@FR"],
  ["6", "A sheet copied by hand", "norrvik-e3", "strut-front@FL"],
]) {
  test(`practice by keys: ${name}`, async ({ page, shop }) => {
    const order = planned(...of);
    await signIn(page, shop, aro);
    await begin(page, shop, key);
    await expect(page.getByRole("heading", { name })).toBeVisible();
    for (let n = 0; n < 220 && (await one(page, order)); n++);
    await expect(page.getByRole("heading", { name: /It would have left/ })).toBeVisible();
    await sound(page);
  });
}

test("the wrench is swung by a held key", async ({ page, shop }) => {
  await signIn(page, shop, aro);
  await begin(page, shop, "1");
  await byPlan(page, 3);
  await sound(page);
  await held(page);
  await expect(page.locator(".said")).toBeVisible();
});

test("practice by keys: what hums, and what knocks", async ({ page, shop }) => {
  await signIn(page, shop, aro);
  await begin(page, shop, "2");
  await sound(page);
  for (let n = 0; n < 4; n++) await press(page, "1");
  // The strongest suspicion stands first on the easy one.
  await press(page, "u");
  await expect(page.getByText("1 of 1 met")).toBeVisible();
  await begin(page, shop, "8");
  await press(page, "e"); // given up
  await expect(page.getByRole("heading", { name: "It would have left with one fault" })).toBeVisible();
  await expect(page.getByText("The wrong thing was named")).toBeVisible();
});

test("what was missed is told, looked at again, and seen by its owner only", async ({
  page,
  shop,
  browser,
}) => {
  await signIn(page, shop, aro);
  await begin(page, shop, "1");
  const run = page.url();
  await sound(page);
  await next(page, () => page.getByRole("link", { name: /Wheel on, nuts by hand/ }).click());
  await next(page, () => page.getByRole("button", { name: /Do it/ }).click());
  await press(page, "e");
  await expect(page.getByRole("heading", { name: /It would have left with/ })).toBeVisible();
  await expect(page.locator(".misses > li").first()).toHaveClass("harm-people");
  await page.getByRole("link", { name: /^See / }).first().click();
  await expect(page.getByText("As it stood at")).toBeVisible();
  await expect(page.locator(".keys")).toHaveCount(0);
  await page.getByRole("link", { name: "Back to the result" }).click();

  const other = await (await browser.newContext()).newPage();
  await signIn(other, shop, bel);
  await other.goto(run);
  await expect(other.getByText("There is no such run.")).toBeVisible();
  await other.goto(shop.url + "/");
  await expect(other.getByText("Practice car")).toHaveCount(0);
});

test("a swing is typed where no script runs", async ({ browser, shop }) => {
  const page = await (await browser.newContext({ javaScriptEnabled: false })).newPage();
  await signIn(page, shop, aro);
  await page.goto(shop.url + "/practice");
  await page
    .getByRole("button", { name: /^Begin/ })
    .first()
    .click();
  await byPlan(page, 3);
  await page.getByLabel("let go at, N·m").fill("60");
  await page.getByRole("button", { name: /^Pull/ }).click();
  await expect(page.locator(".said")).toContainText(/N·m/);
});
