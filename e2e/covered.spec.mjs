// Whatever the state and the size, the middle of each key is the key, and nothing lies over its words.
import { after, aro, bel, expect, half, keep, press, signIn, stand, tended, test, what } from "./shop.mjs";

test.use({ serviceWorkers: "allow" });

const sizes = [
  [1280, 800, "100%"],
  [1024, 768, "100%"],
  [390, 844, "100%"],
  [1280, 800, "200%"],
];
const job = "demo-struts";

// met taps, so to say, the middle of every key that can be seen, and what is to be read with it.
async function met(page, state) {
  const look = async () => {
    const bad = [];
    const all = document.querySelectorAll(
      ".keys button, .keys a.btn, .keys #offline:not([hidden]), .keys .fault, .troublekey, .nextline a, .picturetab",
    );
    for (const el of all) {
      if (!el.checkVisibility()) continue;
      el.scrollIntoView({ block: "nearest" });
      await new Promise((ok) => requestAnimationFrame(ok));
      // The page was drawn anew meanwhile, and the keys with it: look at those that stand there now.
      if (!el.isConnected) return null;
      const r = el.getBoundingClientRect();
      const at = document.elementFromPoint(r.left + r.width / 2, r.top + r.height / 2);
      if (!at || (at !== el && !el.contains(at) && !at.contains(el)))
        bad.push(
          `${el.textContent.trim().slice(0, 30)} is under ${at ? at.outerHTML.slice(0, 60) : "the edge"}`,
        );
      if (at && at !== el && at.contains(el)) bad.push(`${el.textContent.trim().slice(0, 30)} takes no tap`);
      if (el.scrollWidth > el.clientWidth) continue; // what does not fit ends in dots
      const words = document.createRange();
      words.selectNodeContents(el);
      for (const line of words.getClientRects()) {
        const middle = line.top + line.height / 2;
        for (const x of [line.left + 2, line.right - 2]) {
          const over = document.elementFromPoint(x, middle);
          if (over && !el.contains(over) && !over.contains(el))
            bad.push(
              `words of ${el.textContent.trim().slice(0, 30)} are under ${over.outerHTML.slice(0, 60)}`,
            );
        }
      }
    }
    return bad;
  };
  let covered = null;
  while (covered === null) covered = await page.evaluate(look);
  expect(covered, state).toEqual([]);
}

async function opened(page, shop, [width, height, letters]) {
  await page.setViewportSize({ width, height });
  await page.addInitScript((size) => {
    const set = () =>
      document.documentElement && document.documentElement.style.setProperty("font-size", size);
    set();
    document.addEventListener("DOMContentLoaded", set);
  }, letters);
  await signIn(page, shop, aro);
  await page.goto(`${shop.url}/jobs/${job}/bench`);
  await tended(page);
  await expect(what(page)).toBeVisible();
}

for (const size of sizes)
  test(`the middle of every key is met, ${size.join(" × ")}`, async ({ page, shop, context, browser }) => {
    await opened(page, shop, size);
    await met(page, "at rest");
    await page.waitForFunction((id) => outbox.known(id).then((a) => a && a.pages.length), job);
    await context.setOffline(true);
    await press(page);
    await expect(page.locator("#offline")).toContainText("kept here");
    await met(page, "network gone");
    const other = await (await browser.newContext()).newPage();
    await signIn(other, shop, bel);
    await other.goto(`${shop.url}/jobs/${job}/bench`);
    const theirs = await what(other).textContent();
    await press(other);
    await expect(what(other)).not.toHaveText(theirs); // it is recorded before this page is heard again
    await context.setOffline(false);
    await expect(page.locator("#offline")).toContainText("Not taken");
    await met(page, "not taken");
    await page.evaluate(async () => {
      for (const e of await outbox.all()) await outbox.drop(e.n);
    });
    await page.goto(`${shop.url}/jobs/${job}/bench`);
    // The other tablet goes on while this page does not hear of it: what is pressed here is refused.
    await page.route(/\/live/, (r) => r.abort());
    await page.reload();
    await stand(page);
    const mine = await what(page).textContent();
    await press(other);
    await expect(what(other)).not.toHaveText(mine);
    await press(page);
    await expect(page.locator(".keys .fault").first()).toBeVisible();
    await met(page, "refused");
    await context.clearCookies();
    await page.goto(`${shop.url}/signin`);
    await signIn(page, shop, aro);
    await page.goto(`${shop.url}/jobs/${job}/bench`);
    await context.clearCookies();
    await press(page);
    await expect(page.locator("#again")).toBeVisible();
    await page.keyboard.press("Escape");
    await expect(page.locator("#offline")).toContainText("Sign in again");
    await met(page, "session ended");
  });

test("the middle of every key is met in trouble", async ({ page, shop }) => {
  for (const size of sizes) {
    await opened(page, shop, size);
    await page.goto(`${shop.url}/jobs/${half}/bench?step=front-hub-unit.knuckle-1.FL&panel=trouble`);
    await expect(page.locator(".troublekey").first()).toBeVisible();
    await met(page, `trouble, ${size}`);
  }
});

after({ [job]: "Brush thread ends" })(
  "the middle of every key is met while something soaks",
  async ({ page, shop }) => {
    await opened(page, shop, sizes[0]);
    await keep(page); // the threads are brushed
    await keep(page); // and from now on it soaks
    for (const size of sizes) {
      await opened(page, shop, size);
      await expect(page.locator(".soaknote, .soakbox").first()).toBeAttached();
      await met(page, `soaking, ${size}`);
    }
  },
);
