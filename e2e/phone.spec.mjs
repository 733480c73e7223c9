// An angle turned by the phone on the bar: the browser's own override of its orientation moves it.
import { act, aro, byClick, expect, half, signIn, sound, stand, tap, test, what, waits } from "./shop.mjs";

test("the phone counts a turn, and its verdict says how sure it is", async ({ page, shop, context }) => {
  await context.grantPermissions(["accelerometer", "gyroscope"]); // as a phone's own browser does
  await page.setViewportSize({ width: 390, height: 844 });
  await signIn(page, shop, aro);
  await waits(page, shop);
  await page.goto(`${shop.url}/jobs/${half}/bench?step=front-hub-unit.knuckle-1.FL`);
  for (let n = 0; n < 12 && !/stage 2 of 2/.test(await what(page).textContent()); n++) await act(page);
  await byClick(page);
  const device = await context.newCDPSession(page);
  const lie = (alpha, beta, gamma) =>
    device.send("DeviceOrientation.setDeviceOrientationOverride", { alpha, beta, gamma });
  await page.getByRole("link", { name: "Turn it by this phone" }).click();
  const key = page.locator(".key.go");
  // Nothing tells its motion yet: the key is dead, or asks for it where the browser wants to be asked.
  const asked = await page.evaluate(() => "requestPermission" in DeviceOrientationEvent);
  if (asked) await expect(page.locator("#phonesays")).toContainText("let this device tell its motion");
  else await expect(key).toBeDisabled();
  await lie(10, 0, 0);
  await expect(page.locator("#phonesays")).toContainText("Lay it on the bar");
  await expect(key).toBeEnabled();
  await sound(page);

  // It stands on edge and rolls about a level axis: gravity tells it, to a degree and a half.
  const turned = async (from, to) => {
    for (let at = from; at <= to; at += 3) await lie(10, at, 0);
  };
  await stand(page);
  await key.click();
  await expect(key).toContainText("It is turned");
  await turned(0, 60);
  await expect(page.locator("#turned")).toHaveText("60");
  await expect(page.locator("#phonesays")).toContainText("± 1.5° told by gravity");
  await turned(63, 90);
  await expect(page.locator("#turned")).toHaveText("90");
  await sound(page);
  await tap(page, key, page.locator(".verdictcard"));
  await expect(page.locator(".verdictcard")).toContainText("± 1.5°");
  await expect(page.locator(".verdictcard")).toContainText("in 85–95°");
  await sound(page);
  await page.goto(`${shop.url}/jobs/${half}/ledger`);
  await expect(page.locator("main")).toContainText("90° ± 1.5°");
});
