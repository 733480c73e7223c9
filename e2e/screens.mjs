// Takes the pictures in docs/screenshots from a demo shop of its own.
import { chromium } from '@playwright/test';
import config from './playwright.config.mjs';
import { serve } from './shop.mjs';

const { url: base, stop } = await serve(['demo', '--addr', '127.0.0.1:0']);
const browser = await chromium.launch(config.use.launchOptions);
const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
await page.goto(base + '/signin');
await page.getByLabel('Name').fill('Technician Aro');
await page.getByLabel('PIN').fill('2401');
await page.getByRole('button', { name: 'Sign in' }).click();
await page.getByRole('heading', { name: 'Bays' }).waitFor();
for (const [name, path, width = 1280, height = 800] of [
  ['bays', '/'],
  ['plan', '/jobs/demo-half-done/plan'],
  ['bench', '/jobs/demo-half-done/bench'],
  ['ledger', '/jobs/demo-half-done/ledger'],
  ['wrench', '/wrench/w3'],
  ['crib', '/crib'],
  ['reckoner', '/reckoner/preload'],
  ['sheet', '/shelf/ostrel-c22'],
  ['walk', '/jobs/demo-complaint/walk?place=hub&at=raised'],
  ['bench-phone', '/jobs/demo-half-done/bench', 390, 844],
]) {
  await page.setViewportSize({ width, height });
  await page.goto(base + path);
  await page.waitForTimeout(300);
  await page.screenshot({ path: new URL(`../docs/screenshots/${name}.png`, import.meta.url).pathname });
}
await browser.close();
await stop();
