// The record cannot be filled without the work, and honest work costs few touches.
import {
  act,
  after,
  aro,
  bel,
  byClick,
  cass,
  expect,
  half,
  keep,
  order,
  press,
  seqOf,
  signIn,
  sound,
  swing,
  tap,
  test,
  toRoom,
  waits,
  what,
} from "./shop.mjs";

const bench = (shop, query = "") => `${shop.url}/jobs/${half}/bench${query}`;
const step = "front-hub-unit.knuckle-1.FL";
const pulls = async (page, shop) =>
  (await (await page.request.get(`${shop.url}/jobs/${half}/job.json`)).json()).events.filter(
    (e) => e.kind === "pulled",
  );

test("nothing is filled in, and space alone proves nothing", async ({ page, shop }) => {
  await signIn(page, shop, aro);
  const before = (await pulls(page, shop)).length;
  for (const tool of ["w2", "w3"]) {
    await page.goto(bench(shop, `?step=${step}&tool=${tool}`));
    for (const input of await page.locator("main input:visible").all())
      expect(await input.inputValue()).toBe("");
    await press(page);
    expect((await pulls(page, shop)).length, `one press with ${tool}`).toBe(before);
  }
  // In the middle of a pull, and before it, the key does nothing.
  await page.goto(bench(shop, `?step=${step}&tool=w3`));
  await expect(page.locator(".key.go")).toBeDisabled();
  await press(page);
  expect((await pulls(page, shop)).length).toBe(before);
  await page.getByRole("button", { name: "Put it down" }).click();
  await expect(page.locator(".key.go")).toContainText("Take wrench 3");
});

test("a castle nut is shown as it stands by turning the drawn one", async ({ page, shop }) => {
  await signIn(page, shop, aro);
  await page.goto(shop.url + "/jobs/new");
  await page.getByLabel("Vehicle").selectOption({ label: "P-2 · Brask T7 plough pickup" });
  await page.getByLabel("Complaint").fill("wanders");
  await page.getByLabel("Odometer").fill("181200");
  await page.getByRole("button", { name: "Choose the work" }).click();
  await order(page, "front left", "Outer tie rod end");
  await page.getByRole("button", { name: "Make the plan" }).click();
  await toRoom(page, "Bench");
  for (let n = 0; n < 60 && !(await page.locator(".castle").count()); n++) await act(page);
  await sound(page);
  await act(page); // turns the stud, and says it
  await expect(what(page)).toHaveText(/New cotter pin/);
  const file = await page.request.get(page.url().replace(/bench.*/, "job.json"));
  const slots = (await file.json()).events.filter((e) => e.body.means === "slot");
  expect(slots.map((e) => e.body.result.turn_deg)).toEqual([20]); // as far as it is on to the hole
});

test("three quick taps keep one act", async ({ page, shop }) => {
  await signIn(page, shop, aro);
  const start = Date.now();
  const after = (ms) => page.clock.setFixedTime(start + ms); // quick on a slow machine too
  await after(0);
  await page.goto(bench(shop, `?step=${step}&tool=w2`));
  await after(900);
  for (let i = 0; i < 3; i++) {
    await page.keyboard.press(" ");
    await page.waitForTimeout(400); // the next act has come
  }
  await expect(page.locator(".key.go")).toContainText("It clicked on B");
  expect((await pulls(page, shop)).filter((e) => e.body.letter === "B").length).toBe(0);
  await after(1800);
  await page.keyboard.press(" ");
  await expect(what(page)).toHaveText(/knuckle bolt C/);
});

test("looking takes nothing; what is taken is told to both", async ({ page, shop, browser }) => {
  await signIn(page, shop, aro);
  const other = await (await browser.newContext()).newPage();
  await signIn(other, shop, bel);
  await page.goto(bench(shop, `?step=${step}&tool=w3`));
  await press(page);
  await expect(page.locator(".stated")).toContainText("wrench 3 is yours");
  await other.goto(bench(shop, `?step=${step}&tool=w3`)); // only looks
  await expect(other.locator(".refused")).toContainText("Technician Aro has wrench 3 on it");
  await expect(page.locator(".stated")).toContainText("wrench 3 is yours");
  await press(other); // takes it
  await expect(other.locator(".stated")).toContainText("wrench 3 is yours");
  await expect(page.locator("#offline")).toContainText("Technician Bel has taken wrench 3");
  await expect(page.locator(".refused")).toContainText("Technician Bel has wrench 3 on it");
});

