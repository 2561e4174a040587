// Looks the descriptions of the API over: the socket's with AsyncAPI's parser, the routes' with Redocly's rules.
import { Parser } from "@asyncapi/parser";
import { spawnSync } from "node:child_process";
import { readFileSync } from "node:fs";

const socket = "../docs/asyncapi.yaml";
const { document, diagnostics } = await new Parser().parse(readFileSync(socket, "utf8"), { source: socket });
const wrong = diagnostics.filter((d) => d.severity < 2);
for (const d of wrong) console.error(`${socket}, line ${d.range.start.line + 1}: ${d.message} (${d.path.join(".")})`);
if (!document || wrong.length > 0) process.exit(1);

const routes = spawnSync("node_modules/.bin/redocly", ["lint", "../docs/openapi.json", "--format=summary"], { encoding: "utf8" });
if (routes.status !== 0) {
  console.error(routes.stdout + routes.stderr);
  process.exit(1);
}
console.log("The descriptions of the API are sound.");
