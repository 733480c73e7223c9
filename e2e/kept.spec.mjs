// What a real shop says it has, and what it has read: sockets by the set, a list of tools, one walk to the
// wall, what a joint took, and a sheet that goes to another shop.
import { spawnSync } from "node:child_process";
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { binary, dey, expect, order, own as test, serve, signIn, sound } from "./shop.mjs";

// other is a second shop, with its own file and key.
async function other() {
  const dir = mkdtempSync(join(tmpdir(), "lugtak-other-"));
  const db = join(dir, "shop.db");
  const input = `${dey[1]}\n${dey[1]}\n`;
  expect(spawnSync(binary, ["init", "--db", db, "--name", dey[0]], { input }).status).toBe(0);
  const s = await serve(["serve", "--addr", "127.0.0.1:0", "--db", db]);
  return { ...s, dir, end: () => s.stop().then(() => rmSync(dir, { recursive: true, force: true })) };
}

async function takeIn(page, shop, kind, path) {
  await page.goto(shop.url + "/imports");
  await page.getByRole("group").getByText(kind, { exact: true }).click();
  await page.locator("#file").setInputFiles(path);
  await page.getByRole("button", { name: "Look at it" }).click();
}

async function begins(page, shop, number) {
  await page.goto(shop.url + "/vehicles/new");
  await page.locator("#fleet").fill(number);
  await page.locator("#name").fill("Quay van");
  for (const seen of ["van", "the front ones", "a strut, one arm below"]) {
    await page.locator(".drawn", { has: page.getByText(seen, { exact: true }) }).click();
  }
  await page.getByRole("button", { name: "It comes in" }).click();
  await plans(page);
}

async function plans(page) {
  await page.waitForURL(/jobs\/new/);
  await page.getByLabel("Complaint").fill("hums at speed");
  await page.getByLabel("Odometer, km").fill("148000");
  await page.getByRole("button", { name: "Choose the work" }).click();
  await order(page, "front left", "Hub unit");
  await page.getByRole("button", { name: "Make the plan" }).click();
  await page.waitForURL(/\/plan$/);
  return page.url().replace(/\/plan$/, "");
}

test("what a shop has, and what it has read", async ({ page, shop }) => {
  await page.setViewportSize({ width: 1280, height: 800 });
  await signIn(page, shop, dey);

  // Sockets by the set, one of them lacking; a list of tools with a range upside down is refused whole.
  await page.goto(shop.url + "/crib");
  await page
    .locator(".socketset", { hasText: "1/2 in square, metric" })
    .getByRole("button", { name: "the whole set" })
    .click();
  await expect(page.locator(".chips")).toContainText("36 mm, 1/2 square");
  await page.goto(shop.url + "/crib");
  await page.getByText("by the set", { exact: true }).click();
  await page
    .locator(".socketset", { hasText: "1/2 in square, metric" })
    .getByText("19 mm", { exact: true })
    .click();
  await page.getByRole("button", { name: "Keep what is ticked" }).click();
  await expect(page.locator(".chips")).not.toContainText("19 mm");
  await sound(page);
  const dir = mkdtempSync(join(tmpdir(), "lugtak-lists-"));
  const list = join(dir, "tools.csv");
  const head = "name,kind,max_nm,step_nm,drive,length_mm,serial\n";
  writeFileSync(list, head + "Long,click,200,1,1/2,420,A 7\nShort,click,2,200,1/4,280,A 8\n");
  await takeIn(page, shop, "torque tools, CSV", list);
  await expect(page.getByRole("alert")).toContainText("Line 3, step_nm");
  writeFileSync(list, head + "Long,click,200,1,1/2,420,A 7\n");
  await takeIn(page, shop, "torque tools, CSV", list);
  await page.getByRole("button", { name: "Take it in, all of it" }).click();
  await page.goto(shop.url + "/crib");
  await expect(page.locator("section.tool", { hasText: "Long" })).toContainText("Not to be used");

  // One walk to the wall: what is known, what lacks, what nobody has said.
  await begins(page, shop, "H-31");
  const job = page.url().replace(/\/plan$/, "");
  await page.getByRole("link", { name: "One walk to the wall" }).click();
  await expect(page.locator(".boards")).toContainText("size not known yet");
  await expect(page.locator(".short")).toContainText("Nobody has read these figures");
  await sound(page);

  // A line for whoever comes next: the head of the wheel nuts is known from now on, and lacks in the crib.
  await page.goto(`${job}/bench?step=wheel.crack.FL&panel=trouble`);
  await page.getByText("what it took, for the next one").click();
  await page.getByLabel("size", { exact: true }).fill("19");
  await page.getByRole("button", { name: "Keep it", exact: true }).click();
  await expect(page.locator("div.fault").first()).toContainText("No socket “19” is made");
  await expect(page.getByLabel("size", { exact: true })).toHaveValue("19");
  await page.getByLabel("size", { exact: true }).fill("19 mm");
  await page.getByLabel("what is in the way, and what helps").fill("cap first");
  await page.getByRole("button", { name: "Keep it", exact: true }).click();
  await expect(page.locator(".lasttime")).toContainText("19 mm: cap first");

  // A figure is read, and the sheet leaves signed.
  await page.goto(`${job}/figures`);
  await page.locator(".readfield input").fill("60 Nm");
  await page.getByLabel("where it stands").fill("maker's book");
  await page.getByRole("button", { name: /^Keep this row/ }).click();
  await expect(page.getByRole("heading", { name: "5 figures to look up" })).toBeVisible();
  await page.goto(shop.url + "/shelf");
  await page.getByRole("link", { name: "Quay van" }).click();
  const download = page.waitForEvent("download");
  await page.getByRole("link", { name: "Take it out, signed" }).click();
  const file = join(dir, "sheet.json");
  await (await download).saveAs(file);

  // In another shop it is an offer: named at the bolt, filled in by one touch, read by who has the page.
  const there = await other();
  try {
    const changed = join(dir, "changed.json");
    writeFileSync(changed, readFileSync(file, "utf8").replace("60 Nm", "66 Nm"));
    await signIn(page, there, dey);
    await takeIn(page, there, "a sheet file of another shop, JSON", changed);
    await expect(page.getByRole("alert")).toContainText("not signed by the key named in it");
    await takeIn(page, there, "a sheet file of another shop, JSON", file);
    await expect(page.locator("#read")).toContainText("read by Foreman Dey");
    await sound(page);
    await page.getByRole("button", { name: "Take it in, all of it" }).click();
    await page.goto(there.url + "/vehicles/new");
    await page.locator("#fleet").fill("K-1");
    await page.getByRole("button", { name: "the same model" }).click();
    const here = await plans(page);
    await expect(page.locator("main")).toContainText("6 figures to look up"); // none of them counts yet
    await page.goto(`${here}/figures`);
    for (let n = 0; n < 6 && !(await page.locator(".elsewhere").count()); n++) {
      await page.getByRole("link", { name: "Read it" }).nth(n).click();
    }
    await expect(page.locator(".elsewhere")).toContainText("60 Nm");
    await page.getByRole("button", { name: "I have the page, and it says so" }).click();
    await expect(page.locator(".readfield input")).toHaveValue("60 Nm");
    await page.getByRole("button", { name: /^Keep this row/ }).click();
    await expect(page.getByRole("heading", { name: "5 figures to look up" })).toBeVisible();
  } finally {
    await there.end();
    rmSync(dir, { recursive: true, force: true });
  }
});
