import fs from "node:fs";
import { accessOf, knownPatterns, mayDo, OPEN_PATTERNS, ROLES } from "./roles";

/** The application's own table of routes. */
const routes = [
  "/",
  ...[...fs.readFileSync("app/routes.ts", "utf8").matchAll(/route\("([^"]+)"/g)].map((m) => `/${m[1]}`),
];

test("every page stands in exactly one group, or is open to all; no group names a page that is gone", () => {
  expect(routes.length).toBeGreaterThan(70);
  const known = [...knownPatterns(), ...OPEN_PATTERNS];
  expect([...known].sort()).toEqual([...new Set(routes)].sort());
  expect(new Set(known).size).toBe(known.length);
});

test("who writes may read, and a coordinator may do everything", () => {
  for (const pattern of knownPatterns()) {
    const { read, write } = accessOf(pattern);
    for (const role of write) expect(read).toContain(role);
    expect(read).toContain("coordinator");
  }
});

test.each([
  ["bench", "GET", "/donors/:name", false],
  ["bench", "GET", "/clearance.csv", false],
  ["bench", "POST", "/bench/:tag", true],
  ["bench", "POST", "/match/:model", false],
  ["desk", "POST", "/clearance/:tag", true],
  ["desk", "POST", "/bench/:tag", false],
  ["desk", "POST", "/policy", false],
  ["looker-on", "GET", "/match", true],
  ["looker-on", "GET", "/clearance", false],
  ["looker-on", "POST", "/account", true],
  ["coordinator", "POST", "/people", true],
  ["bench", "GET", "/people", false],
  ["coordinator", "GET", "/no/such/page", false],
] as const)("%s, %s %s: %s", (role, method, pattern, may) => expect(mayDo(role, method, pattern)).toBe(may));

test("a looker-on changes nothing but their own account", () => {
  const writes = knownPatterns().filter((p) => mayDo("looker-on", "POST", p));
  expect(writes).toEqual(["/account"]);
  expect(ROLES).toHaveLength(4);
});
