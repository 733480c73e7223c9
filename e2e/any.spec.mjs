// A real shop: nothing in it, a vehicle nobody entered, figures read where they are wanted. Touches are counted.
import { act, dey, expect, own as test, picture, signIn, sound, tap } from "./shop.mjs";

// hand counts what a person does: touches, and fields typed.
const hand = (page) => ({
  touches: 0,
  typed: 0,
  async touch(what) {
    this.touches++;
    await (what.click ? what : page.getByRole("button", { name: what })).click();
  },
  async type(label, text) {
    this.typed++;
    await page.getByLabel(label, { exact: true }).filter({ visible: true }).fill(text);
  },
});

async function nameShop(page, shop, h) {
  await page.goto(shop.url + "/shop");
  await h.type("Name, as it stands on its papers", "Quay Yard");
  await h.touch("Keep it");
  await page.getByRole("heading", { name: "Office" }).waitFor();
}

async function hangTool(page, shop, h) {
  await page.goto(shop.url + "/crib");
  await h.type("Highest torque, N·m", "200");
  await h.type("Step between two marks, N·m", "1");
  await h.type("Square to mid-hand, mm", "420");
  await h.type("Number engraved on it", "41-7");
  await h.type("Day of the calibration", new Date(Date.now() - 864e5).toISOString().slice(0, 10));
  await h.type("Number of its certificate", "C-118");
  h.touches += 3; // the drive, and the picture taken
  await page.locator("#drive-hang").selectOption("1/2");
  await page.locator("#hang-photo").setInputFiles(picture);
  await h.touch("Hang it");
  await page.getByRole("heading", { name: "Click wrench to 200 N·m, 41-7" }).waitFor();
}

async function comesIn(page, shop, h, number, name) {
  await page.goto(shop.url + "/vehicles/new");
  await h.type("Plate or fleet number", number);
  await h.type("What people call it", name);
  for (const seen of ["van", "the front ones", "a strut, one arm below"]) {
    await h.touch(page.locator(".drawn", { has: page.getByText(seen, { exact: true }) }));
  }
  await h.touch("It comes in");
}

async function plans(page, h, part = "Hub unit") {
  await page.waitForURL(/jobs\/new/);
  await page.getByLabel("Complaint").fill("hums at speed");
  await page.getByLabel("Odometer, km").fill("148000");
  await h.touch("Choose the work");
  await h.touch(page.getByLabel(`${part}, front left`, { exact: true }));
  await h.touch("Make the plan");
  await page.waitForURL(/\/plan$/);
}

test("an empty shop comes to its first step, and a known model to its plan, in few touches", async ({
  page,
  shop,
}) => {
  await signIn(page, shop, dey);
  const first = hand(page);
  await nameShop(page, shop, first);
  await sound(page);
  await hangTool(page, shop, first);
  await comesIn(page, shop, first, "H-31", "Quay van");
  await plans(page, first);
  await expect(page.locator("main")).toContainText("6 figures to look up");
  await expect(page.locator("main")).not.toContainText("invented");
  await expect(page.locator("main")).not.toContainText("crowns");
  await first.touch(page.getByRole("link", { name: /Look them up/ }));
  await first.type("As the maker writes it", "60 Nm + 1/4 turn");
  await first.type("where it stands", "maker's book");
  await first.type("page", "p. 31");
  await first.touch(/^Keep this row/);
  await expect(page.getByRole("heading", { name: "5 figures to look up" })).toBeVisible();
  await sound(page);
  const rest = page.url();
  await first.touch(page.getByRole("link", { name: "To the bench" }));
  await expect(page.locator("h2.what")).toHaveText(/^Chock a (front|rear) wheel/);
  // Complaint and odometer are the job's, and asked of every job.
  console.log(`empty shop to the first step: ${first.touches} touches, ${first.typed} fields`);
  expect(first.touches).toBeLessThanOrEqual(40);
  expect(first.typed).toBeLessThanOrEqual(12);

  // A paragraph is read with every word accounted for, and taken when somebody compared it, all of it or none.
  await page.goto(rest);
  await page
    .locator("#pastetext")
    .fill("Rotor screw: 8 Nm. Caliper bracket bolts M8 8.8: 900 Nm. Axle nut 200 Nm + 1/4.");
  await page.getByRole("button", { name: "Read it" }).click();
  await expect(page.locator("#paste")).toContainText("17 words: 13 used, 4 not");
  await expect(page.locator("#paste")).toContainText("0.25 of what?");
  const take = async () => {
    await page.locator("#pastesource").fill("maker's book");
    await page.getByLabel("I compared these with the page").check();
    await page.getByRole("button", { name: "Keep what was compared" }).click();
  };
  await take();
  await expect(page.locator("#paste").getByRole("alert")).toContainText("twists off");
  await expect(page.getByRole("heading", { name: "5 figures to look up" })).toBeVisible(); // nothing half taken
  await page.locator("#of-2").selectOption("");
  await take();
  await expect(page.getByRole("heading", { name: "4 figures to look up" })).toBeVisible();

  const known = hand(page);
  await page.goto(shop.url + "/vehicles/new");
  await sound(page);
  await known.type("Plate or fleet number", "H-32");
  await known.touch("the same model");
  await plans(page, known);
  console.log(`a known model to its plan: ${known.touches} touches, ${known.typed} fields`);
  expect(known.touches).toBeLessThanOrEqual(6);
  await expect(page.locator("main")).toContainText("4 figures to look up");
});

