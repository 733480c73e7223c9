// Two operations planned on both sides, a missing pin, a wrong part, another school,
// a step moved by hand, a sheared bolt.
import { after, aro, bel, expect, order, signIn, sound, stand, test, waiting, what, work } from "./shop.mjs";

test("from an order to a plan, on a phone", async ({ page, shop }) => {
  await page.setViewportSize({ width: 390, height: 844 });
  await signIn(page, shop, aro);
  await page.goto(shop.url + "/jobs/new");
  await page.getByLabel("Vehicle").selectOption({ label: "S-1 · Caldren M9 school minibus" });
  await page.getByLabel("Complaint").fill("wanders, knocks over bumps");
  await page.getByLabel("Odometer").fill("212000");
  await page.getByRole("button", { name: "Choose the work" }).click();
  await page.getByRole("button", { name: "Make the plan" }).click();
  await expect(page.getByRole("alert")).toContainText("Nothing is ordered");
  await order(page, "front left", "Lower ball joint");
  await expect(page.locator(".weighed")).toContainText("right side"); // now against later
  await expect(page.locator(".bykm")).toContainText(/stabiliser link, left.*wheel stroke/s); // 212 000 km
  await page.getByRole("button", { name: /As well: Lower ball joint.*right side/ }).click(); // one touch orders it
  await expect(page.getByLabel("Lower ball joint, front right")).toBeChecked();
  await expect(page.locator(".axle[open] [data-ticked]")).toHaveText("2 touched");
  await order(page, "in the middle", "Idler arm and bell crank");
  await expect(page.locator(".weighed tbody tr")).toHaveCount(3);
  await sound(page);
  await page.getByRole("button", { name: "Make the plan" }).click();
  await expect(
    page.getByRole("heading", { name: /Lower ball joint, both sides · Idler arm and bell crank/ }),
  ).toBeVisible();
  await expect(page.getByText("raised once").first()).toBeVisible();
  await expect(page.locator("#ways .school").first()).toBeVisible();
  await sound(page);

  // The owner is told the range; a no says what the owner wants, and what was typed stays.
  const told = page.locator(".ownertold");
  await told.getByText("Tell the owner").click();
  await told.getByRole("button", { name: "Told, does not" }).click();
  await expect(page.getByRole("alert")).toContainText("did not agree");
  await told.getByLabel("what the owner said").fill("not the idler, this month");
  await told.getByRole("button", { name: "Told, does not" }).click();
  await expect(told).toContainText(/h \d\d to .*crowns: did not agree, “not the idler, this month”/);

  await expect(async () => {
    // the timeline may be drawn anew meanwhile, with its other ways
    await page.evaluate(() => document.activeElement.blur());
    await page.locator(".timeline a[data-says]").first().focus();
    await expect(page.locator(".says-bar")).toContainText(/0:00 to 0:0/, { timeout: 1000 });
  }).toPass();

  // A pin that is missing is found before the first bolt moves.
  await page.getByRole("button", { name: /castle nut M18x1.5 and cotter pin 4 × 40: missing/ }).click();
  await expect(page.getByRole("status").filter({ hasText: "Not there" })).toContainText("cotter pin 4 × 40");

  // Another school: the steps follow.
  await expect(
    page
      .locator(".steps")
      .getByRole("link", { name: /Break the tie rod taper with the press, left/, includeHidden: true }),
  ).toHaveCount(1);
  await expect(page.locator("#ways .school").first()).toBeVisible();
  await page.getByText("more ways of working").click();
  await page
    .getByRole("region", { name: "Taper separation" })
    .getByRole("button", { name: /blow on the knuckle/ })
    .click();
  await expect(
    page
      .locator(".steps")
      .getByRole("link", { name: /Break the tie rod taper with a blow, left/, includeHidden: true }),
  ).toHaveCount(1);
  await expect(
    page.locator(".steps").getByRole("link", { name: /with the press, left/, includeHidden: true }),
  ).toHaveCount(0);
  await expect(page.getByRole("status").filter({ hasText: "Not there" })).toBeVisible(); // what was said of parts stays

  // A step is moved where the rules allow; else the rule is named.
  const step = (name) => page.locator(".steps li[id]", { hasText: name }).first();
  const unfold = (name) =>
    step(name).evaluate((li) => {
      li.closest("details").open = true;
    });
  const number = async (name) => step(name).locator(".no").textContent();
  const move = async (name, behind) => {
    await unfold(name);
    await step(name).locator(".moveit summary").click();
    await step(name).getByLabel("behind step").fill(behind);
    await step(name).getByRole("button", { name: "Move it" }).click();
  };
  await move("Free play at the steering wheel measured", await number("Raise, stands"));
  await expect(page.getByRole("alert")).toContainText("wants the vehicle on its wheels");
  // The arrows say what a move would cost before it is made.
  const lifted = step("Carrier seat and taper bare and dry, left");
  await unfold("Carrier seat and taper bare and dry, left");
  await lifted.locator(".moveit summary").click();
  await lifted.getByLabel("behind step").press("ArrowUp");
  await expect(lifted.locator(".trycost")).toContainText("Still proved");
  await lifted.getByLabel("behind step").fill("1");
  await expect(lifted.locator(".trycost")).toContainText("wants");
  await lifted.getByLabel("behind step").press("Escape");
  await move(
    "Carrier seat and taper bare and dry, left",
    await number("Carrier bolts out, ball joint out, left"),
  );
  await expect(page.getByRole("status").filter({ hasText: "Moved" })).toContainText("minutes");

  // A kit's own hardware overrides the sheet, with its source.
  const joint = page.locator(".joints tr", { hasText: "lower ball joint carrier bolts" });
  await joint.getByText("kit brings its own").click();
  await joint.getByLabel("recipe").fill("60");
  await joint.getByLabel("source").fill("leaflet of the kit (invented)");
  await joint.getByRole("button", { name: "It overrides the sheet" }).click();
  await expect(joint.getByRole("alert")).toContainText("no unit");
  await joint.getByLabel("recipe").fill("60 Nm + 30°");
  await joint.getByLabel("socket").fill("15 mm");
  await joint.getByRole("button", { name: "It overrides the sheet" }).click();
  await expect(joint).toContainText("60 Nm + 30°");
  await expect(joint).toContainText("leaflet of the kit");
  await sound(page);
});

