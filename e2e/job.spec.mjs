// The hub job from sign-in to the report, on a screen and on a phone.
import { execFileSync } from "node:child_process";
import { readFileSync } from "node:fs";
import { join } from "node:path";
import {
  after,
  aro,
  bel,
  binary,
  byClick,
  cass,
  expect,
  half,
  keep,
  order,
  press,
  serve,
  signIn,
  sound,
  stand,
  swing,
  waits,
  test,
  waiting,
  what,
  work,
} from "./shop.mjs";

for (const size of [
  { width: 1280, height: 800 },
  { width: 390, height: 844 },
]) {
  // On a phone one goes on with a hub that is nearly done.
  const phone = size.width < 500;
  after(phone ? { [half]: "Stands out" } : {})(
    `a whole job at ${size.width} × ${size.height}`,
    async ({ page, shop }) => {
      const errors = [];
      page.on("pageerror", (e) => errors.push(e.message));
      page.on("console", (m) => {
        if (/Content Security|Refused to/.test(m.text())) errors.push(m.text());
      });
      await page.setViewportSize(size);
      await page.goto(shop.url + "/jobs/" + half + "/bench");
      await expect(page).toHaveURL(/signin/); // a stranger sees only this page
      await sound(page);
      await page.getByRole("radio", { name: aro[0] }).check();
      await page.getByLabel("PIN").fill(aro[1]);
      await page.getByRole("button", { name: "Sign in" }).click();
      await expect(page.getByRole("heading", { name: "Bays" })).toBeVisible();
      await sound(page);

      await page.getByRole("link", { name: "Start a job" }).first().click();
      await page.getByLabel("Vehicle").selectOption({ label: "Q-09 · Ostrel C22 van" });
      await page.getByLabel("Complaint").fill("hums at 60");
      await page.getByLabel("Odometer").fill("x");
      await page.getByRole("button", { name: "Choose the work" }).click();
      await expect(page.getByRole("alert")).toContainText("odometer"); // kept in place
      await expect(page.getByLabel("Complaint")).toHaveValue("hums at 60");
      await sound(page);
      await page.getByLabel("Odometer").fill("97412");
      await page.getByRole("button", { name: "Choose the work" }).click();
      await order(page, "front left", "Hub unit");
      await sound(page);
      await page.getByRole("button", { name: "Make the plan" }).click();
      await expect(page.getByRole("heading", { name: /Front hub unit, left/ })).toBeVisible();
      await page.getByRole("button", { name: /axle nut M24x1.5, staked: have/ }).click();
      await expect(page.getByRole("button", { name: /axle nut M24x1.5, staked: have/ })).toHaveAttribute(
        "aria-pressed",
        "true",
      );
      await sound(page);

      await page.locator("a.start").click();
      await expect(what(page)).toHaveText(/Chock/);
      await sound(page);
      if (phone) await page.goto(`${shop.url}/jobs/${half}/bench`);
      else await work(page, /Tighten knuckle bolt B/);
      await sound(page);
      const stands = await what(page).textContent();
      const url = page.url();
      await page.goto(shop.url + "/"); // called away
      await page.goto(url.replace(/\?.*/, ""));
      await expect(what(page)).toHaveText(stands);
      await work(page, /Tighten wheel nut 1/);
      // Five nuts, one wrench: it is set once, clicks on each, and one touch says so of all.
      await byClick(page);
      await keep(page);
      const all = page.getByRole("button", { name: "All five clicked" });
      await expect(all).toBeDisabled(); // no hand is so quick
      await expect(all).toContainText(/opens in 0:\d\d/);
      await expect(page.locator(".o-star")).toHaveAttribute("d", /^M.*(z.*){4}$/); // 1 3 5 2 4
      await sound(page);
      await page.getByRole("link", { name: "One at a time" }).click();
      await keep(page); // one is said of itself, and the rest of them
      await expect(what(page)).toHaveText(/Tighten wheel nut 3/);
      await page.goto(page.url().replace("&each=1", ""));
      const rest = page.getByRole("button", { name: "The other four clicked" });
      await expect(rest).toBeEnabled({ timeout: 15_000 });
      await rest.click();
      await expect(what(page)).toHaveText(/stage 2/);
      await work(page, /Nothing is left/);
      await page.getByRole("link", { name: "To the ledger" }).click();
      await expect(page.getByText("All gates met")).toBeVisible();
      await expect(page.getByText("Wheel nuts again, after 100 km")).toBeVisible();
      await sound(page);
      await page.getByLabel("Technician Aro, your PIN").fill("0000");
      await page.getByRole("button", { name: "Sign", exact: true }).click();
      await expect(page.getByRole("alert")).toContainText("do not belong together");
      await page.getByLabel("Technician Aro, your PIN").fill(aro[1]);
      await page.getByRole("button", { name: "Sign", exact: true }).click();
      await expect(page.locator(".big.ok")).toHaveText("Signed");
      const [pdf] = await Promise.all([
        page.waitForEvent("download"),
        page.getByRole("link", { name: "Report, PDF" }).click(),
      ]);
      const text = readFileSync(await pdf.path());
      expect(text.subarray(0, 5).toString()).toBe("%PDF-");
      expect(text.length).toBeGreaterThan(10_000);
      const [csv] = await Promise.all([
        page.waitForEvent("download"),
        page.getByRole("link", { name: "Ledger, CSV" }).click(),
      ]);
      const rows = readFileSync(await csv.path(), "utf8")
        .trim()
        .split("\r\n");
      expect(rows[0]).toContain("joint,fastener,grade,recipe");
      // head; wheel, axle, knuckle, bracket, sensor, rotor, pinch
      expect(rows.length).toBe(1 + 5 * 3 + 4 + 3 * 2 + 2 + 1 + 1 + 1);
      expect(rows.filter((r) => r.endsWith(",true")).length).toBe(4); // stated together
      const [file] = await Promise.all([
        page.waitForEvent("download"),
        page.getByRole("link", { name: "Job, JSON" }).click(),
      ]);
      const saved = join(shop.dir, "job.json"),
        other = join(shop.dir, "other.db");
      await file.saveAs(saved);
      const run = (...a) => execFileSync(binary, a, { encoding: "utf8" });
      expect(run("import", "--db", other, saved)).toContain("is in");
      const id = JSON.parse(readFileSync(saved)).job;
      expect(JSON.parse(run("export", "--db", other, id)).events).toEqual(
        JSON.parse(readFileSync(saved)).events,
      );
      expect(run("check", other)).toContain("ok: 1 jobs");
      expect(run("check", shop.db)).toContain("ok: 6 jobs");
      expect(errors).toEqual([]);
    },
  );
}

