// The demo as it ships: half a year of the motor pool behind it, nine places on its floor.
import { aro, expect, over, serve, signIn, sound, test } from "./shop.mjs";

test("the demo lives: its floor, its wall, a vehicle's past, the office", async ({ page }) => {
  test.setTimeout(240_000); // the past is made once
  const shop = await serve(["demo", "--addr", "127.0.0.1:0"]);
  await signIn(page, shop, aro);
  await expect(page.locator(".bay:not(.free)")).toHaveCount(8);
  await expect(page.locator(".floorsays")).toContainText(/8 at work, 1 free.*owed.*in danger/s);
  await sound(page);
  await page.locator(".bay", { hasText: "Q-14" }).click({ position: { x: 120, y: 200 } }); // anywhere on it
  await page.waitForURL(/demo-half-done\/bench/);

  await page.goto(`${shop.url}/wall`);
  await expect(page.locator(".wallbay")).toHaveCount(9);
  await expect(page.locator(".wallbay.free")).toContainText("5");
  const least = await page
    .locator(".wallbay :not(svg, svg *)")
    .evaluateAll((all) =>
      Math.min(...all.filter((el) => el.innerText).map((el) => parseFloat(getComputedStyle(el).fontSize))),
    );
  expect(least / (await page.evaluate(() => innerHeight))).toBeGreaterThanOrEqual(42 / 1080);
  await sound(page);

  await page.goto(`${shop.url}/vehicles/demo-q14`);
  await expect(page.locator(".wearchart")).toHaveCount(4);
  await expect(page.locator(".corner-FL")).toContainText(/limit 1\.6 · about/);
  await sound(page);
  await page.goto(`${shop.url}/office`);
  await expect(page.locator("main")).toContainText(/[5-9]\d\s+signed in\s+thirteen\s+weeks/);
  await expect(page.locator("main")).not.toContainText(/@(FL|FR|RL|RR)/); // work by its name
  for (const path of ["/", "/wall", "/vehicles/demo-q14", "/fleet", "/office"]) {
    for (const width of [1280, 1024, 390]) {
      await page.setViewportSize({ width, height: 800 });
      await page.goto(shop.url + path);
      expect(await page.evaluate(over), `${path} at ${width}`).toBeLessThanOrEqual(1);
    }
  }
  await shop.stop();
});

test("a wall nobody hears from says since when, and keeps what it showed", async ({
  page,
  shop,
  context,
}) => {
  await signIn(page, shop, aro);
  await page.goto(`${shop.url}/wall`);
  const bays = page.locator(".wallbay:not(.free)");
  await expect(bays).toHaveCount(4);
  const stale = page.locator("#offline");
  await context.setOffline(true);
  await expect(stale).toContainText(/No network.* knew at \d\d:\d\d/, { timeout: 20_000 });
  await context.setOffline(false);
  await expect(stale).toBeHidden({ timeout: 20_000 });
  await context.clearCookies(); // its session ended
  await expect(stale).toContainText(/sign in again/i, { timeout: 20_000 });
  await expect(bays).toHaveCount(4);
  const foot = await page.locator("#wall").evaluate((el) => el.getBoundingClientRect().bottom - innerHeight);
  expect(foot).toBeLessThanOrEqual(1); // what is said pushes no bay off the screen
});
