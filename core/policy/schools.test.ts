import fs from "node:fs";
import { DEFAULT_POLICY, Policy } from "./policy";
import { SCHOOL_KEYS, SCHOOLS } from "./schools";
import { schoolsDoc } from "./schoolsDoc";

test("the policy has a field for every school, with the school's default and sides", () => {
  expect(SCHOOL_KEYS.length).toBeGreaterThan(4);
  for (const key of SCHOOL_KEYS) {
    const { sides, default: usual, why } = SCHOOLS[key];
    expect(DEFAULT_POLICY[key]).toBe(usual);
    for (const { value } of sides) expect(Policy.parse({ [key]: value })[key]).toBe(value);
    expect(Policy.safeParse({ [key]: "something else" }).success).toBe(false);
    // A real reason, not a repetition of the default.
    expect(why.length).toBeGreaterThan(60);
  }
});

test("the docs tell the schools as they are", () => {
  expect(fs.readFileSync("docs/schools.md", "utf8")).toBe(schoolsDoc());
});