after({ [waiting]: "Break all knuckle bolts" })(
  "a stuck bolt, a wrong part, a lost network, a correction",
  async ({ page, shop, context }) => {
    await signIn(page, shop, bel);
    await page.goto(`${shop.url}/jobs/${waiting}/bench`);
    await expect(what(page)).toHaveText(/Break all knuckle bolts/);
    await page
      .locator(".scene")
      .getByRole("link", { name: /Knuckle bolt B/ })
      .click();
    await expect(page.getByText("Only B is kept")).toBeVisible();
    // Stuck: the ladder. A try in vain, a soak while another step goes on, then it shears.
    await page.keyboard.press("t");
    await expect(page.locator(".keys")).toBeHidden(); // no key keeps anything meanwhile
    await page.getByRole("button", { name: /^stuck/ }).click();
    await expect(page.getByRole("heading", { name: /Stuck: knuckle bolt B, front right/ })).toBeVisible();
    await expect(page.getByRole("heading", { name: /What of this is kept\?/ })).toBeVisible();
    await sound(page);
    await page.keyboard.press(" ");
    await expect(page.getByRole("heading", { name: /What of this is kept\?/ })).toBeHidden();
    await page.keyboard.press("n");
    await expect(page.locator(".tries")).toContainText("did not move");
    await page.keyboard.press("t");
    await page.getByRole("button", { name: "sheared" }).click();
    await expect(page.locator(".healed")).toContainText("Extract the sheared knuckle bolt B");
    await expect(page.locator(".tally").getByRole("img", { name: "Knuckle bolt B: trouble" })).toBeVisible();
    await sound(page);
    await page.goto(`${shop.url}/jobs/${waiting}/bench?step=front-hub-unit.knuckle-crack.FR`);
    await press(page);
    await expect(
      page.locator(".tally").getByRole("img", { name: "Knuckle bolt C: broken loose" }),
    ).toBeVisible();
    await work(page, /Extract the sheared knuckle bolt B/);
    await keep(page); // drilled and out: nothing is left to clear
    await expect(page.locator(".tally").getByRole("img", { name: "Knuckle bolt B: trouble" })).toHaveCount(0);
    await work(page, /New hub unit beside the old/);
    await page.keyboard.press("t");
    await page.getByRole("button", { name: /^wrong part/ }).click();
    await expect(page.locator(".troublebox")).toBeVisible();
    await page.goto(`${shop.url}/jobs/${waiting}/bench?step=front-hub-unit.hub-in.FR`);
    await expect(page.locator(".refused")).toContainText("New hub unit beside the old"); // it does not go in
    await page.goto(`${shop.url}/jobs/${waiting}/bench?step=front-hub-unit.compare.FR`);
    await page.getByText("It is cleared").click();
    await page.getByLabel("How it was cleared").fill("the right one came at noon");
    await page.getByRole("button", { name: "Cleared" }).click();
    await work(page, /Tighten knuckle bolt A, right, stage 1/);
    await byClick(page);
    await keep(page); // it is set

    // The network goes in the middle of a pattern; the record waits and is sent once.
    await context.setOffline(true);
    await press(page);
    await expect(page.locator("#offline")).toContainText("kept here");
    await expect(what(page)).toHaveText(/Tighten knuckle bolt A/); // still readable
    await context.setOffline(false);
    await expect(what(page)).toHaveText(/Tighten knuckle bolt B/);
    await expect(page.locator("#offline")).toBeHidden();
    await work(page, /Tighten pinch bolt/);
    await page.goto(`${shop.url}/jobs/${waiting}/ledger`);
    const strike = page
      .locator("li", { hasText: "A proved" })
      .filter({ hasText: "stage 2" })
      .locator(".pullrow", { hasText: "stage 2" });
    await strike.getByText("strike", { exact: true }).click();
    await strike.getByLabel("Why it is wrong").fill("read 90 off the wrong mark");
    await strike.getByRole("button", { name: /Strike it/ }).click();
    await expect(page.getByText("struck by Technician Bel: read 90 off the wrong mark")).toBeVisible();
    await page.goto(`${shop.url}/jobs/${waiting}/bench`);
    await expect(what(page)).toHaveText("Tighten knuckle bolt A, right, stage 2 of 2");
  },
);

