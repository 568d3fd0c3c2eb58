import js from "@eslint/js";
import globals from "globals";

export default [
  { ignores: ["**/vendor/**", ".venv/**", "build/**"] },
  js.configs.recommended,
  {
    files: ["laberinto/**/*.js"],
    languageOptions: {
      sourceType: "module",
      globals: { ...globals.browser, htmx: "readonly", Idiomorph: "readonly", Sortable: "readonly" },
    },
    linterOptions: { reportUnusedDisableDirectives: "error" },
    rules: {
      eqeqeq: ["error", "always", { null: "ignore" }],
      "no-shadow": "error",
      "no-var": "error",
      "prefer-const": "error",
      "no-implicit-globals": "error",
      "no-unused-vars": ["error", { args: "after-used" }],
      "max-len": ["error", { code: 140, ignoreUrls: true, ignoreTemplateLiterals: true, ignoreStrings: true, ignoreRegExpLiterals: true }],
    },
  },
];
