import hooks from "eslint-plugin-react-hooks";
import ts from "typescript-eslint";

export default ts.config(
  { ignores: ["dist", "public", "src/api/schema.gen.ts"] },
  ...ts.configs.strict,
  hooks.configs.flat.recommended,
);
