// The network goes for an hour of work: nothing is lost, nothing twice, times as they were.
import { resolve } from "node:path";
import {
  after,
  aro,
  bel,
  byClick,
  expect,
  half,
  keep,
  press,
  serve,
  signIn,
  sound,
  stand,
  tended,
  test,
  what,
} from "./shop.mjs";

test.use({ serviceWorkers: "allow" });

const job = "demo-struts";
const events = async (page, shop) =>
  (await (await page.request.get(`${shop.url}/jobs/${job}/job.json`)).json()).events;

// drawnAhead waits until the tablet has the next acts.
async function drawnAhead(page) {
  const drawn = () =>
    page.evaluate(async (id) => {
      const ahead = await outbox.known(id);
      const seq = Number(document.querySelector("main.bench").dataset.seq);
      return Boolean(ahead && ahead.seq === seq && ahead.pages.length);
    }, job);
  await expect.poll(drawn).toBe(true);
}

const kept = (page) => page.evaluate(async () => (await outbox.all()).length);

// keepHere presses the step's key without network, and waits until it is kept.
async function keepHere(page) {
  const n = await kept(page);
  const fresh = page.locator(".checkbox.new input");
  if (await fresh.count()) await fresh.check();
  const pick = page.locator(".withchoice input[type=radio]").first();
  if (await pick.count()) await pick.check();
  await page.locator("main.bench").evaluate((m) => m.setAttribute("data-before", ""));
  await press(page);
  await expect.poll(() => kept(page)).toBe(n + 1);
  await expect(page.locator("main.bench:not([data-before])")).toBeVisible();
}

async function opened(page, shop, who = aro) {
  await signIn(page, shop, who);
  await page.goto(`${shop.url}/jobs/${job}/bench`);
  await tended(page);
  await drawnAhead(page);
}

test("twenty records, a reload and a closed browser", async ({ page, shop, context }) => {
  await opened(page, shop);
  const before = await events(page, shop);
  await context.setOffline(true);
  const titles = [];
  for (let n = 0; n < 20; n++) {
    titles.push(await what(page).textContent());
    await keepHere(page);
  }
  await expect(page.locator("#offline")).toContainText("20 records");
  expect(new Set(titles).size, titles.join(" / ")).toBeGreaterThan(8);
  const stands = await what(page).textContent();
  await page.reload();
  await expect(what(page)).toHaveText(stands);
  await page.close();
  const again = await context.newPage();
  await again.goto(`${shop.url}/jobs/${job}/bench`);
  await expect(what(again)).toHaveText(stands);
  const backAt = Date.now();
  await context.setOffline(false);
  await expect(again.locator("#offline")).toBeHidden();
  const added = (await events(again, shop)).slice(before.length);
  expect(added.length).toBe(20);
  expect(new Set(added.map((e) => e.id)).size).toBe(20);
  const times = added.map((e) => Date.parse(e.at));
  expect([...times].sort((a, b) => a - b)).toEqual(times);
  expect(times[19]).toBeLessThan(backAt);
  expect(added.every((e) => Date.parse(e.sent) >= backAt)).toBe(true); // and when each came is sealed
  expect(before.some((e) => e.sent)).toBe(false);
  expect(times[19] - times[0]).toBeGreaterThan(10_000);
  await expect(what(again)).toHaveText(stands);
});

test("a session that ended, another person on the tablet, two tabs", async ({ page, shop, context }) => {
  await opened(page, shop);
  const second = await context.newPage();
  await second.goto(`${shop.url}/jobs/${job}/bench`);
  const before = (await events(page, shop)).length;
  await context.setOffline(true);
  for (let n = 0; n < 3; n++) await keepHere(page);
  await context.clearCookies();
  await context.setOffline(false);
  await expect(page.locator("#offline")).toContainText("Sign in again");
  await signIn(page, shop, bel);
  await page.goto(`${shop.url}/jobs/${job}/bench`);
  await expect(page.locator("#offline")).toContainText("Records of Technician Aro");
  expect(await kept(page)).toBe(3);
  expect((await events(page, shop)).length).toBe(before);
  await context.clearCookies();
  await signIn(page, shop, aro);
  await Promise.all([
    page.goto(`${shop.url}/jobs/${job}/bench`),
    second.goto(`${shop.url}/jobs/${job}/bench`),
  ]);
  await expect.poll(() => kept(page)).toBe(0);
  const added = (await events(page, shop)).slice(before);
  expect(added.map((e) => e.by)).toEqual(Array(3).fill("Technician Aro"));
});

test("the other tablet was first: both stand side by side until somebody decides", async ({
  page,
  shop,
  context,
  browser,
}) => {
  await opened(page, shop);
  await context.setOffline(true);
  const mine = await what(page).textContent();
  await keepHere(page);
  const other = await (await browser.newContext()).newPage();
  await signIn(other, shop, bel);
  await other.goto(`${shop.url}/jobs/${job}/bench`);
  await press(other);
  await expect(what(other)).not.toHaveText(mine);
  const before = (await events(other, shop)).length;
  await context.setOffline(false);
  await expect(page.locator("#offline")).toContainText("Not taken: 1 record");
  await page.locator("#offline").getByRole("button", { name: "Look" }).click();
  await expect(page.locator("#kept")).toContainText(mine);
  await expect(page.locator("#kept")).toContainText("The shop says:");
  await page.getByRole("button", { name: "Let it go" }).click();
  await expect(page.locator("#kept li")).toHaveCount(0);
  expect((await events(other, shop)).length).toBe(before);
});