// toAFigure works on until a bolt asks for its figure.
async function toAFigure(page) {
  for (let n = 0; n < 60; n++) {
    if (await page.locator("#readform").count()) return;
    await act(page);
  }
  throw new Error("no figure is asked");
}

test("a figure is read at the bench, by two where a life hangs on it", async ({ page, shop }) => {
  await signIn(page, shop, dey);
  const h = hand(page);
  const asked = [];
  page.on("request", (r) => asked.push(r.url()));
  await page.goto(shop.url + "/people");
  await page.locator("main #name").fill("Technician Eli");
  await page.locator("main #pin").fill("482916");
  await page.getByRole("button", { name: "Add" }).click();
  await expect(page.locator("main")).toContainText("Technician Eli");
  await comesIn(page, shop, h, "H-31", "Quay van");
  await plans(page, h, "Outer tie rod end");
  await page.setViewportSize({ width: 390, height: 844 });
  await page.goto(page.url().replace(/plan$/, "bench"));
  await toAFigure(page);
  const bench = page.url();
  await expect(page.locator("main")).toContainText("What does the maker write?");
  await sound(page);

  const first = hand(page);
  const pad = (key) => first.touch(page.locator(".padkey", { hasText: new RegExp(`^${key}$`) }));
  for (const key of ["6", "0", "N·m"]) await pad(key);
  await expect(page.locator(".readfield input")).toHaveValue("60 Nm");
  await expect(page.locator(".reads")).toContainText("44.3 ft·lb");
  await page.getByLabel("where it stands").fill("maker's book");
  first.touches = 0;
  first.touches++;
  await tap(page, page.locator(".key.go"), page.locator(".ask", { hasText: "A life hangs on it" }));
  expect(first.touches, "beside typing it").toBeLessThanOrEqual(3);

  // The nut is new each time: nobody pulls before a second person has read it, and that one sees no figure.
  await expect(page.locator(".ask")).toHaveText(/a second person reads it\s+too/);
  await expect(page.locator(".do")).not.toContainText("60 N");
  await page.locator(".readfield input").fill("66 Nm");
  await page.getByRole("button", { name: /as before/ }).click();
  await page.getByLabel("Who reads it, without seeing yours").fill("Technician Eli");
  await page.locator("#readform").getByLabel("their PIN").fill("482916");
  await tap(page, page.locator(".key.go"), page.locator(".ask", { hasText: "Readings differ" }));
  await expect(page.locator("main")).toContainText("66 Nm");
  await page.locator(".readfield input").fill("66 Nm");
  await page.getByRole("button", { name: /as before/ }).click();
  await tap(
    page,
    page.locator(".key.go"),
    page.locator(".stepcard").filter({ hasNot: page.locator("#readform") }),
  );
  await expect(page.locator("main")).toContainText(/66/);

  // What the sheet learnt stands on it, and the next vehicle of it has the figure.
  await page.setViewportSize({ width: 1280, height: 800 });
  await page.goto(shop.url + "/shelf");
  await page.getByRole("link", { name: "Quay van" }).click();
  await expect(page.locator("main")).toContainText("66 Nm read by Technician Eli");
  await page.goto(bench);
  await expect(page.locator("main")).not.toContainText("What does the maker write?");
  expect(asked.filter((url) => /[?&](pin|_csrf)=/.test(url))).toEqual([]);
});
