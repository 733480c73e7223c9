// Takes the pictures in docs/screenshots from a demo shop of its own.
import { mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { dirname, join } from "node:path";
import { pathToFileURL } from "node:url";
import { chromium } from "@playwright/test";
import config from "./playwright.config.mjs";
import { serve } from "./shop.mjs";

const { url: base, stop } = await serve(["demo", "--addr", "127.0.0.1:0"]);
const browser = await chromium.launch(config.use.launchOptions);
const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
await page.goto(base + "/signin");
await page.getByRole("radio", { name: "Technician Aro" }).check();
await page.getByLabel("PIN").fill("2401");
await page.getByRole("button", { name: "Sign in" }).click();
await page.getByRole("heading", { name: "Bays" }).waitFor();
for (const [name, path, width = 1280, height = 800] of [
  ["bays", "/"],
  ["plan", "/jobs/demo-struts/plan"],
  ["order", "/jobs/demo-struts/order"],
  ["ready", "/jobs/demo-half-done/ready"],
  [
    "match",
    "/jobs/demo-struts/match?step=strut-front.compare.FL&old-extended_mm=512&new-extended_mm=520" +
      "&old-studs=3&new-studs=3&old-bracket_holes_mm=62&new-bracket_holes_mm=62.4",
  ],
  ["bench", "/jobs/demo-half-done/bench"],
  ["ledger", "/jobs/demo-half-done/ledger"],
  ["office", "/office"],
  ["crib", "/crib"],
  ["reckoner", "/reckoner?text=45%20ft-lb%20%2B%2090%C2%B0"],
  ["sheet", "/shelf/ostrel-c22"],
  ["walk", "/jobs/demo-complaint/walk?place=hub&at=raised"],
  ["practice", "/practice"],
  ["fleet", "/fleet"],
  ["vehicle", "/vehicles/demo-q14"],
  ["wall", "/wall"],
  ["bench-phone", "/jobs/demo-half-done/bench", 390, 844],
]) {
  await page.setViewportSize({ width, height });
  await page.goto(base + path);
  if (name === "plan") await page.locator("#ways .school").first().waitFor();
  await page.waitForTimeout(300);
  await page.screenshot({ path: new URL(`../docs/screenshots/${name}.png`, import.meta.url).pathname });
}
// The owner's report is a file: it is opened as one, on a phone.
const file = join(mkdtempSync(join(tmpdir(), "lugtak-report-")), "report.html");
writeFileSync(file, await (await page.request.get(`${base}/jobs/demo-done/report.html`)).text());
await page.setViewportSize({ width: 390, height: 844 });
await page.goto(pathToFileURL(file).href);
await page.locator("#seal.holds").waitFor();
await page.screenshot({ path: new URL("../docs/screenshots/report.png", import.meta.url).pathname });
rmSync(dirname(file), { recursive: true });
// Trouble, and what it leads to, changes the job: last.
const shot = (name) =>
  page.screenshot({ path: new URL(`../docs/screenshots/${name}.png`, import.meta.url).pathname });
await page.setViewportSize({ width: 1280, height: 800 });
await page.goto(`${base}/jobs/demo-half-done/bench?panel=trouble`);
await page.waitForTimeout(300);
await page.getByRole("button", { name: /^stuck/ }).click();
await page.locator(".trykeys").waitFor();
await page.waitForTimeout(300);
await shot("release");
await browser.close();
await stop();