after({ "demo-struts": "New strut beside the old" })(
  "a wrong part re-plans, a sheared bolt heals, a second technician joins",
  async ({ page, shop }) => {
    await signIn(page, shop, bel);
    await page.goto(shop.url + "/jobs/demo-struts/plan");
    await expect(page.getByRole("status").filter({ hasText: "Not there" })).toContainText("strut bolt");
    await page.getByRole("button", { name: /strut bolt M12x1.5 and nut: have/ }).click();
    await page.locator("a.start").click();
    await expect(what(page)).toHaveText(/New strut beside the old/);
    await page.getByRole("link", { name: "Measure new beside old" }).click();
    await page.getByLabel("length drawn out, old").fill("512");
    await page.getByLabel("length drawn out, new").fill("522");
    await page.getByLabel("studs, old").fill("3");
    await page.getByLabel("studs, new").fill("x");
    await expect(page.getByRole("alert")).toContainText("no number"); // while one types
    await expect(page.getByLabel("length drawn out, new")).toHaveValue("522"); // what was typed stays
    await page.getByLabel("studs, new").fill("3");
    await page.getByLabel("length drawn out, new").fill("545");
    await expect(page.locator(".measure.bars")).toContainText("does not fit");
    await expect(page.locator(".says")).toContainText("the wheel hangs");
    await sound(page);
    await page.getByText("It goes in all the same", { exact: true }).click();
    await page.getByRole("button", { name: "Accept it with these words" }).click();
    await expect(page.getByRole("alert")).toContainText("By its measures");
    await page.getByRole("button", { name: /Refuse it/ }).click();
    await expect(page.getByText(/Re-planned by Technician Bel/)).toContainText("is missing");
    const refused = page.locator(".parts tr", { hasText: "refused" });
    await expect(refused).toHaveCount(1);
    const side = /, left/.test(await refused.textContent()) ? "left" : "right";
    await page.getByRole("link", { name: "To the bench" }).click();
    // what can be done without it comes first
    await expect(what(page)).not.toHaveText(`New strut beside the old, ${side}`);

    // The right one comes; one that differs a little goes in with a note.
    await page.goto(shop.url + "/jobs/demo-struts/plan");
    await refused.getByRole("link", { name: "new beside old" }).click();
    await page.getByLabel("length drawn out, new").fill("519");
    await expect(page.locator(".key.go")).toContainText("Compare"); // the holes were not compared yet
    await page.getByText("It goes in all the same", { exact: true }).click();
    const words = page.getByRole("button", { name: "Accept it with these words" });
    await words.click();
    await expect(page.getByRole("alert")).toContainText("Not all that decides");
    await page.getByText("It goes in all the same", { exact: true }).click();
    await page.getByLabel(/^Why it goes in/).fill("kit of the heavy-duty kind, both sides alike");
    await stand(page);
    await words.click();
    await expect(page).toHaveURL(/bench/);

    await page.goto(shop.url + "/jobs/demo-struts/plan");
    await page.locator("#replan").getByLabel("hands").selectOption("2");
    await page.getByRole("button", { name: "Re-plan what is left" }).click();
    await expect(page.getByText(/Re-planned by/)).toContainText("2 at work");
    await expect(page.getByRole("region", { name: "What changed" })).toContainText(/\d+ .*as they stood/s);
    await expect(page.locator(".howlong .counts")).toContainText("two technicians");
    await page.getByRole("link", { name: "To the bench" }).click();
    await work(page, /Strut bolts in by hand/);
  },
);

