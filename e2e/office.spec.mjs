// The foreman's office: scripts that read the shop, lists that are looked at first, sessions,
// and pages as somebody wants them.
import { Shop } from "./client.mjs";
import { aro, cass, expect, half, signIn, sound, test } from "./shop.mjs";

async function listOf(items) {
  const out = [];
  for await (const x of items) out.push(x);
  return out;
}

const pages = ["/office", "/people", "/scripts", "/you", "/imports", "/acts", "/said"];

test("the office is sound", async ({ page, shop }) => {
  await signIn(page, shop, cass);
  for (const p of pages) {
    await page.goto(shop.url + p);
    await sound(page);
  }
});

test("a script reads the shop, begins a job and hears of it", async ({ page, shop }) => {
  await signIn(page, shop, cass);
  await page.goto(shop.url + "/scripts");
  await page.getByLabel("What it is for").fill("fleet office");
  await page.getByLabel("What it may do").selectOption("write");
  await page.getByRole("button", { name: "Let it in" }).click();
  const secret = await page.locator(".secret").innerText();

  const api = await new Shop(shop.url, secret).learn();
  const vehicles = await listOf(api.all("vehicles", { limit: 2 }));
  expect(vehicles.length).toBeGreaterThan(3);
  const events = await listOf(api.all("events", { limit: 50 }));
  expect(events.map((e) => e.n)).toEqual(events.map((_, i) => i + 1));
  const steps = await api.ask("steps", { job: half });
  expect(steps.items.some((s) => s.done) && steps.items.some((s) => !s.done)).toBe(true);

  const leave = new AbortController();
  const heard = api.events(events.length, leave.signal);
  const next = heard.next();
  const van = vehicles.find((v) => v.fleet === "P-2");
  const id = crypto.randomUUID();
  const begin = { id, vehicle: van.id, complaint: "grinds when braking", odometer_km: 290_000 };
  expect((await api.ask("begin-job", {}, begin)).state).toBe("open");
  const { value } = await next;
  expect([value.kind, value.job, value.by]).toEqual(["started", id, "script fleet office"]);
  leave.abort();
  await api.ask("note-finding", { job: id }, { id: "seen", text: "tyre worn to the bar" });
  await expect(api.ask("note-finding", { job: id }, { id: "seen", text: "another" })).rejects.toMatchObject({
    status: 409,
    code: "conflict",
  });
  await expect(api.ask("begin-job", {}, { ...begin, id: "x" })).rejects.toMatchObject({
    status: 422,
    field: "id",
  });

  await page.goto(shop.url + `/jobs/${id}/ledger`);
  await expect(page.getByText("tyre worn to the bar").first()).toBeVisible();

  await page.goto(shop.url + "/scripts");
  await page.getByRole("button", { name: "Keep fleet office out" }).click();
  await expect(page.getByText(/^None is let in/)).toBeVisible();
  await expect(api.ask("vehicles")).rejects.toMatchObject({ status: 401 });
  await page.goto(shop.url + "/acts");
  for (const done of ["script let in", "script kept out"])
    await expect(page.getByText(done, { exact: true }).first()).toBeVisible();
});

test("a list is looked at, mended and taken whole", async ({ page, shop }) => {
  await signIn(page, shop, cass);
  await page.goto(shop.url + "/imports");
  const list = page.getByLabel("or its text");
  await list.fill(
    "fleet,pattern,vin\nNEW-1,ostrel-c22,\nP-2,ostrel-c22,\nNEW-3,none,\nNEW-4,ostrel-c22,12\n",
  );
  await page.getByRole("button", { name: "Look at it" }).click();
  for (const line of ["Line 3, fleet", "Line 4, pattern", "Line 5, vin"])
    await expect(page.getByRole("alert")).toContainText(line);
  await expect(page.getByRole("button", { name: "Take it in" })).toHaveCount(0);
  await expect(list).toHaveValue(/P-2,ostrel-c22/);
  await sound(page);
  await list.fill("fleet,pattern\nNEW-1,ostrel-c22\nNEW-3,ostrel-c22\n");
  await page.getByRole("button", { name: "Look at it" }).click();
  await expect(page.getByText("This is what it would do")).toBeVisible();
  const before = await page.request.get(shop.url + "/fleet?q=NEW");
  expect(await before.text()).toContain("None is called so.");
  await page.getByRole("button", { name: "Take it in" }).click();
  await expect(page.getByText("The list of vehicles is in.")).toBeVisible();
  await page.goto(shop.url + "/fleet?q=NEW");
  for (const n of ["NEW-1", "NEW-3"]) await expect(page.getByRole("link", { name: n })).toBeVisible();
});

test("pages are shown as somebody wants them, and a session is ended from elsewhere", async ({
  page,
  shop,
  browser,
}) => {
  await signIn(page, shop, aro);
  await page.getByRole("link", { name: aro[0] }).click();
  await page.getByText("dark", { exact: true }).click();
  await page.getByText("ft·lb", { exact: true }).click();
  await page.getByText("200 %", { exact: true }).click();
  await page.getByRole("button", { name: "Keep" }).click();
  await expect(page.locator("html")).toHaveAttribute("data-theme", "dark");
  const floor = await page.evaluate(() => getComputedStyle(document.body).backgroundColor);
  expect(floor).toBe("rgb(18, 25, 27)");
  await sound(page);
  await page.goto(`${shop.url}/jobs/${half}/bench`);
  await sound(page);

  const other = await browser.newContext();
  const foreman = await other.newPage();
  await signIn(foreman, shop, cass);
  await expect(foreman.locator("html")).not.toHaveAttribute("data-theme", "dark");
  await foreman.goto(shop.url + "/people");
  await foreman.getByRole("button", { name: `End the session of ${aro[0]}` }).click();
  await foreman.waitForURL("**/people");
  await page.goto(shop.url + "/");
  await expect(page).toHaveURL(/signin/);
  await other.close();
});
