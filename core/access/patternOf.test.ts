import { matchRoutes } from "react-router";
import { patternOf } from "./patternOf";
import { knownPatterns } from "./roles";

// The router of the application, from the registry, is the judge: it ranks the same patterns by its own rules.
const routes = knownPatterns().map((path) => ({ path }));
const byRouter = (path: string) => matchRoutes(routes, path)?.at(-1)?.route.path ?? null;

test.each(knownPatterns().filter((p) => !p.includes("*")))(
  "an address of %s is known by it, as the router says",
  (pattern) => {
    const address = pattern.replace(/:\w+/g, "x-1");
    expect(patternOf(address)).toBe(pattern);
    expect(byRouter(address)).toBe(pattern);
  },
);

test("query and mark are passed over; what is no page has no pattern", () => {
  expect(patternOf("/devices/TH-001/ways?way=2#it")).toBe("/devices/:tag/ways");
  expect(patternOf("/models/new")).toBe("/models/new");
  expect(patternOf("/devices/TH-001/nothing")).toBeNull();
  expect(patternOf("https://elsewhere.example/models")).toBeNull();
});
