// The vehicle leaves, or it does not, and either can be shown.
import { execFileSync } from "node:child_process";
import { writeFileSync } from "node:fs";
import { join } from "node:path";
import { sealed } from "./seal.mjs";
import {
  act,
  after,
  aro,
  bel,
  binary,
  expect,
  half,
  press,
  signIn,
  sound,
  test,
  toRoom,
  what,
  work,
} from "./shop.mjs";

const drive = /^Road test/;

after({ [half]: "Road test" })(
  "a failed drive goes back to the walk-round, a good one to the signature and beyond",
  async ({ page, shop }) => {
    await signIn(page, shop, aro);
    const at = `${shop.url}/jobs/${half}`;
    await page.goto(at + "/bench");
    await expect(what(page)).toHaveText(drive);
    const rows = page.locator(".trial .felt");
    await press(page); // nothing is said yet: the key leads to the first that has no answer
    await expect(rows.first().getByRole("radio", { name: "Sound" })).toBeFocused();
    await page.getByRole("link", { name: "Card for driver and passenger" }).click(); // it takes the answers as well
    const say = (i, word) => rows.nth(i).getByRole("radio", { name: word }).check({ force: true });
    for (let i = 0; i < (await rows.count()); i++) await say(i, "Sound");
    await say(1, "Wrong");
    const felt = page.getByLabel("what was felt").nth(1);
    await felt.fill("hums at 60 as before");
    await sound(page);
    await page.getByRole("button", { name: /Driven: this was felt/ }).click();
    await expect(page).toHaveURL(/\/walk/);
    await expect(page.locator(".strip")).toContainText("The drive failed");
    await expect(page.locator(".strip")).toContainText("hums at 60 as before");
    await sound(page);

    await toRoom(page, "Bench");
    await expect(what(page)).toHaveText(drive);
    await expect(page.locator(".trial li").nth(1)).toContainText("the last drive: hums at 60 as before");
    await act(page);
    await expect(what(page)).not.toHaveText(drive);
    await work(page, /Nothing is left/);
    await toRoom(page, "Ledger");
    await page.getByLabel("Technician Aro, your PIN").fill(aro[1]);
    await page.getByRole("button", { name: "Sign", exact: true }).click();
    await expect(page.locator(".big.ok")).toHaveText("Signed");

    const due = page.locator(".dues li", { hasText: "Wheel nuts again" });
    await due.getByText("close it").click();
    await due.getByLabel("odometer, km").fill("12");
    await due.getByLabel("what was found").fill("130 N·m, none moved");
    await due.getByRole("button", { name: "Done", exact: true }).click();
    await expect(page.getByRole("alert")).toContainText("less than when the job began");
    await expect(due.getByLabel("what was found")).toHaveValue("130 N·m, none moved");
    await due.getByLabel("odometer, km").fill("148330");
    await due.getByRole("button", { name: "Done", exact: true }).click();
    await expect(due).toContainText("Done at 148\u202f330 km");
    await sound(page);

    await page.getByRole("link", { name: "Report", exact: true }).click();
    for (const name of ["For the owner", "For the inspector", "For a verifier"])
      await expect(page.getByRole("region", { name })).toBeVisible();
    await expect(page.getByText("May be driven", { exact: true })).toBeVisible();
    await expect(page.getByText(/Road test failed/)).toContainText("hums at 60 as before");
    await expect(page.getByText(/Pedal firm after 6 strokes/)).toBeVisible();
    await sound(page);

    // Whoever has the file and the paper needs no shop, and no program of ours.
    const file = await (await page.request.get(at + "/job.json")).text();
    const hash = await page.locator(".hash").first().textContent();
    expect(sealed(file)).toBe("ok " + hash);
    expect(sealed(file.replace("none moved", "one moved"))).toContain("does not match its seal");
    const saved = join(shop.dir, "closed.json");
    writeFileSync(saved, file);
    const key = await page.locator(".hash").last().textContent(); // as the paper has it
    const paper = ["verify", saved, hash.replace(/(.{4})/g, "$1 "), "--trust", key];
    expect(String(execFileSync(binary, paper))).toContain("ok");
    expect(() => execFileSync(binary, ["verify", saved, "abcd"], { stdio: "pipe" })).toThrow(/another hash/);
  },
);

test("a corner is handed over with a word, and the other tablet says so", async ({ page, shop, browser }) => {
  await signIn(page, shop, aro);
  await page.goto(`${shop.url}/jobs/${half}/bench`);
  await page.keyboard.press("h"); // a key of its own
  await expect(page.getByLabel("to", { exact: true })).toBeFocused();
  await page.getByLabel("to", { exact: true }).selectOption("Technician Bel");
  await page.getByLabel("what the other must know").fill("clips are short");
  await sound(page);
  await page.getByRole("button", { name: "Hand it over" }).click();
  await expect(page.locator(".handed")).toContainText("FL is in Technician Bel’s hand");
  await sound(page);
  const other = await (await browser.newContext()).newPage();
  await signIn(other, shop, bel);
  await other.goto(`${shop.url}/jobs/${half}/bench`);
  await expect(other.locator(".handed")).toContainText("“clips are short”");
  await other.goto(shop.url + "/");
  await expect(other.locator(".bay", { hasText: "Q-14" }).locator(".bayhanded")).toHaveText(
    "handed to Bel: clips are short",
  );
});

test("what is due stands on the bays, and in a calendar", async ({ page, shop }) => {
  await signIn(page, shop, aro);
  const line = page.getByRole("region", { name: "Due after the signature" }).locator("li").first();
  await expect(line).toContainText("Wheel nuts again");
  await expect(line).toContainText("was due");
  const calendar = await (await page.request.get(shop.url + "/due.ics")).text();
  expect(calendar).toMatch(/^BEGIN:VCALENDAR\r\n/);
  expect(calendar).toContain("SUMMARY:P-2");
  await sound(page);
  await line.getByRole("link").click();
  await expect(page.locator(".dues li").first()).toBeInViewport();
});