test("a wrench that traces: taken, pulled, kept by itself; a bad pull blocks", async ({ page, shop }) => {
  await signIn(page, shop, aro);
  await waits(page, shop);
  const bench = `${shop.url}/jobs/${half}/bench`;
  await page.goto(`${bench}?step=front-hub-unit.knuckle-1.FL&tool=w3`);
  await expect(what(page)).toHaveText("Tighten knuckle bolt B, left, stage 1 of 2");
  const key = page.locator(".key.go");
  const take = async () => {
    // one touch a bolt
    await expect(key).toContainText("Take wrench 3");
    await press(page);
    await expect(key).toBeDisabled();
  };
  await take();
  await sound(page);
  await swing(page, { amount: "48" });
  await expect(page.locator(".verdict")).toContainText("not counted");
  await expect(page.locator(".verdict")).toContainText("simulated");
  await expect(page.locator(".plot .tr")).toHaveAttribute("points", /\d/);
  await take(); // the claim ended with the pull
  await swing(page, { amount: "60" });
  await expect(what(page)).toHaveText("B is kept"); // by itself
  await expect(page.locator("#spoken")).toHaveText(/^\d\d(\.\d)? newton metres$/);
  await expect(page.locator(".scene .comes")).toContainText("C"); // ringed: it comes next
  await sound(page);
  await press(page);
  await expect(what(page)).toHaveText("Tighten knuckle bolt C, left, stage 1 of 2");
  await take();
  await swing(page, { amount: "60", plays: "crossed" });
  await expect(page.locator(".verdict")).toContainText("crossed");
  await expect(page.locator(".stepcard.rejected")).toBeVisible();
  await sound(page);
  await expect(key).toContainText("Slackened, new one in");
  await expect(page.getByRole("link", { name: "Cannot be measured" })).toHaveCount(0);
  await page.getByLabel(/new hardware in hand/).check();
  await page.getByLabel(/What was wrong/).fill("started askew");
  await stand(page);
  await key.click();
  await expect(page.locator(".verdict")).toHaveCount(0);
  await page.goto(`${shop.url}/jobs/${half}/ledger`);
  await expect(page.getByText("low, not counted")).toBeVisible();
  await expect(page.getByText("Some of this record was made by stand-ins")).toBeVisible();
  await sound(page);
});

