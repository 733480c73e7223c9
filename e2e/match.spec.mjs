// A new part beside the old: what decides is asked in order, and the page answers while one types.
import { aro, expect, signIn, sound, test } from "./shop.mjs";

const step = "/jobs/demo-struts/match?step=strut-front.compare.FL";

test("one measure that fails ends the asking, and refusing comes first", async ({ page, shop }) => {
  await signIn(page, shop, aro);
  await page.goto(shop.url + step);
  await expect(page.locator(".key.go")).toContainText("Compare");
  const same = page.getByRole("button", { name: "Same on the new" });
  await expect(same).toHaveCount(0);
  await page.getByLabel("length drawn out, old").fill("512");
  await same.click(); // the gauge goes over the new one as well
  await expect(page.getByLabel("length drawn out, new")).toHaveValue("512");
  await expect(same).toHaveCount(0);
  await page.getByLabel("length drawn out, new").fill("552");
  await expect(page.locator(".measure.bars")).toContainText("does not fit");
  await expect(page.locator(".offby")).toContainText("40 mm more");
  await expect(page.locator(".measure.passed summary").first()).toContainText("not asked");
  await expect(page.locator(".key.go")).toContainText("Refuse it");
  await expect(page.getByRole("button", { name: /^Accept length drawn out does not fit/ })).toBeDisabled();
  await sound(page);

  // It may be measured all the same, and goes in with words only.
  await page.getByText("It goes in all the same", { exact: true }).click();
  await page.getByRole("button", { name: "Accept it with these words" }).click();
  await expect(page.getByRole("alert")).toContainText("By its measures this part is refused");
  await expect(page.getByLabel("length drawn out, new")).toHaveValue("552");
});

test("what is typed while an answer is on its way is kept", async ({ page, shop }) => {
  await signIn(page, shop, aro);
  await page.goto(shop.url + step);
  let answered = 0;
  await page.route("**/match", async (route) => {
    await new Promise((later) => setTimeout(later, 700));
    await route.continue().catch(() => {}); // the page may have let it go
    answered++;
  });
  const type = async (label, text) => {
    await page.getByLabel(label).click();
    await page.keyboard.type(text);
  };
  await type("length drawn out, old", "512");
  await page.waitForTimeout(600); // the page has asked, and waits
  await type("length drawn out, new", "513");
  await type("studs, old", "3");
  await expect.poll(() => answered).toBe(2);
  await expect(page.locator(".measure .word .fits")).toHaveText("fits");
  await expect(page.getByLabel("length drawn out, old")).toHaveValue("512");
  await expect(page.getByLabel("length drawn out, new")).toHaveValue("513");
  await expect(page.getByLabel("studs, old")).toHaveValue("3");
});

test("an answer changes what it says, and leaves the fields and keys where a finger is", async ({
  page,
  shop,
}) => {
  await signIn(page, shop, aro);
  await page.goto(shop.url + step);
  const note = page.getByLabel(/^Why it goes in/);
  await page.evaluate(() => {
    for (const el of document.querySelectorAll("form.matched, form.matched input, .keys button, summary"))
      el.was = true;
  });
  await page.getByLabel("length drawn out, old").fill("512");
  await page.locator(".says summary").click();
  await note.fill("by the same gauge");
  await page.getByLabel("length drawn out, new").fill("513");
  await expect(page.locator(".measure .word .fits")).toHaveText("fits");
  await expect(page.getByLabel("length drawn out, new")).toBeFocused();
  await expect(note).toHaveValue("by the same gauge");
  const anew = await page.evaluate(() =>
    [...document.querySelectorAll("form.matched, form.matched input, .keys button, summary")]
      .filter((el) => !el.was)
      .map((el) => el.outerHTML.slice(0, 80)),
  );
  expect(anew).toEqual([]);
});
