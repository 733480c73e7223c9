// A whole day: two vehicles, three people. A road test fails, a deviation is signed by two, a
// signature is refused, brakes are bled, and both reports are read back.
import {
  after,
  aro,
  bel,
  cass,
  expect,
  half,
  order,
  press,
  signIn,
  sound,
  test,
  toRoom,
  what,
  work,
} from "./shop.mjs";

const sign = async (page, [name, pin], typed = pin) => {
  await page.getByLabel(`${name}, your PIN`).fill(typed);
  await page.getByRole("button", { name: "Sign", exact: true }).click();
};

after({ [half]: "Road test" })("a whole day in the shop", async ({ page, shop, browser }) => {
  test.setTimeout(420_000);
  await signIn(page, shop, bel);
  await page.getByRole("link", { name: "Start a job" }).first().click();
  await page.getByLabel("Vehicle").selectOption({ label: "S-1 · Caldren M9 school minibus" });
  await page.getByLabel("Complaint").fill("squeals, pedal long");
  await page.getByLabel("Odometer").fill("120500");
  await page.getByRole("button", { name: "Choose the work" }).click();
  await order(page, "front left", "Pads and rotors");
  await page.getByRole("button", { name: "Make the plan" }).click();
  await page.getByRole("link", { name: "Order, print" }).click();
  await expect(page.getByText("simulated").first()).toBeVisible();
  await sound(page);
  await page.getByRole("button", { name: /Order what is ticked/ }).click();
  await expect(page.getByRole("cell", { name: /ordered Tarn Quay Parts/ }).first()).toBeVisible();
  await page.getByRole("link", { name: /To the plan/ }).click();
  await page.locator("a.start").click();

  // Meanwhile Aro ends the hub; the first drive fails.
  const two = await (await browser.newContext()).newPage();
  await signIn(two, shop, aro);
  const hub = `${shop.url}/jobs/${half}`;
  await two.goto(hub + "/bench");
  await expect(what(two)).toHaveText(/^Road test/);
  const say = async (p, wrong) => {
    const rows = p.locator(".trial .felt");
    for (let i = 0; i < (await rows.count()); i++)
      await rows
        .nth(i)
        .getByRole("radio", { name: i === wrong ? "Wrong" : "Sound" })
        .check({ force: true });
  };
  await say(two, 0);
  await two.getByLabel("what was felt").first().fill("clicks to the left");
  await press(two);
  await expect(two).toHaveURL(/\/walk/);

  await work(page, /^Road test/);
  // The card for driver and passenger, then the pads' drive with its bedding, by keys.
  await page.getByRole("link", { name: "Card for driver and passenger" }).click();
  await expect(page.locator(".manoeuvre", { hasText: "bedding: ten moderate stops" })).toContainText(
    "60 km/h",
  );
  await page.getByRole("button", { name: /Begin the series/ }).click();
  await expect(page.getByText(/stop 1 of 10, next in \d+ s/)).toBeVisible();
  await page.reload();
  await expect(page.getByText(/stop 1 of 10, next in \d+ s/)).toBeVisible();
  await page.getByRole("button", { name: "Stop it" }).click();
  await sound(page);
  await page.getByRole("link", { name: /To the bench/ }).click();
  await page.evaluate(() => document.activeElement.blur());
  const rows = await page.locator(".trial .felt").count();
  for (let i = 0; i < rows; i++) await page.keyboard.press("1");
  await press(page);
  await expect(what(page)).not.toHaveText(/^Road test/);
  await work(page, /Nothing is left/);
  await toRoom(page, "Ledger");
  await sign(page, bel, "0000");
  await expect(page.getByRole("alert")).toContainText("do not belong together");
  await sign(page, bel);
  await expect(page.locator(".big.ok")).toHaveText("Signed");

  // The hub's second drive is good; a finding on the wheel is left by a deviation of two.
  await two.goto(hub + "/bench");
  await expect(what(two)).toHaveText(/^Road test/);
  await say(two, -1);
  await two.getByLabel("what was done about it").fill("cover screw was against the shaft");
  await press(two);
  await expect(what(two)).not.toHaveText(/^Road test/);
  await toRoom(two, "Ledger");
  await expect(two.getByRole("button", { name: "Sign", exact: true })).toHaveCount(0);
  const gate = two.locator("details", { hasText: "pass it over" }).last();
  await gate.getByText("pass it over").click();
  await gate.getByLabel("Reason").fill("called away: the foreman goes round again on the yard");
  await gate.getByLabel("Second person").selectOption("Foreman Cass");
  await gate.getByLabel("Their PIN").fill(cass[1]);
  await gate.getByRole("button", { name: "Sign for this deviation" }).click();
  await expect(two.getByText(/seconded by Foreman Cass/)).toBeVisible();
  await two.goto(hub + "/bench");
  await work(two, /Nothing is left/);
  await toRoom(two, "Ledger");
  await sign(two, aro);
  await expect(two.locator(".big.ok")).toHaveText("Signed");

  // The foreman reads both back.
  const boss = await (await browser.newContext()).newPage();
  await signIn(boss, shop, cass);
  await boss.goto(hub + "/report");
  for (const says of [/Road test failed/, /clicks to the left/, /called away/, /second: Foreman Cass/])
    await expect(boss.getByText(says).first()).toBeVisible();
  await sound(boss);
  const pads = page.url().match(/jobs\/([^/]+)/)[1];
  await boss.goto(`${shop.url}/jobs/${pads}/report`);
  await expect(boss.getByText(/Brake fluid: 120 ml.* out, 140 ml.* in/).first()).toBeVisible();
  await expect(boss.getByText("May be driven", { exact: true })).toBeVisible();
  await boss.goto(shop.url + "/fleet?q=S-1");
  await expect(boss.getByText("Wheel nuts again").first()).toBeVisible();
  await sound(boss);
});