test("a tool that sends by itself: its verdict stands, is said aloud, and goes on", async ({
  page,
  shop,
  browser,
}) => {
  await page.addInitScript(() => {
    window.aloud = [];
    window.speechSynthesis.speak = (u) => window.aloud.push(u.text);
  });
  await signIn(page, shop, aro);
  await page.goto(`${shop.url}/you`);
  await page.getByText("next act, setting and verdict aloud").click();
  await page.getByRole("button", { name: "Keep" }).click();
  const foreman = await browser.newPage();
  await signIn(foreman, shop, cass);
  await foreman.goto(`${shop.url}/crib`);
  const csrf = await foreman.locator('input[name="_csrf"]').first().getAttribute("value");
  const made = await foreman.request.post(`${shop.url}/crib/w3/token`, { form: { _csrf: csrf } });
  const headers = { Authorization: `Bearer ${(await made.text()).match(/class="secret">([^<]+)</)[1]}` };

  await page.goto(`${shop.url}/jobs/${half}/bench?step=front-hub-unit.knuckle-1.FL&tool=w3`);
  expect(await page.evaluate(() => window.aloud.at(-1))).toBe(
    "Tighten knuckle bolt B, left, stage 1 of 2, 60 newton metres",
  );
  await press(page);
  await expect(page.locator("[data-mine]")).toBeVisible();
  const { claim } = await (await page.request.get(`${shop.url}/api/v1/tools/claim`, { headers })).json();
  const free = Array.from({ length: 90 }, (_, i) => [i / 50, i, 1]);
  const rise = Array.from({ length: 100 }, (_, i) => [1.8 + i / 50, 90 + i / 5, 1 + (59.4 * (i + 1)) / 100]);
  const gone = Array.from({ length: 10 }, (_, i) => [3.8 + i / 50, 109.8, 0]);
  const sent = await page.request.post(`${shop.url}/api/v1/jobs/${half}/pulls`, {
    headers,
    data: { id: "e2e-1", claim, samples: [...free, ...rise, ...gone] },
  });
  expect(await sent.json()).toMatchObject({ verdict: "keep" });
  await expect(what(page)).toHaveText("B is kept");
  await expect(page.locator(".counts")).toBeVisible();
  await page.mouse.click(4, 400); // any touch, and it stays
  await expect(page.locator(".counts")).toHaveCount(0);
  await page.waitForTimeout(3000);
  await expect(what(page)).toHaveText("B is kept");
  expect(await page.evaluate(() => window.aloud.at(-1))).toMatch(/^B is kept, (59|60)(\.\d)? newton metres$/);
  await page.goto(`${shop.url}/jobs/${half}/bench?pull=e2e-1`); // untouched it goes on by itself
  await expect(what(page)).toHaveText("Tighten knuckle bolt C, left, stage 1 of 2");
  await foreman.close();
});

