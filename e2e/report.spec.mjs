// The owner's report as one file, opened where there is no shop and no network: it proves itself, and a changed letter
// is seen.
import { readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { pathToFileURL } from "node:url";
import { after, aro, cass, expect, half, over, signIn, sound, work } from "./shop.mjs";

const test = after({ [half]: "Count the tools" });

test("the report as a file: it holds, it is broken, it is not checked", async ({ page, shop, browser }) => {
  await signIn(page, shop, aro);
  await page.goto(`${shop.url}/jobs/${half}/bench`);
  await work(page, /Nothing is left/);
  await page.goto(`${shop.url}/jobs/${half}/ledger`);
  await page.getByLabel("Technician Aro, your PIN").fill(aro[1]);
  await page.getByRole("button", { name: "Sign", exact: true }).click();
  await expect(page.locator(".big.ok")).toHaveText("Signed");
  const [file] = await Promise.all([
    page.waitForEvent("download"),
    page.getByRole("link", { name: "Report for the owner, one file" }).click(),
  ]);
  expect(file.suggestedFilename()).toMatch(/^q-14-.*\.html$/);
  const whole = readFileSync(await file.path(), "utf8");

  const context = await browser.newContext({ viewport: { width: 390, height: 844 }, offline: true });
  const phone = await context.newPage();
  const asked = [];
  phone.on("request", (r) => asked.push(r.url()));
  const open = async (text, name) => {
    const path = join(shop.dir, `${name}.html`);
    writeFileSync(path, text);
    await phone.goto(pathToFileURL(path).href);
  };
  const seal = phone.locator("#seal");
  await open(whole, "whole");
  await expect(seal).toHaveClass("holds");
  await expect(seal).toContainText("This record holds");
  await expect(phone.locator("h1")).toHaveText(/^May be driven/);
  await expect(phone.locator("#words b")).toHaveText(/^[a-z]+( [a-z]+){4}$/);
  await expect(phone.locator("article")).toContainText("Come back");
  await expect(phone.getByRole("link", { name: "Into your calendar" })).toHaveAttribute(
    "href",
    /^data:text\/calendar;base64,/,
  );
  expect(asked.filter((url) => !/^(file|data):/.test(url))).toEqual([]);
  await sound(phone);
  const words = await phone.locator("#words b").innerText();

  // The five words are those of the shop.
  const boss = await browser.newPage();
  await signIn(boss, shop, cass);
  await boss.goto(`${shop.url}/office`);
  await expect(boss.locator("main")).toContainText(words);
  await boss.close();

  for (const [name, from, to, says] of [
    [
      "line",
      /("letter":"B",.*?"peak_nm":)6/,
      "$17",
      /Line \d+ was changed after it was signed\. Lines 1 to \d+ hold/,
    ],
    ["word", "May be driven", "May be raced", /the words of this page are not those/],
    ["picture", 'class="dim"', 'class="dimmed"', /the words of this page are not those/],
    ["style", "font-size: 2.4rem", "font-size: 0.0rem", /the words of this page are not those/],
    ["sheet", "</head>", "<style>h1{display:none}</style></head>", /did not write/],
    ["beside", "<article", "<h1>May be driven</h1><article", /did not write/],
    ["text", "<article", "May be driven<article", /did not write/],
    ["alt", "Key, fingerprint", "Key, finger print", /the words of this page are not those/],
    ["title", "<title>", "<title>Sound: ", /the words of this page are not those/],
    ["end", /("signature":")./, (m, a) => a + "!", /Not checked|not signed by this key/],
    ["none", /("format":)/, "$1,", /cannot be read any more/],
  ]) {
    const changed = whole.replace(from, to);
    expect(changed, name).not.toBe(whole);
    await open(changed, name);
    await expect(seal, name).not.toHaveClass("holds");
    await expect(seal, name).toContainText(says);
  }
  await open(whole.replace(/("letter":"B",.*?"peak_nm":)6/, "$17"), "line");
  await expect(seal).toContainText("This record is broken");
  await expect(phone.locator("#lines .off")).toHaveCount(2);
  await sound(phone);
  expect(await phone.evaluate(over)).toBeLessThanOrEqual(1);

  // A line taken out of the middle, and the last one.
  const lines = whole.split("\n");
  const at = lines.findIndex((l) => l.startsWith('{"id"') || l.startsWith('{"job"'));
  expect(at).toBeGreaterThan(0);
  await open([...lines.slice(0, at + 9), ...lines.slice(at + 10)].join("\n"), "short");
  await expect(seal).toContainText(/Line 10 was changed/);

  const still = await browser.newContext({ javaScriptEnabled: false, offline: true });
  const reader = await still.newPage();
  await reader.goto(pathToFileURL(join(shop.dir, "whole.html")).href);
  await expect(reader.locator("#seal")).toHaveClass("unchecked");
  await expect(reader.locator("#seal")).toContainText("Not checked");
  await expect(reader.locator("h1")).toHaveText(/^May be driven/);
  await context.close();
  await still.close();
});
