// Lints the OpenAPI text on standard input with the recommended rules, and says where each
// fault is. `lugtak schema openapi | node openapi.mjs`
import { createConfig, lintFromString } from "@redocly/openapi-core";
import { text } from "node:stream/consumers";

const config = await createConfig({
  extends: ["recommended"],
  rules: {
    "operation-4xx-response": "error",
    "operation-description": "error",
    "parameter-description": "error",
    "info-license": "off", // the shop's own
    "info-license-strict": "off",
  },
});
const problems = await lintFromString({
  source: await text(process.stdin),
  absoluteRef: "openapi.json",
  config,
});
for (const p of problems) console.error(`${p.ruleId}: ${p.location[0]?.pointer ?? ""}: ${p.message}`);
if (problems.length > 0) process.exitCode = 1;
