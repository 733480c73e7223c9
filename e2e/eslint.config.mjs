import js from "@eslint/js";
import globals from "globals";

export default [
  js.configs.recommended,
  {
    files: ["pages/kit/static/*.js", "pages/kit/assets/*.js"],
    languageOptions: {
      globals: { ...globals.browser, ...globals.serviceworker, htmx: "readonly", outbox: "readonly" },
    },
  },
  {
    files: ["**/*.mjs"],
    languageOptions: { globals: { ...globals.node, ...globals.browser, outbox: "readonly" } },
    rules: { "no-empty-pattern": "off" }, // a fixture that needs no other
  },
];
