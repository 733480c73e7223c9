// Tool crib, Reckoner, Shelf, and what of them reaches the bench.
import {
  after,
  aro,
  bel,
  cass,
  expect,
  half,
  over,
  picture,
  signIn,
  sound,
  stand,
  tap,
  test,
  waiting,
  what,
} from "./shop.mjs";

test("a tool is calibrated, fails, is taken out of use, and the bench knows", async ({ page, shop }) => {
  await signIn(page, shop, cass);
  await page.getByRole("link", { name: "Tool crib" }).click();
  await sound(page);
  const tool = page.locator("#w5");
  await expect(tool).toContainText("Not to be used: calibration was due on");
  await tool.getByText("calibrate", { exact: true }).click();
  const points = [68, 204, 340];
  const fill = async (off) => {
    for (const [i, p] of points.entries())
      for (let k = 0; k < 5; k++)
        await tool
          .locator(`[name=p${i}-${k}]`)
          .fill(String(Math.round(p * 10 * (1 + (i ? off : 0) / 100)) / 10));
  };
  const named = async () => {
    await tool.getByLabel(/Held against/).fill("bench transducer 7 (invented)");
    await tool.locator("[name=reference_until]").fill("2031-01-31");
    await tool.locator("[name=certificate]").fill("C-2026-118");
    await tool.locator("[name=photo]").setInputFiles(picture);
  };
  await named();
  await fill(1);
  await tool.locator("[name=p1-2]").fill("20,4");
  await tool.getByRole("button", { name: "Log the calibration" }).click();
  await expect(tool.getByRole("alert")).toContainText("Reading 3 of point 2");
  await expect(tool.locator("[name=p1-3]")).toHaveValue("206"); // what was typed stays
  await named();
  await fill(-6);
  await tool.getByRole("button", { name: "Log the calibration" }).click();
  await expect(tool).toContainText("it failed its calibration: +6.4 %");
  await tool.getByText("calibrate", { exact: true }).click();
  await named();
  await fill(1);
  await tool.getByRole("button", { name: "Log the calibration" }).click();
  await expect(tool).not.toContainText("Not to be used");
  const w3 = page.locator("#w3");
  await w3.getByText("take out of use", { exact: true }).click();
  await w3.getByLabel("What happened to it").fill("dropped on the floor");
  await w3.getByRole("button", { name: "Take it out of use" }).click();
  await expect(w3).toContainText("dropped on the floor");
  await page.goto(`${shop.url}/jobs/${half}/bench`);
  await expect(page.locator("#tool option[value=w3]")).toHaveText(/dropped/);
  await expect(page.locator("#tool")).not.toHaveValue("w3");
});

test("every calculator reckons as one types", async ({ page, shop }) => {
  await signIn(page, shop, aro);
  await page.goto(shop.url + "/reckoner");
  await sound(page);
  await page.getByLabel("Type it as it stands").fill("45 ft-lb + 90°");
  await expect(page.locator("#reads")).toContainText("Tighten to 61 N·m (45 ft·lb)");
  await page.getByLabel("Type it as it stands").fill("neither fish");
  await expect(page.locator("#reads")).toContainText("no recipe, figure with unit");
  const asks = page.locator(".thing-card li a");
  const names = await asks.evaluateAll((all) => all.map((a) => a.getAttribute("href")));
  expect(names.length).toBeGreaterThan(10);
  for (const [i, n] of names.entries()) {
    await page.goto(shop.url + n);
    await expect(page.locator("#result .rows, #result .fault").first()).toBeVisible();
    await expect(page.locator(".formula")).toHaveCount(2);
    if (i % 9 === 0) await sound(page); // they are made from one template
  }
  await page.goto(shop.url + "/reckoner/wrench-setting");
  await page.getByLabel("adapter, mm").fill("150");
  await expect(page.locator("#result")).toContainText("75 N·m");
  await page.getByLabel("adapter, mm").fill("1x");
  await expect(page.locator("#result .fault")).toContainText("no figure");
  await page.goto(shop.url + "/reckoner/recipe");
  await page.getByLabel("text").fill("80");
  await expect(page.locator("#result .fault")).toContainText("108.5 N·m");
  await page.goto(shop.url + "/reckoner/pull");
  await page.getByLabel("recipe").fill("8 Nm");
  await page.locator("#in-csv").fill("0,0,0\n0.1,x,0");
  await expect(page.locator("#result .fault")).toContainText("Line 2: column 2");
  await page.setViewportSize({ width: 390, height: 844 });
  await page.goto(shop.url + "/reckoner/preload");
  await sound(page);
});

