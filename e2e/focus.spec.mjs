// Where the focus is, one sees: what has it, photographed with it and without, differs along
// its edge by pixels that stand out (WCAG 2.2, 1.4.11 and 2.4.13: three to one, and as many
// as its outline is long).
import { aro, expect, half, signIn, test, waiting } from "./shop.mjs";

const pages = [
  "/",
  "/jobs/new",
  `/jobs/${half}/bench`,
  `/jobs/${half}/plan`,
  `/jobs/${half}/ledger`,
  `/jobs/${waiting}/order`,
  "/jobs/demo-complaint/walk",
  "/jobs/demo-struts/match?step=strut-front.compare.FL",
  "/crib",
  "/shelf",
  "/sheets/ostrel-c22",
  "/reckoner",
];
const stops = 16; // of the Tab key on each page; one of a kind is looked at, on each ground it stands on
const margin = 6; // an outline stands outside its box

// standOut counts the pixels of two pictures of one size between which the contrast is three
// to one or more.
async function standOut([a, b]) {
  const read = async (text) => {
    const bytes = Uint8Array.from(atob(text), (c) => c.charCodeAt(0));
    const picture = await createImageBitmap(new Blob([bytes], { type: "image/png" }));
    const canvas = new OffscreenCanvas(picture.width, picture.height).getContext("2d");
    canvas.drawImage(picture, 0, 0);
    return canvas.getImageData(0, 0, picture.width, picture.height).data;
  };
  const linear = Float64Array.from({ length: 256 }, (_, n) =>
    n / 255 <= 0.04045 ? n / 255 / 12.92 : ((n / 255 + 0.055) / 1.055) ** 2.4,
  );
  const light = (data, i) =>
    0.2126 * linear[data[i]] + 0.7152 * linear[data[i + 1]] + 0.0722 * linear[data[i + 2]];
  const [with_, without] = [await read(a), await read(b)];
  let n = 0;
  for (let i = 0; i < with_.length; i += 4) {
    const [x, y] = [light(with_, i) + 0.05, light(without, i) + 0.05];
    if (x >= 3 * y || y >= 3 * x) n++;
  }
  return n;
}

// stop is what has the focus: where it stands, and of which kind it is.
function stop() {
  const el = document.activeElement;
  if (!el || el === document.body) return null;
  // an input that is not seen shows its focus on its label
  const { width, opacity } = { width: el.offsetWidth, opacity: getComputedStyle(el).opacity };
  const hidden = el.matches("input") && (width < 4 || opacity === "0");
  const shown = (hidden && el.closest("label")) || el;
  const name = el.getAttribute("aria-label") || el.innerText || el.name || el.value || "";
  const kind = [el, el.parentElement, shown.parentElement];
  let ground = shown.parentElement;
  while (ground && getComputedStyle(ground).backgroundColor === "rgba(0, 0, 0, 0)")
    ground = ground.parentElement;
  const { x, y, width: wide, height } = shown.getBoundingClientRect();
  return {
    kind:
      kind.map((of) => `${of.tagName}.${of.getAttribute("class")} `).join("") + ground?.getAttribute("class"),
    name: `${el.tagName} ${name.slice(0, 30)}`,
    x,
    y,
    width: wide,
    height,
  };
}

test("the focus is seen wherever it is, light and dark", async ({ page, shop }) => {
  const scheme = (colorScheme) => page.emulateMedia({ colorScheme, reducedMotion: "reduce" });
  await page.setViewportSize({ width: 1280, height: 800 });
  await scheme("light");
  await signIn(page, shop, aro);
  const bad = [],
    seen = new Set();
  for (const path of pages) {
    await page.goto(shop.url + path);
    // The plan's other ways of working come a moment later.
    if (path.endsWith("/plan")) await page.locator("#ways .school").first().waitFor();
    for (let n = 0; n < stops; n++) {
      await page.keyboard.press("Tab");
      const at = await page.evaluate(stop);
      if (!at || at.width < 1 || at.height < 1 || seen.has(at.kind)) continue;
      const clip = {
        x: Math.max(0, at.x - margin),
        y: Math.max(0, at.y - margin),
        width: Math.min(1280, at.x + at.width + margin) - Math.max(0, at.x - margin),
        height: Math.min(800, at.y + at.height + margin) - Math.max(0, at.y - margin),
      };
      if (clip.width < 4 || clip.height < 4) continue; // scrolled away: the browser brings it back
      seen.add(at.kind);
      const shot = async () => (await page.screenshot({ clip, caret: "hide" })).toString("base64");
      const light = [await shot()];
      await scheme("dark");
      const dark = [await shot()];
      await page.evaluate(() => document.activeElement.blur());
      dark.push(await shot());
      await scheme("light");
      light.push(await shot());
      const outline = 2 * (Math.min(at.width, clip.width) + Math.min(at.height, clip.height));
      for (const [how, shots] of Object.entries({ light, dark })) {
        const n = await page.evaluate(standOut, shots);
        if (n < 0.8 * outline) bad.push(`${path} ${at.name}, ${how}: ${n} of ${Math.round(outline)} pixels`);
      }
    }
  }
  expect(seen.size).toBeGreaterThan(40);
  expect(bad).toEqual([]);
});

test("the green key is two tabs away, and what a field lacks is said beside it", async ({ page, shop }) => {
  await signIn(page, shop, aro);
  await page.goto(`${shop.url}/jobs/${half}/bench`);
  await page.keyboard.press("Tab");
  await page.keyboard.press("Enter"); // to the keys
  await page.keyboard.press("Tab");
  await expect(page.locator(".key.go")).toBeFocused();

  await page.goto(`${shop.url}/jobs/new`);
  await page.getByRole("button", { name: "Choose the work" }).click();
  await expect(page.locator('[aria-invalid="true"]').first()).toBeFocused();
  const complaint = page.getByLabel("Complaint");
  await expect(complaint).toHaveAttribute("aria-invalid", "true");
  await expect(complaint).toHaveAccessibleDescription("Fill this in.");
  const said = page.locator(".missing");
  const n = await said.count();
  expect(n).toBeGreaterThan(0);
  await complaint.fill("hums");
  await expect(said).toHaveCount(n - 1);
  await expect(complaint).not.toHaveAttribute("aria-invalid", "true");
  await page.getByRole("button", { name: "Choose the work" }).click();
  await page.getByRole("button", { name: "Choose the work" }).click();
  await expect(said).toHaveCount(n - 1); // pressed twice it is said once
});
