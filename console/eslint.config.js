import { createTypeScriptImportResolver } from "eslint-import-resolver-typescript";
import a11y from "eslint-plugin-jsx-a11y";
import hooks from "eslint-plugin-react-hooks";
import imports from "eslint-plugin-import-x";
import ts from "typescript-eslint";

// The folders of src, each of which may import from those before it. What several need is in parts.
const order = ["api", "parts", "room", "table", "maker", "arrange", "shelf", "bench", "pages"];

const zones = order.map((folder, i) => ({
  target: `./src/${folder}`,
  from: order.slice(i + 1).map((later) => `./src/${later}`),
  message: `${folder} is below it (eslint.config.js)`,
}));

export default ts.config(
  { ignores: ["dist", "public", "client/dist", "client/src/schema.gen.ts"] },
  ...ts.configs.strict,
  hooks.configs.flat.recommended,
  a11y.flatConfigs.recommended,
  {
    plugins: { "import-x": imports },
    settings: {
      ...imports.flatConfigs.typescript.settings,
      "import-x/resolver-next": [createTypeScriptImportResolver({ project: "tsconfig.json" })],
    },
    rules: {
      "jsx-a11y/no-autofocus": "off", // a dialog and an entrance have one thing to begin with
      "jsx-a11y/no-noninteractive-tabindex": ["error", { tags: [], roles: ["log"] }], // a log is scrolled by key
      "import-x/no-cycle": "error",
    },
  },
  {
    files: ["src/**"],
    ignores: ["src/**/*.test.ts", "src/**/*.test.tsx"],
    rules: { "import-x/no-restricted-paths": ["error", { zones: zones.filter((z) => z.from.length > 0) }] },
  },
);
