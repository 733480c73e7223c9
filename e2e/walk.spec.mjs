// A complaint carried to a plan.
import { aro, expect, signIn, sound, test, toRoom } from "./shop.mjs";

test("from complaint to plan, on a phone", async ({ page, shop }) => {
  await page.setViewportSize({ width: 390, height: 844 });
  await signIn(page, shop, aro);
  await page.goto(shop.url + "/jobs/new");
  await page.getByLabel("Vehicle").selectOption({ label: "Q-09 · Ostrel C22 van" });
  await page.getByLabel("Complaint").fill("hums, louder in left-hand bends");
  await page.getByLabel("Odometer").fill("97000"); // it stood higher
  await page.getByRole("button", { name: "Walk-round first" }).click();
  await expect(page.getByRole("alert")).toContainText("does not run backwards");
  await page.getByLabel("Why it runs backwards").fill("new panel after the flood");
  await page.getByRole("button", { name: "Walk-round first" }).click();
  await expect(page).toHaveURL(/walk/);
  await sound(page);
  const chip = (name) => page.locator(".places .chip", { hasText: name });
  const ask = (text) => page.locator(".qs .question", { hasText: text });
  const told = page.locator(".told .question");
  await expect(told.first()).toContainText("Hum or growl"); // the words of the complaint, to be confirmed
  const place = (name) => page.locator(".walkplan").getByRole("link", { name: new RegExp(`^${name}:`) });
  await place("Road").click();
  await ask("Hum or growl").getByRole("button", { name: "Yes" }).click();
  await expect(ask("Hum or growl").locator(".on")).toHaveText("Yes");
  await ask("grow in left-hand bends").getByRole("button", { name: "Yes" }).click();
  await expect(page.locator(".suspects li").first()).toContainText("hub bearing, right");
  await ask("Hum or growl").getByRole("button", { name: "take back" }).click();
  await expect(ask("Hum or growl").locator(".on")).toHaveCount(0);
  await expect(ask("with the road surface")).toHaveCount(0); // asked only of a hum
  await ask("Hum or growl").getByRole("button", { name: "Yes" }).click();
  await page.getByLabel("or have the stand-in").selectOption("nothing wrong");
  await page.getByRole("button", { name: "Analyse" }).click();
  await expect(page.getByRole("heading", { name: "Recorded drive" })).toBeVisible();
  await expect(ask("once a wheel turn").locator(".on")).toHaveText("No");
  await page.locator("#roadcsv").fill("1,2");
  await page.getByLabel("or have the stand-in").selectOption("");
  await page.getByRole("button", { name: "Analyse" }).click();
  await expect(page.getByRole("alert")).toContainText("Line 1: 2 columns");
  await sound(page);

  await page.getByLabel("The vehicle is").selectOption("raised");
  await place("FR").click();
  await chip("hub").click();
  const play = page.locator("form.measure", { hasText: "hub bearing play" });
  await expect(play).toContainText("No limit is known");
  await play.getByLabel("measured").fill("0,4");
  await play.getByLabel(/maker.s limit/).fill("0.2");
  await play.getByLabel("its source").fill("shop book 3.1 (invented)");
  await play.getByRole("button", { name: "Judge" }).click();
  await expect(page.locator(".taken")).toContainText("beyond");
  await chip("wheel").first().click();
  await ask("gone with the foot brake").getByRole("button", { name: "yes, front right" }).click();
  await expect(ask("gone with the foot brake").locator(".on")).toHaveText("FR");
  await expect(page.locator(".suspects li").first()).toContainText("hub bearing, FR");
  await chip("brake").click();
  await page.getByLabel("thickness at each point").fill("26.01 26.00 x");
  await page.getByLabel("new, mm").fill("28");
  await page.getByLabel("discard, mm").fill("25");
  await page.getByLabel("km since new").fill("60000");
  const rotor = page.locator("form.measure", { hasText: "rotor, several points" });
  await rotor.getByRole("button", { name: "Judge" }).click();
  await expect(page.getByRole("alert")).toContainText("no figure");
  await expect(page.getByLabel("discard, mm")).toHaveValue("25"); // what was typed stays
  await page.getByLabel("thickness at each point").fill("26.01 26.00 26.01");
  await rotor.getByRole("button", { name: "Judge" }).click();
  await expect(page.locator(".taken").first()).toContainText("Keep");
  await sound(page);

  await page.getByLabel("Found outside the job").fill("wet connector behind the left lamp");
  await page
    .getByLabel("photograph")
    .setInputFiles({ name: "x.jpg", mimeType: "image/jpeg", buffer: Buffer.from("no picture") });
  await page.getByRole("button", { name: "Note it" }).click();
  await expect(page.getByRole("alert")).toContainText("no photograph");
  await page
    .getByLabel("photograph")
    .setInputFiles({ name: "x.png", mimeType: "image/png", buffer: await page.screenshot() });
  await page.getByRole("button", { name: "Note it" }).click();
  await expect(page.getByRole("img", { name: /wet connector/ })).toBeVisible();

  const proposal = page.locator(".proposal", { hasText: "Hub bearing" });
  await proposal.getByText("decline", { exact: true }).click();
  await expect(proposal.getByRole("button", { name: /goes on the report/ })).toBeVisible();
  await proposal.getByLabel("do it").check();
  await page.getByRole("button", { name: "Accept what is ticked and plan it" }).click();
  await expect(page.getByLabel("Hub unit, front right")).toBeChecked();
  await page.getByRole("button", { name: "Make the plan" }).click();
  await expect(page.getByRole("heading", { name: "Front hub unit, right" })).toBeVisible();
  await toRoom(page, "Walk");
  await expect(page.locator(".proposal").first()).toContainText("Accepted");
  await toRoom(page, "Ledger");
  await expect(page.getByText("wet connector behind the left lamp")).toBeVisible();
});