test("a figure is struck, not overwritten, and read while it is typed", async ({ page, shop }) => {
  await signIn(page, shop, cass);
  await page.getByRole("link", { name: "Shelf" }).click();
  await sound(page);
  await page.getByRole("link", { name: "Ostrel C22 van" }).click();
  await sound(page);
  const joint = page.locator("#steering-front-pinch");
  await joint.getByText("correct the figure").click();
  await joint.getByLabel("Recipe, as on the sheet").fill("550 Nm");
  await expect(joint.locator(".reads")).toContainText("digit");
  await joint.getByLabel("Recipe, as on the sheet").fill("52 newton metres");
  await expect(joint.locator(".reads")).toContainText("52 Nm");
  await joint.getByLabel("Source").fill("shop book 4.3, second printing (invented)");
  await joint.getByLabel("Why the old one was wrong").fill("misprint");
  const second = joint.getByLabel("A second person reads it too"); // it is of the steering
  await second.fill("Foreman Cass");
  await joint.getByLabel("their PIN").fill(cass[1]);
  await joint.getByRole("button", { name: "Strike the old figure" }).click();
  await expect(joint).toContainText("another person");
  await second.fill("Technician Bel");
  await joint.getByLabel("their PIN").fill(bel[1]);
  await joint.getByRole("button", { name: "Strike the old figure" }).click();
  await expect(joint.locator(".fig")).toContainText("52 Nm");
  await expect(joint.locator("s")).toHaveText("55 Nm");
  await expect(joint).toContainText("struck by Foreman Cass and Technician Bel: misprint");
});

after({ [waiting]: "Caliper bracket bolts" })(
  "the bench asks which bolt it is, corrects for an adapter, takes a trace from a file",
  async ({ page, shop }) => {
    await signIn(page, shop, aro);
    await page.goto(`${shop.url}/jobs/${half}/bench?adapter=foot-50&tool=w2`);
    await expect(what(page)).toHaveText(/knuckle bolt B, left, stage 1/);
    const figure = await page.locator(".figure b").textContent();
    expect(Number(figure)).toBeLessThan(56); // 60 · L/(L + 50)
    await page.getByText("it stands at something else").click();
    await page.locator("#other").fill("60"); // the plain figure
    const clicked = page.getByRole("button", { name: /It clicked on B/ });
    await tap(page, page.getByRole("button", { name: /It stands at/ }), clicked);
    await tap(page, clicked, page.locator(".verdict", { hasText: "not counted" }));
    await page.getByLabel(/What was wrong/).fill("plain figure set through the adapter");
    await stand(page);
    await page.getByRole("button", { name: /Slackened/ }).click();
    await expect(page.locator(".verdict")).toHaveCount(0);

    await page.goto(`${shop.url}/jobs/${half}/bench?tool=w3`);
    const saved = page.getByText("a trace it has saved");
    await tap(page, page.locator(".key.go"), saved);
    await saved.click();
    const rows = ["t_s,angle_deg,torque_nm"];
    for (let i = 0; i <= 300; i++) {
      const a = Math.min(i * 0.8, 200);
      rows.push(
        `${(i / 100).toFixed(2)},${i > 260 ? 200 : a},${i > 280 ? 0 : (1 + Math.max(0, a - 165) * 1.7).toFixed(2)}`,
      );
    }
    await page.locator("#csv").fill("1,2");
    await page.getByRole("button", { name: "Take this trace" }).click();
    await expect(page.getByRole("alert").first()).toContainText("Line 1: 2 columns");
    await page.locator("#csv").fill(rows.join("\n"));
    await page.getByRole("button", { name: "Take this trace" }).click();
    await expect(what(page)).toHaveText(/knuckle bolt C/);

    await page.goto(`${shop.url}/jobs/${waiting}/bench`);
    await expect(what(page)).toHaveText(/Caliper bracket bolts/);
    await expect(page.getByText("The figure follows the one in hand")).toBeVisible();
    await sound(page);
    const washer = page.getByRole("button", { name: /small head, loose washer/ });
    await tap(page, washer, page.locator(".figure", { hasText: "105" }));
  },
);

test("with text twice as large nothing hangs over the edge", async ({ page, shop }) => {
  await signIn(page, shop, aro);
  for (const path of [
    "/",
    "/jobs/new",
    `/jobs/${half}/bench`,
    `/jobs/${half}/plan`,
    "/jobs/demo-struts/plan",
    "/jobs/demo-struts/order",
    "/jobs/demo-struts/match?step=strut-front.compare.FL",
    `/jobs/${half}/ledger`,
    "/jobs/demo-complaint/walk?place=brake",
    "/crib",
    "/reckoner/preload",
    "/shelf/ostrel-c22",
  ]) {
    await page.goto(shop.url + path);
    await page.evaluate(() => document.documentElement.style.setProperty("font-size", "200%"));
    for (const width of [1280, 390]) {
      await page.setViewportSize({ width, height: 800 });
      expect(await page.evaluate(over), `${path} at ${width}`).toBeLessThanOrEqual(1);
    }
  }
});

test("what may mean two things offers both, and the notation has its page", async ({ page, shop }) => {
  await signIn(page, shop, aro);
  await page.goto(shop.url + "/reckoner/recipe?text=" + encodeURIComponent("60 Nm + 1/4"));
  await expect(page.getByRole("alert")).toContainText("0.25 turn is 90°");
  await sound(page);
  await page.getByRole("link", { name: "60 Nm + 90°" }).click();
  await expect(page.locator("#result")).toContainText("a quarter turn");
  await expect(page.locator("#in-text")).toHaveValue("60 Nm + 90°");
  await page.getByRole("link", { name: /The notation/ }).click();
  await expect(page.getByRole("row", { name: /^45\/60 Nm/ })).toContainText("45–60 Nm, or 45 Nm; 60 Nm");
  await sound(page);
});