test("trouble, later and a finding with a photograph without network", async ({ page, shop, context }) => {
  await opened(page, shop);
  const before = (await events(page, shop)).length;
  await context.setOffline(true);
  await keepHere(page);
  await page.waitForTimeout(900);
  await page.keyboard.press("l"); // the left top nuts are left for later
  await expect.poll(() => kept(page)).toBe(2);
  // What comes after a step that was put off is for the shop to say: the page stays, and says so.
  await expect(page.locator("#offline")).toContainText("is kept here and not recorded yet");
  await expect(page.locator(".keys .go")).toBeDisabled();
  await page.waitForTimeout(900);
  await page.keyboard.press("t"); // trouble may be told at any time
  await page.getByText("Something seen outside the job").click();
  await page.getByLabel("What is seen, and where").fill("a wet connector");
  await page
    .getByLabel("A photograph")
    .setInputFiles(resolve(import.meta.dirname, "../docs/screenshots/bays.png"));
  await page.getByRole("button", { name: "Put it on the report" }).click();
  await expect.poll(() => kept(page)).toBe(3);
  // The open form hides the other troubles itself: only the next act ends this one.
  await expect(page.locator("main.bench.introuble")).toHaveCount(0);
  await page.keyboard.press("t");
  await page.getByRole("button", { name: /^stuck/ }).click();
  await expect.poll(() => kept(page)).toBe(4);
  await context.setOffline(false);
  await expect.poll(() => kept(page)).toBe(0);
  const added = (await events(page, shop)).slice(before);
  expect(added.map((e) => e.kind)).toEqual(["step_done", "postponed", "found", "troubled"]);
  expect(added[2].body.photo.length).toBeGreaterThan(1000);
});

test("the server is killed while it is being told", async ({ page, shop, context }) => {
  const own = await serve(["demo", "--young", "--addr", "127.0.0.1:0", "--db", `${shop.dir}/own.db`]);
  const there = { ...shop, url: own.url };
  await opened(page, there);
  const before = (await events(page, there)).length;
  await context.setOffline(true);
  for (let n = 0; n < 6; n++) await keepHere(page);
  let sent = 0;
  page.on("request", (r) => {
    if (r.method() === "POST" && /jobs/.test(r.url()) && ++sent === 3) own.kill();
  });
  await context.setOffline(false);
  await expect.poll(() => sent).toBeGreaterThanOrEqual(3);
  await page.waitForTimeout(1500);
  const again = await serve([
    "demo",
    "--young",
    "--addr",
    new URL(own.url).host,
    "--db",
    `${shop.dir}/own.db`,
  ]);
  await expect.poll(() => kept(page)).toBe(0);
  const added = (await events(page, there)).slice(before);
  expect(added.length).toBe(6);
  expect(new Set(added.map((e) => e.id)).size).toBe(6);
  await again.stop();
});

test("a page that was never seen says so without network, in the frame of the others", async ({
  page,
  shop,
  context,
}) => {
  await opened(page, shop);
  await context.setOffline(true);
  await page.goto(`${shop.url}/jobs/${job}/ledger`);
  await expect(page.getByRole("heading", { name: "No network" })).toBeVisible();
  await expect(page.getByRole("alert")).toContainText("sent when it answers");
  await expect(page.locator(".emptybay")).toBeVisible();
  await sound(page);
  await page.getByRole("link", { name: "To the bays" }).click();
  await expect(page.getByRole("heading", { name: "Bays" })).toBeVisible(); // as it was seen
});

const wheel = after({ [half]: "Wheel nuts in star" });
wheel.use({ serviceWorkers: "allow" });
wheel(
  "a wheel's round is said on a phone without network, and is five acts",
  async ({ page, shop, context }) => {
    await page.setViewportSize({ width: 390, height: 844 });
    await signIn(page, shop, aro);
    await page.goto(`${shop.url}/jobs/${half}/bench`);
    await tended(page);
    await byClick(page);
    await keep(page); // it is set
    const clicked = async () => {
      const job = await page.request.get(`${shop.url}/jobs/${half}/job.json`);
      return (await job.json()).events.filter((e) => e.kind === "pulled" && e.body?.together).length;
    };
    const all = page.getByRole("button", { name: "All five clicked" });
    await expect(all).toBeDisabled();
    await context.setOffline(true);
    await expect(all).toBeEnabled({ timeout: 20_000 });
    await stand(page);
    await all.click();
    await expect(page.locator("#offline")).toContainText("kept here");
    await context.setOffline(false);
    await expect(what(page)).toHaveText(/stage 2/, { timeout: 30_000 });
    await expect.poll(clicked).toBe(5);
  },
);

after({ [half]: "Road test" })(
  "what was felt on the road is kept where there is no network",
  async ({ page, shop, context }) => {
    await signIn(page, shop, aro);
    const at = `${shop.url}/jobs/${half}`;
    await page.goto(at + "/bench");
    await tended(page);
    await page.goto(at + "/brief");
    const driven = async () =>
      (await (await page.request.get(at + "/job.json")).json()).events.filter(
        (e) => e.kind === "road_tested",
      );
    expect(await driven()).toHaveLength(0);
    await context.setOffline(true);
    const rows = page.locator(".felt");
    for (let i = 0; i < (await rows.count()); i++)
      await rows.nth(i).getByRole("radio", { name: "Sound" }).check({ force: true });
    await page.getByRole("button", { name: /Driven: this was felt/ }).click();
    await expect(page).toHaveURL(/\/bench$/);
    await expect(page.locator("#offline")).toContainText("“Road test” is kept here");
    expect(await kept(page)).toBe(1);
    await context.setOffline(false);
    await expect.poll(() => kept(page)).toBe(0);
    expect(await driven()).toHaveLength(1);
  },
);