test("answers that disagree, and what is measured, take the question's place", async ({ page, shop }) => {
  await signIn(page, shop, aro);
  await page.goto(shop.url + "/jobs/demo-complaint/walk?place=road");
  const question = (text) => page.locator("li.question", { hasText: text });
  await question("grow in right-hand bends").getByRole("button", { name: "Yes", exact: true }).click();
  const clash = page.getByRole("region", { name: "Two answers that disagree" });
  await expect(clash).toContainText("Technician Bel");
  await expect(clash).toContainText("Two people looked");
  await expect(page.locator(".answerkeys")).toHaveCount(0);
  await sound(page);
  await clash.locator(".side", { hasText: "right-hand bends and fade" }).getByRole("button").click();
  await expect(clash).toHaveCount(0);
  await page.goto(shop.url + "/jobs/demo-complaint/walk");
  await expect(page.locator(".struck")).toContainText("right-hand bends");

  await page.goto(shop.url + "/jobs/demo-complaint/walk?at=raised&place=hub");
  await page.keyboard.press("m");
  await expect(page.locator(".measuring")).toBeVisible();
  await page.goto(shop.url + "/jobs/demo-complaint/walk?at=raised&place=hub&measure=hub-runout");
  const field = page.locator(".measuring").getByLabel("measured, mm");
  await expect(field).toBeFocused();
  await field.fill("a hair");
  await page.keyboard.press("Enter");
  await expect(page.locator(".measuring")).toContainText("no figure");
  await expect(field).toHaveValue("a hair");
  await field.fill("0.02");
  await page.keyboard.press("Enter");
  await expect(page.locator(".measuring .taken")).toContainText("0.02 mm");
  await expect(field).toHaveValue(""); // what was recorded does not stand ready to be recorded again
  await sound(page);
});

test("one question is in hand, and keys answer it", async ({ page, shop }) => {
  await signIn(page, shop, aro);
  await page.goto(shop.url + "/jobs/demo-complaint/walk");
  const question = page.locator(".next h1");
  const keys = page.locator(".answerkeys");
  const first = await question.textContent();
  await expect(keys.getByRole("button", { name: /^No/ })).toBeInViewport({ ratio: 1 }); // without scrolling
  await page.keyboard.press("c"); // cannot tell: the next one, and nothing is recorded
  await expect(question).not.toHaveText(first);
  await expect(page.locator(".strip")).toContainText("3 asked");
  const second = await question.textContent();
  await expect(page.locator(".tests [aria-current]")).toContainText(second);
  await page.keyboard.press("n");
  await expect(page.locator(".last")).toContainText(`${second} no`);
  await expect(page.locator(".strip")).toContainText("4 asked");
  await page.keyboard.press("z");
  await expect(page.locator(".strip")).toContainText("3 asked");
  await page.goto(shop.url + "/jobs/demo-complaint/walk?at=raised&place=FR");
  await expect(page.locator(".sbar[aria-label*='a yes would make it']").first()).toBeVisible();
  await expect(page.locator(".walkplan [aria-current]")).toHaveAttribute("aria-label", /^FR/);
  await sound(page);
});
