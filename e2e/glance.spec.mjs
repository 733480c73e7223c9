// A step is seen at a glance: nothing of it below the fold, its figures and the words of its
// picture large, none on another.
import { aro, expect, half, keep, signIn, test, what } from "./shop.mjs";

const screen = { width: 1280, height: 800 },
  phone = { width: 390, height: 844 };

// glance measures what of a step one cannot see at once.
function glance() {
  const out = [];
  const box = (el) => el.getBoundingClientRect();
  const card = document.querySelector(".stepcard");
  if (document.documentElement.scrollHeight > innerHeight + 1) out.push("the page scrolls");
  if (card && card.scrollHeight > card.clientHeight + 2)
    out.push(`the step hides ${card.scrollHeight - card.clientHeight} px`);
  for (const key of document.querySelectorAll(".keys .key")) {
    const b = box(key);
    if (!b.width) continue; // on a phone it stands under Trouble
    if (b.bottom > innerHeight || b.top < 0) out.push("a key lies below the fold");
    if (b.height < 56) out.push(`a key is ${Math.round(b.height)} px high`);
  }
  const figure = document.querySelector(".figure:not(.wordy) b");
  if (figure && parseFloat(getComputedStyle(figure).fontSize) < 96) out.push("the figure is small");
  const words = [...document.querySelectorAll(".scene > svg text")].filter((t) => box(t).width);
  for (const [i, t] of words.entries()) {
    const a = box(t);
    if (a.height < 15) out.push(`“${t.textContent}” is ${Math.round(a.height)} px high`);
    for (const o of words.slice(0, i)) {
      const b = box(o);
      const apart =
        a.right < b.left + 1 || b.right < a.left + 1 || a.bottom < b.top + 4 || b.bottom < a.top + 4;
      if (!apart) out.push(`“${t.textContent}” lies on “${o.textContent}”`);
    }
  }
  return out;
}

for (const job of [half, "demo-struts"]) {
  test(`every step at a glance, on a screen and on a phone: ${job}`, async ({ page, shop }) => {
    await signIn(page, shop, aro);
    const { events } = await (await page.request.get(`${shop.url}/jobs/${job}/job.json`)).json();
    const steps = events.find((e) => e.body.plan?.steps?.length).body.plan.steps;
    const ids = steps.map((s) => s.id).filter((id) => !id.endsWith(".FR")); // the same, mirrored
    const bad = [];
    for (const [i, id] of ids.entries()) {
      // The window is as the step before left it, and changes once.
      const sizes = i % 2 ? [phone, screen] : [screen, phone];
      await page.goto(`${shop.url}/jobs/${job}/bench?step=${id}`);
      for (const size of sizes) {
        await page.setViewportSize(size);
        const seen = await page.evaluate(glance);
        if (size === screen) {
          bad.push(...seen.map((w) => `${id}: ${w}`));
          continue;
        }
        // On a phone the picture is under its tab.
        const turn = () => page.evaluate(() => document.querySelector(".picturetab").click());
        await turn();
        const pictured = await page.evaluate(glance);
        await turn();
        const words = [seen.filter((w) => !w.startsWith("“")), pictured.filter((w) => w.startsWith("“"))];
        bad.push(...words.flat().map((w) => `${id}, on a phone: ${w}`));
      }
    }
    expect(ids.length).toBeGreaterThan(40);
    expect(bad).toEqual([]);
  });
}

test("each change of step moves the focus to it, and the page is named after it", async ({ page, shop }) => {
  await signIn(page, shop, aro);
  await page.goto(`${shop.url}/jobs/demo-struts/bench`);
  await expect(page).toHaveTitle(/N-7.*Chock/);
  await keep(page);
  await expect(what(page)).not.toHaveText(/Chock/);
  await expect(what(page)).toBeFocused();
  await expect(page).not.toHaveTitle(/Chock/);
  // The heading is read as it has the focus; only what goes with it is said beside.
  await expect(page.locator("#spoken")).toHaveText((await what(page).getAttribute("data-also")) ?? "");
});