test("how a vehicle is built is asked with drawings, kept with it, offered to its like, and the plan follows", async ({
  page,
  shop,
}) => {
  await signIn(page, shop, bel);
  await page.goto(shop.url + "/jobs/demo-struts/plan");
  const asked = page.getByRole("region", { name: "How it is built" });
  await expect(asked).toContainText("Where does the wheel-speed sensor sit?");
  await expect(page.locator(".seal")).toContainText("Proved");
  await expect(
    page.locator(".steps").getByText("Sensor lead out of every clip, hung slack, left"),
  ).toHaveCount(1);
  await sound(page);
  await asked.getByRole("button", { name: /inside the hub unit/ }).click();
  await expect(
    page.locator(".steps").getByText("Sensor plug apart, lead out of every clip, left"),
  ).toHaveCount(1);
  await expect(page.locator(".seal")).toContainText("Proved");
  await expect(asked).toContainText("Where does the wheel-speed sensor sit? inside the hub unit");

  // In the middle of the work another answer makes what is left anew; what is done stays.
  await page.locator("a.start").click();
  await work(page, /Wheel nuts out/);
  await page.goto(shop.url + "/jobs/demo-struts/plan");
  await expect(asked).toContainText("Where does the upper end of the stabiliser link sit?");
  await asked.getByRole("button", { name: /on the arm/ }).click();
  await expect(page.getByText(/Re-planned by Technician Bel/)).toContainText("seen on this vehicle");
  await expect(page.locator(".steps li.done").first()).toBeAttached();
  await page.locator("a.start").click();
  await expect(what(page)).toHaveText(/Wheel nuts out/);
});

// A life hangs on the joint: a second person signs.
async function second(gate) {
  await gate.getByLabel("Second person").selectOption(bel[0]);
  await gate.getByLabel("Their PIN").fill(bel[1]);
}

test("another thread treatment is told before it is taken, a turned bolt goes in again only measured", async ({
  page,
  shop,
}) => {
  await signIn(page, shop, aro);
  await page.goto(`${shop.url}/jobs/${waiting}/plan`);
  const row = page.locator("table.joints tr", { hasText: "knuckle bolts" });
  await row.locator("summary", { hasText: "another treatment" }).click();
  await row.getByLabel("thread treated with").selectOption("anti-seize");
  await expect(row.getByRole("status")).toContainText("keeps it");
  await sound(page);
  await row.getByLabel("reason", { exact: true }).last().fill("salt on every road here");
  await row.getByRole("button", { name: "Use the figure that keeps the clamp" }).click();
  await expect(row).toContainText("anti-seize");
  await expect(row).not.toContainText("medium locker, new");

  await page.goto(`${shop.url}/jobs/${waiting}/ledger`);
  const gate = page.locator(".gates > li", { hasText: "Knuckle bolts renewed" });
  await gate.getByText("pass it over").click();
  await gate.getByLabel(/Lengths measured/).fill("46,1 46.6 46.2");
  await gate.getByLabel("Reason").fill("none to be had on the island");
  await second(gate);
  await gate.getByRole("button", { name: "Sign for this deviation" }).click();
  await expect(gate.getByRole("alert")).toContainText("46.6 mm is longer than 46.5 mm");
  await expect(gate.getByLabel(/Lengths measured/)).toHaveValue("46,1 46.6 46.2");
  await gate.getByLabel(/Lengths measured/).fill("46,1 46.4 46.2");
  await second(gate);
  await gate.getByRole("button", { name: "Sign for this deviation" }).click();
  await expect(
    page.getByText("measured 46.1, 46.4, 46.2 mm, at most 46.5 mm: none to be had on the island"),
  ).toBeVisible();
});

test("a step that says measure has its fields, its limit drawn, and its place in the ledger", async ({
  page,
  shop,
}) => {
  await signIn(page, shop, aro);
  await page.goto(shop.url + "/jobs/new");
  await page.getByLabel("Vehicle").selectOption({ label: "S-1 · Caldren M9 school minibus" });
  await page.getByLabel("Complaint").fill("play in the steering");
  await page.getByLabel("Odometer").fill("212000");
  await page.getByRole("button", { name: "Choose the work" }).click();
  await order(page, "in the middle", "Idler arm and bell crank");
  await page.getByRole("button", { name: "Make the plan" }).click();
  await page.locator("a.start").click();
  const bench = page.url().replace(/\?.*/, "");
  await page.goto(bench + "?step=idler-arm.lash");
  await page.getByLabel("wheel across").fill("wide");
  await page.getByLabel("lash, mm").fill("20");
  await page.locator(".key.go").click();
  await expect(page.getByRole("alert")).toContainText("no figure");
  await expect(page.getByLabel("lash, mm")).toHaveValue("20"); // what was typed stays
  await page.getByLabel("wheel across").fill("400");
  await page.getByLabel("lash, mm").fill("200");
  await stand(page);
  await page.locator(".key.go").click();
  await expect(page.locator(".measureat .verdict-word")).toHaveText("beyond");
  await expect(page.getByLabel(/what is done about it/)).toBeVisible();
  await page.getByLabel(/what is done about it/).fill("the idler comes out");
  await sound(page);
  await stand(page);
  await page.locator(".key.go", { hasText: "Done" }).click();
  await expect(what(page)).not.toHaveText(/Free play/);
  await page.goto(bench.replace(/bench$/, "ledger"));
  await expect(
    page.locator("section", { has: page.getByRole("heading", { name: "Measured", exact: true }) }),
  ).toContainText("steering-wheel lash: 200 mm");
});