test("what cannot be measured says so for ever", async ({ page, shop }) => {
  await signIn(page, shop, aro);
  await page.goto(bench(shop, `?step=${step}&f=B`));
  await page.getByRole("link", { name: "Cannot be measured" }).click();
  await expect(page.locator("#trouble")).toContainText("the other end of the joint"); // ways that measure come first
  await sound(page);
  await press(page); // without a cause nothing is kept
  await expect(page.locator("#trouble")).toBeVisible();
  await page.getByText("no room for a torque wrench").click();
  await keep(page);
  await page.goto(`${shop.url}/jobs/${half}/ledger`);
  await expect(
    page.locator(".pullrow", { hasText: "not measured: no room for a torque wrench" }),
  ).toBeVisible();
  await sound(page);
});

test("a struck figure stands before the signature of an open job", async ({ page, shop }) => {
  await signIn(page, shop, cass);
  await page.goto(`${shop.url}/shelf/ostrel-c22`);
  const joint = page.locator("#hub-front-knuckle");
  await joint.getByText("correct the figure").click();
  await joint.getByLabel("Recipe, as on the sheet").fill("62 Nm + 80°");
  await joint.getByLabel("Source").fill("shop book 2.1, second printing (invented)");
  await joint.getByLabel("Why the old one was wrong").fill("misprint");
  await joint.getByLabel("A second person reads it too").fill(bel[0]); // a hub carries a life
  await joint.getByLabel("their PIN").fill(bel[1]);
  await joint.getByRole("button", { name: "Strike the old figure" }).click();
  await expect(joint.locator("s")).toHaveText("60 Nm + 90°");
  await page.goto(`${shop.url}/jobs/${half}/ledger`);
  const card = page.locator(".figurestruck");
  await expect(card).toContainText("60 Nm + 90°");
  await expect(page.locator(".tosign")).toContainText("The figure of the knuckle bolts was struck");
  await sound(page);
  await card.getByRole("button", { name: /Take the new figure/ }).click();
  await expect(card).toHaveCount(0);
  await page.goto(bench(shop));
  await expect(page.locator(".refused, .againform").first()).toBeVisible(); // A was tightened to the old one
  await expect(what(page)).toHaveText(/knuckle bolt A, left, stage 1/);
});

after({ [half]: "Wheel nuts in star" })(
  "honest work at five wheel nuts: a touch a round that clicks, a touch a nut that is traced",
  async ({ page, shop }) => {
    await signIn(page, shop, aro);
    await waits(page, shop);
    await page.goto(bench(shop));
    await expect(what(page)).toHaveText(/wheel nut \d, \w+, stage 1/);
    const kept = async (stage) =>
      (await pulls(page, shop))
        .filter((e) => e.body.stage === stage && e.body.joint.endsWith("wheel"))
        .map((e) => [e.body.evidence, !!e.body.together].join());

    await byClick(page);
    await keep(page); // it is set once
    const all = page.getByRole("button", { name: "All five clicked" });
    await expect(all).toBeEnabled({ timeout: 20_000 });
    await keep(page); // and said of all that the round lacks
    await expect(what(page)).toHaveText(/stage 2/);
    expect(await kept(0)).toEqual(Array(5).fill("clicked,true"));

    await page.goto(bench(shop, "?tool=w3")); // the second round with one that traces
    for (let n = 0; n < 5; n++) {
      // It is taken for this nut; the pull keeps itself.
      await tap(page, page.locator(".key.go"), page.locator("[data-mine]"));
      await swing(page);
      await expect(what(page)).toHaveText(/is kept/);
      await tap(page, page.locator(".key.go"), page.locator("main.bench:not(:has(.verdictcard))"));
    }
    expect(await kept(1)).toEqual(Array(5).fill("traced,false"));
  },
);

test("a refusal that came without script goes on from the bench", async ({ page, shop, browser }) => {
  await signIn(page, shop, aro);
  await page.goto(bench(shop, `?step=${step}&panel=trouble`));
  await page.locator(".troubleform").evaluate((form) => HTMLFormElement.prototype.submit.call(form)); // says nothing
  await expect(page).toHaveURL(/\/trouble$/);
  await expect(page.locator(".fault, .refused").first()).toContainText("It is not said what went wrong");
  const other = await (await browser.newContext()).newPage();
  await signIn(other, shop, bel);
  await other.goto(bench(shop));
  const seq = await seqOf(page);
  await other.getByRole("button", { name: /Later/ }).click();
  await expect(page.locator(`main.bench:not([data-seq="${seq}"])`)).toBeVisible(); // and not “no such page”
});
