import { spawnSync } from "node:child_process";
import fs from "node:fs";
import os from "node:os";
import path from "node:path";

// The arrows of docs/house.md. A check that can't fail would be worth nothing: each forbidden import is seen to be
// refused, in a house of its own with the project's rules.
const house = fs.mkdtempSync(path.join(os.tmpdir(), "upshift-house-"));
const rules = JSON.parse(fs.readFileSync("biome.json", "utf8"));
fs.writeFileSync(
  path.join(house, "biome.json"),
  JSON.stringify({ ...rules, $schema: undefined, vcs: { enabled: false } }),
);

const FORBIDDEN = [
  ["core/device/a.ts", "~/store/database"],
  ["core/device/b.ts", "../../app/ui/words"],
  ["core/device/c.ts", "node:fs"],
  ["core/device/d.ts", "better-sqlite3"],
  ["store/a.ts", "~/app/ui/words"],
  ["store/b.ts", "~/demo/load"],
  ["phone/a.ts", "~/store/database"],
  ["demo/a.ts", "~/phone/state"],
  ["app/routes/a/route.tsx", "~/demo/load"],
  ["app/routes/b/route.tsx", "~/phone/phone"],
  ["app/routes/c/route.tsx", "better-sqlite3"],
  ["app/server/e.ts", "~/standins/register"],
  ["standins/a.ts", "~/store/database"],
  ["core/device/f.ts", "~/testing/catalogueEntries"],
  ["testing/a.ts", "~/store/database"],
] as const;

const ALLOWED = [
  ["store/c.ts", "~/core/device/fact"],
  ["app/routes/d/route.tsx", "~/store/devices"],
  ["phone/b.ts", "~/core/files/standIn"],
  ["demo/b.ts", "~/store/devices"],
  ["core/device/g.test.ts", "~/testing/catalogueEntries"],
] as const;

for (const [file, target] of [...FORBIDDEN, ...ALLOWED]) {
  fs.mkdirSync(path.dirname(path.join(house, file)), { recursive: true });
  fs.writeFileSync(path.join(house, file), `import { x } from "${target}";\n\nexport const y = x;\n`);
}
const run = spawnSync(
  path.resolve("node_modules/.bin/biome"),
  ["lint", "--reporter=json", "--max-diagnostics=200", "."],
  { cwd: house, encoding: "utf8" },
);
const refused: string[] = JSON.parse(run.stdout)
  .diagnostics.filter((d: { category: string }) => d.category === "lint/style/noRestrictedImports")
  .map((d: { location: { path: string | { file: string } } }) =>
    typeof d.location.path === "string" ? d.location.path : d.location.path.file,
  );

test.each(FORBIDDEN)("%s may not import %s", (file) => {
  expect(refused.some((r) => r.endsWith(file))).toBe(true);
});

test.each(ALLOWED)("%s may import %s", (file) => {
  expect(refused.some((r) => r.endsWith(file))).toBe(false);
});
