// A demo shop of its own for each test, on a free port, and the hands to use it.
import { spawn } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import AxeBuilder from '@axe-core/playwright';
import { test as base, expect } from '@playwright/test';

export const binary = resolve(import.meta.dirname, '..', 'bin', 'lugtak');
export const aro = ['Technician Aro', '2401'], bel = ['Technician Bel', '3712'], cass = ['Foreman Cass', '5820'];
export const half = 'demo-half-done', waiting = 'demo-waiting';

export async function serve(args) {
  const child = spawn(binary, args, { stdio: ['ignore', 'pipe', 'inherit'] });
  const url = await new Promise((ok, fail) => {
    let text = '';
    child.stdout.on('data', (d) => {
      text += d;
      const m = text.match(/http:\/\/[\d.]+:\d+/);
      if (m) ok(m[0]);
    });
    child.on('exit', (code) => fail(new Error(`the server ended with ${code}: ${text}`)));
  });
  const gone = new Promise((ok) => child.on('exit', ok));
  return { url, stop: () => { child.kill('SIGTERM'); return gone; } };
}

export const test = base.extend({
  shop: async ({}, use) => {
    const dir = mkdtempSync(join(tmpdir(), 'lugtak-e2e-'));
    const db = join(dir, 'shop.db');
    const s = await serve(['demo', '--addr', '127.0.0.1:0', '--db', db]);
    await use({ ...s, db, dir });
    await s.stop();
    rmSync(dir, { recursive: true, force: true });
  },
});
export { expect };

export async function signIn(page, shop, [name, pin]) {
  await page.goto(shop.url + '/signin');
  await page.getByLabel('Name').fill(name);
  await page.getByLabel('PIN').fill(pin);
  await page.getByRole('button', { name: 'Sign in' }).click();
  await expect(page.getByRole('heading', { name: 'Bays' })).toBeVisible();
}

// axe finds nothing serious, and nothing hangs over the edge.
export async function sound(page) {
  const { violations } = await new AxeBuilder({ page }).analyze();
  const bad = violations.filter((v) => ['serious', 'critical'].includes(v.impact));
  expect(bad.map((v) => `${v.id}: ${v.nodes.map((n) => n.target.join(' ')).join('; ')}`)).toEqual([]);
  const over = await page.evaluate(() => document.documentElement.scrollWidth - document.documentElement.clientWidth);
  expect(over, 'the page is wider than its window').toBeLessThanOrEqual(1);
}

export const what = (page) => page.locator('h2.what');

// work goes on with the keys until the step's title matches; it answers what it
// is asked and pulls by hand.
export async function work(page, until) {
  for (let n = 0; n < 120; n++) {
    const title = await what(page).textContent();
    if (until.test(title)) return;
    const seq = await page.locator('main.bench').getAttribute('data-seq');
    const ask = page.locator('button.variant').first();
    if (await ask.count()) { await ask.click(); await expect(page.locator(`main.bench:not([data-seq="${seq}"])`)).toBeVisible(); continue; }
    const slot = page.getByLabel('it went on to the slot by');
    if (await slot.count()) await slot.fill('25');
    const pick = page.locator('.withchoice input[type=radio]').first();
    if (await pick.count()) await pick.check();
    await page.evaluate(() => document.activeElement.blur());
    await page.keyboard.press(' ');
    await expect(page.locator(`main.bench:not([data-seq="${seq}"])`), `after “${title}”`).toBeVisible();
  }
  throw new Error('the job does not end');
}
