import a11y from "eslint-plugin-jsx-a11y";
import hooks from "eslint-plugin-react-hooks";
import ts from "typescript-eslint";

export default ts.config(
  { ignores: ["dist", "public", "client/dist", "client/src/schema.gen.ts"] },
  ...ts.configs.strict,
  hooks.configs.flat.recommended,
  a11y.flatConfigs.recommended,
  {
    rules: {
      "jsx-a11y/no-autofocus": "off", // a dialog and an entrance have one thing to begin with
      "jsx-a11y/no-noninteractive-tabindex": ["error", { tags: [], roles: ["log"] }], // a log is scrolled by key
    },
  },
  {
    files: ["src/table/**"],
    rules: {
      // arranging is laid over the table, which knows nothing of it; the page puts them together
      "no-restricted-imports": ["error", { patterns: [{ group: ["**/arrange/*"], message: "the table knows nothing of arranging" }] }],
    },
  },
);
