// A printed tag is read by the camera, or typed as it stands below its code.
import { writeFileSync } from "node:fs";
import { join } from "node:path";
import { chromium } from "@playwright/test";
import config from "./playwright.config.mjs";
import { aro, expect, half, signIn, sound, test } from "./shop.mjs";

// film is a still film (YUV4MPEG2, 4:2:0) of a drawn code, as a camera held before it sees it.
function film(code) {
  const [w, h, dot] = [640, 480, Math.floor(420 / code.size)];
  const [x0, y0] = [(w - code.size * dot) >> 1, (h - code.size * dot) >> 1];
  const light = Buffer.alloc(w * h, 235);
  for (const r of code.dark)
    for (let y = r.y * dot; y < (r.y + 1) * dot; y++) {
      const from = (y0 + y) * w + x0 + r.x * dot;
      light.fill(16, from, from + r.width * dot);
    }
  const frame = [Buffer.from("FRAME\n"), light, Buffer.alloc((w * h) / 2, 128)];
  return Buffer.concat([Buffer.from(`YUV4MPEG2 W${w} H${h} F10:1 Ip A1:1 C420jpeg\n`), ...frame, ...frame]);
}

// drawn reads a code off the page.
const drawn = (svg) =>
  svg.evaluate((el) => ({
    size: el.viewBox.baseVal.width,
    dark: [...el.querySelectorAll("rect")].map((r) => ({
      x: r.x.baseVal.value,
      y: r.y.baseVal.value,
      width: r.width.baseVal.value,
    })),
  }));

test("a tag is printed, seen by the camera, and leads to its vehicle", async ({ page, shop }) => {
  await signIn(page, shop, aro);
  await page.goto(shop.url + "/tags?q=P-2");
  await sound(page);
  const file = join(shop.dir, "tag.y4m");
  writeFileSync(file, film(await drawn(page.locator(".qr").first())));
  const { launchOptions } = config.use;
  const browser = await chromium.launch({
    ...launchOptions,
    args: [
      ...launchOptions.args,
      "--use-fake-ui-for-media-stream",
      "--use-fake-device-for-media-stream",
      `--use-file-for-fake-video-capture=${file}`,
    ],
  });
  const tablet = await browser.newPage();
  await signIn(tablet, shop, aro);
  await tablet.goto(shop.url + "/scan");
  await tablet.getByRole("button", { name: "Use the camera" }).click();
  await expect(tablet.getByRole("heading", { name: /P-2/ })).toBeVisible();
  await browser.close();
});

test("a tray is typed, and a word that is no tag keeps what was typed", async ({ page, shop }) => {
  await signIn(page, shop, aro);
  await page.goto(`${shop.url}/jobs/${half}/plan`);
  await page.getByRole("link", { name: "Print tags" }).click();
  const typed = await page.locator(".tagsheet code").first().innerText();
  await page.goto(shop.url + "/scan");
  await sound(page);
  await page.getByLabel("What stands below the code").fill("nobody");
  await page.keyboard.press("Enter");
  await expect(page.getByRole("alert")).toContainText("nobody");
  await expect(page.getByLabel("What stands below the code")).toHaveValue("nobody");
  await page.getByLabel("What stands below the code").fill(typed);
  await page.keyboard.press("Enter");
  await expect(page).toHaveURL(/plan#tray-/);
});
