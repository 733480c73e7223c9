// How it was before it was opened: one touch at the opening step; it stands beside the closing step unasked, and on the
// next job of that vehicle.
import { after, bel, expect, order, picture, signIn, sound, stand, waiting, what, work } from "./shop.mjs";

const test = after({ [waiting]: "Break all knuckle bolts" });

test("a photograph before opening stands beside the closing step, also next time", async ({
  page,
  shop,
  context,
}) => {
  await signIn(page, shop, bel);
  const bench = `${shop.url}/jobs/${waiting}/bench`;
  await page.goto(bench);
  const take = page.locator(".shoot input[type=file]");
  const shots = page.locator(".shots img");
  await stand(page);
  await take.setInputFiles(picture); // nothing more is asked
  await expect(shots).toHaveCount(1);
  await expect(what(page)).toHaveText(/Break all knuckle bolts/); // it is still to be done
  await expect(shots.first()).toHaveAttribute("alt", /as it was, \d\d:\d\d, Technician Bel/);
  expect(await shots.first().evaluate((img) => img.decode().then(() => img.naturalWidth))).toBeGreaterThan(
    100,
  );
  await sound(page);
  await context.setOffline(true); // kept here, and sent on return
  await stand(page);
  await take.setInputFiles(picture);
  await expect(page.locator("#offline")).toContainText("1 record is kept here");
  await context.setOffline(false);
  await expect(page.locator("#offline")).toBeHidden({ timeout: 20_000 });
  await page.goto(bench);
  await expect(shots).toHaveCount(2);
  await work(page, /Tighten knuckle bolt A/);
  await expect(shots).toHaveCount(2);
  await expect(page.locator(".shoot")).toHaveCount(0); // nothing is opened here
  await sound(page);
  await page.goto(`${bench}?step=wheel.crack.FR`);
  await expect(shots).toHaveCount(0); // another place

  await page.goto(`${shop.url}/jobs/new`);
  await page.getByLabel("Vehicle").selectOption({ label: "Q-09 · Ostrel C22 van" });
  await page.getByLabel("Complaint").fill("hums again");
  await page.getByLabel("Odometer").fill("98000");
  await page.getByRole("button", { name: "Choose the work" }).click();
  await order(page, "front right", "Hub unit");
  await page.getByRole("button", { name: "Make the plan" }).click();
  await page.locator("a.start").waitFor();
  const next = page.url().match(/jobs\/([^/]+)/)[1];
  await page.goto(`${shop.url}/jobs/${next}/bench?step=front-hub-unit.knuckle-crack.FR`);
  await expect(shots).toHaveCount(2);
  await expect(shots.first()).toHaveAttribute("alt", /as it was, \d+ \w+ \d{4}, Technician Bel/);
});
