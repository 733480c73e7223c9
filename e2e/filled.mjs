// The program as its source stands, and a demo shop's file, filled once before all tests: each begins
// with a copy of it.
import { execFileSync } from "node:child_process";
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { serve } from "./shop.mjs";

export default async () => {
  execFileSync("make", ["-C", "..", "build"], { cwd: import.meta.dirname, stdio: "inherit" });
  const dir = mkdtempSync(join(tmpdir(), "lugtak-filled-"));
  const { stop } = await serve(["demo", "--young", "--addr", "127.0.0.1:0", "--db", join(dir, "shop.db")]);
  await stop();
  process.env.LUGTAK_FILLED = dir;
  return () => rmSync(dir, { recursive: true, force: true });
};