test("gates, deviation with a second person, roles", async ({ page, shop, browser }) => {
  await signIn(page, shop, aro);
  await page.goto(`${shop.url}/jobs/${half}/bench?step=wheel.tight.FL`);
  await expect(page.locator(".refused")).toContainText("the wheel turns and sits askew");
  await page.goto(`${shop.url}/jobs/${half}/bench?step=ground.lower`);
  await expect(page.locator(".refused")).toContainText("Before this");
  await expect(page.getByRole("button", { name: /Done/ })).toBeDisabled();
  await page.goto(`${shop.url}/jobs/${half}/ledger`);
  await expect(page.getByRole("button", { name: "Sign", exact: true })).toHaveCount(0); // not before the rest
  await page.getByText(/more stand before it/).click();
  const gate = page.locator(".gates > li", { hasText: "Pinch bolt A owed" });
  await gate.getByText("pass it over").click();
  await gate.getByLabel("Reason").fill("pinch bolt not to be had before Monday; vehicle stays in");
  await gate.getByLabel("Second person").selectOption("Technician Bel");
  await gate.getByLabel("Their PIN").fill("9999");
  await gate.getByRole("button", { name: "Sign for this deviation" }).click();
  await expect(page.getByRole("alert")).toContainText("do not belong together");
  await expect(gate.getByLabel("Reason")).toHaveValue(/Monday/); // what was typed stays
  await gate.getByLabel("Their PIN").fill(bel[1]);
  await gate.getByRole("button", { name: "Sign for this deviation" }).click();
  await expect(page.getByText("Passed over by Technician Aro, seconded by Technician Bel")).toBeVisible();

  const boss = await (await browser.newContext()).newPage();
  await signIn(boss, shop, cass);
  await boss.getByRole("link", { name: "Office" }).click();
  await boss.getByRole("link", { name: "People" }).click();
  await boss.locator("#name").fill("Reader Dey");
  await boss.locator("#role").selectOption("reader");
  await boss.locator("#pin").fill("7293");
  await boss.getByRole("button", { name: "Add", exact: true }).click();
  await expect(boss.getByRole("cell", { name: "Reader Dey" })).toBeVisible();
  await sound(boss);
  const reader = await (await browser.newContext()).newPage();
  await signIn(reader, shop, ["Reader Dey", "7293"]);
  await reader.goto(`${shop.url}/jobs/${half}/bench`);
  await expect(what(reader)).toBeVisible();
  await expect(reader.locator(".keys")).toHaveCount(0);
  const refused = await reader.evaluate(
    async (u) => (await fetch(u, { method: "POST", body: new URLSearchParams({ step: "pedal" }) })).status,
    `${shop.url}/jobs/${half}/step`,
  );
  expect(refused).toBe(403);
  await reader.goto(shop.url + "/people");
  await expect(reader.getByRole("alert")).toContainText("foreman");
});

test("two tablets on one job", async ({ page, shop, browser }) => {
  await signIn(page, shop, aro);
  const other = await (await browser.newContext()).newPage();
  await signIn(other, shop, bel);
  await page.goto(`${shop.url}/jobs/${half}/bench`);
  await other.goto(`${shop.url}/jobs/${half}/bench`);
  await expect(page.locator("#also")).toHaveText("also here: Technician Bel");
  await byClick(page);
  await keep(page);
  await keep(page);
  await expect(what(page)).toHaveText(/bolt C/);
  await expect(other.locator("#offline")).toContainText("Technician Aro: Knuckle bolts");
  await expect(what(other)).toHaveText(/bolt C/); // it follows by itself
  const third = await (await browser.newContext()).newPage();
  await signIn(third, shop, cass);
  await expect(third.locator(".bay", { hasText: "Q-14" })).toContainText("Aro, Bel on it now");
  await other.close();
  await expect(page.locator("#also")).toBeEmpty();
});

