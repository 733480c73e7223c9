// The API's document makes a client that compiles, strictly, and does what it says.
import { execFileSync } from "node:child_process";
import { mkdtempSync, readFileSync, rmSync, symlinkSync, writeFileSync } from "node:fs";
import { createRequire } from "node:module";
import { tmpdir } from "node:os";
import { join } from "node:path";
import openapiTS, { astToString } from "openapi-typescript";
import { binary, cass, expect, signIn, test } from "./shop.mjs";

const here = import.meta.dirname;

test("a client generated from the document compiles and is answered", async ({ page, shop }) => {
  const dir = mkdtempSync(join(tmpdir(), "lugtak-client-"));
  try {
    const document = JSON.parse(execFileSync(binary, ["schema", "openapi"], { maxBuffer: 1 << 26 }));
    writeFileSync(join(dir, "api.d.ts"), astToString(await openapiTS(document)));
    writeFileSync(join(dir, "client.ts"), readFileSync(join(here, "client.ts")));
    writeFileSync(join(dir, "package.json"), '{"type": "module"}');
    symlinkSync(join(here, "node_modules"), join(dir, "node_modules"));
    const tsc = createRequire(import.meta.url).resolve("typescript/bin/tsc");
    const strictly = ["--strict", "--noUncheckedIndexedAccess", "--module", "esnext", "--target", "es2022"];
    const found = ["--moduleResolution", "bundler", "--skipLibCheck", join(dir, "client.ts")];
    execFileSync(process.execPath, [tsc, ...strictly, ...found], { stdio: "pipe", encoding: "utf8" });

    await signIn(page, shop, cass);
    await page.goto(shop.url + "/scripts");
    await page.getByLabel("What it is for").fill("typed client");
    await page.getByRole("button", { name: "Let it in" }).click();
    const token = (await page.locator(".secret").innerText()).trim();
    const { asks } = await import(join(dir, "client.js"));
    const said = await asks(shop.url, token);
    expect(said).toMatchObject({ listed: 2, account: 200, none: "not_found" });
    expect(said.footPounds).toBeCloseTo(70.81, 2); // 96 / 1.3558179483314 (NIST SP 811)
    expect(said.owed[0]).toBe(said.owed[1]);
    expect(said.due).toBe("job,no,vehicle,fleet,kind,title,at_km,due");
  } finally {
    rmSync(dir, { recursive: true, force: true });
  }
});
