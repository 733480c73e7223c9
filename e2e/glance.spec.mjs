// A step is seen at a glance: nothing of it below the fold, its figures and the words of its
// picture large, none on another.
import { aro, expect, half, keep, signIn, test, what } from "./shop.mjs";

const sizes = [
  { width: 1280, height: 800 },
  { width: 390, height: 844 },
];

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

for (const size of sizes) {
  test(`every step at a glance, ${size.width} × ${size.height}`, async ({ page, shop }) => {
    await page.setViewportSize(size);
    await signIn(page, shop, aro);
    const jobs = { [half]: "FL", "demo-struts": "" };
    const bad = [];
    for (const job of Object.keys(jobs)) {
      const { events } = await (await page.request.get(`${shop.url}/jobs/${job}/job.json`)).json();
      const steps = events.find((e) => e.body.plan?.steps?.length).body.plan.steps;
      for (const s of steps) {
        await page.goto(`${shop.url}/jobs/${job}/bench?step=${s.id}`);
        if (size.width < 500) {
          // the picture is under its tab
          for (const w of (await page.evaluate(glance)).filter((x) => !x.startsWith("“")))
            bad.push(`${s.id}: ${w}`);
          await page.locator(".picturetab").click();
          for (const w of (await page.evaluate(glance)).filter((x) => x.startsWith("“")))
            bad.push(`${s.id}: ${w}`);
          continue;
        }
        for (const w of await page.evaluate(glance)) bad.push(`${s.id}: ${w}`);
      }
    }
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
  await expect(page.locator("#spoken")).toHaveText(await what(page).textContent());
});
