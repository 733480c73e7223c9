import { defineConfig } from "@playwright/test";

export default defineConfig({
  testMatch: "*.spec.mjs",
  globalSetup: "./filled.mjs",
  testDir: ".",
  workers: 4, // on two processors: a hand waits between two taps
  retries: 1, // the list names what passed only at the second try: a race, to be mended
  fullyParallel: true,
  // A machine that is shared stands still for longer than a page takes.
  timeout: 600_000,
  expect: { timeout: 60_000 },
  reporter: [["list"]],
  use: {
    serviceWorkers: "block", // but where the network is lost, in offline.spec.mjs
    viewport: { width: 1280, height: 800 },
    launchOptions: {
      executablePath: process.env.CHROMIUM || "/usr/bin/chromium-headless-shell",
      args: [
        "--no-sandbox",
        "--disable-gpu",
        "--disable-quic",
        "--no-first-run",
        "--disable-background-networking",
        "--disable-component-update",
        "--disable-sync",
      ],
    },
  },
});