test("a shop begins empty, and every page works without script", async ({ shop, browser }) => {
  const db = join(shop.dir, "own.db");
  execFileSync(binary, ["init", "--db", db, "--name", "Foreman Ull"], {
    input: "4713\n",
  });
  const own = await serve(["serve", "--db", db, "--addr", "127.0.0.1:0"]);
  const page = await (await browser.newContext({ javaScriptEnabled: false })).newPage();
  await signIn(page, own, ["Foreman Ull", "4713"]);
  await expect(page.getByText("The shop is empty")).toBeVisible();
  await page.getByRole("link", { name: "Bring in a vehicle", exact: true }).click();
  await page.getByLabel("Plate or fleet number").fill("V-1");
  await page.getByLabel("VIN, if it is at hand").fill("123");
  await page.getByLabel("a strut, one arm below").check();
  await page.getByRole("button", { name: "It comes in" }).click();
  await expect(page.getByRole("alert")).toContainText("a VIN has 17");
  await expect(page.getByLabel("a strut, one arm below")).toBeChecked();
  await page.getByLabel("VIN, if it is at hand").fill("");
  await page.getByRole("button", { name: "It comes in" }).click();
  await page.getByLabel("Complaint").fill("hum");
  await page.getByLabel("Odometer").fill("1000");
  await page.getByRole("button", { name: "Choose the work" }).click();
  await order(page, "front left", "Hub unit");
  await page.getByRole("button", { name: "Make the plan" }).click();
  await page.locator("a.start").click();
  await page.getByRole("button", { name: /Done/ }).click();
  await page.waitForTimeout(900);
  await page.goto(page.url().replace(/\?.*/, "") + "?step=wheel.crack.FL");
  await page.getByRole("button", { name: /All 5 loose/ }).click();
  await expect(page.locator(".owed")).toHaveText(/5 owed/);
  await page.getByRole("button", { name: /Later/ }).click();
  // It has no torque tool that nobody has, and no price that nobody set; it hangs its own.
  const bench = page.url();
  await page.goto(bench.replace(/bench.*/, "plan"));
  await expect(page.locator("main")).not.toContainText("crowns");
  await page.goto(own.url + "/crib");
  await expect(page.locator("main")).toContainText("No torque tool hangs here yet");
  await page.getByLabel(/^What it is called here/).fill("Click 100");
  await page.getByLabel("Highest torque").fill("10");
  await page.getByLabel("Step between two marks").fill("100");
  await page.getByLabel("Square to mid-hand").fill("360");
  await page.getByRole("button", { name: "Hang it" }).click();
  await expect(page.getByRole("alert")).toContainText("That is no graduation");
  await expect(page.getByLabel(/^What it is called here/)).toHaveValue("Click 100");
  await page.getByLabel("Highest torque").fill("100");
  await page.getByLabel("Step between two marks").fill("0.5");
  await page.getByRole("button", { name: "Hang it" }).click();
  const hung = page.locator("section.tool");
  await expect(hung).toContainText("Not to be used: not calibrated yet");
  await hung.getByText("it is otherwise").click();
  await hung.getByLabel("Number engraved").fill("A 118");
  await hung.getByRole("button", { name: "Say so" }).click();
  await expect(hung).toContainText("number A 118");
  // A real shop has no stand-ins.
  const answer = await page.goto(own.url + "/wrench/w3");
  expect(answer.status()).toBe(404);
  await page.context().close();
  await own.stop();
});
