import { z } from "zod";
import { inWords } from "./inWords";

/** Everything a schema has against a value, in our words. */
const says = (schema: z.ZodType, value: unknown) =>
  schema.safeParse(value, { error: inWords }).error?.issues.map((i) => i.message) ?? [];

test.each<[z.ZodType, unknown, string]>([
  [z.string(), 3, "This must be a text"],
  [z.strictObject({ a: z.number() }), {}, "This is missing"],
  [z.enum(["one", "two"]), "three", "This must be “one”, “two”"],
  [z.literal("one"), undefined, "This is missing"],
  [z.int(), 1.5, "This must be a whole number"],
  [z.boolean(), "yes", "This must be true or false"],
  [z.array(z.string()).min(1), [], "This must have at least 1 entry"],
  [z.string().max(3), "four", "This must have at most 3 characters"],
  [z.number().max(3), 4, "This must be at most 3"],
  [z.record(z.string(), z.string()), [], "This must be an object with named fields"],
  [z.strictObject({}), { b: 1 }, "There is no field “b” here"],
  [z.string().regex(/^a$/), "b", "This is not written as it has to be"],
  [z.union([z.string(), z.number()]), null, "This is none of the things that can stand here"],
  [z.number().multipleOf(5), 4, "This must be a multiple of 5"],
])("%#: what is wrong is said in our words", (schema, value, wanted) => {
  expect(says(schema, value)).toEqual([wanted]);
});

test("a schema's own words stand first; thousands of names are not listed", () => {
  expect(says(z.string().regex(/^a$/, "It begins with an a"), "b")).toEqual(["It begins with an a"]);
  const [many] = says(z.strictObject({}), Object.fromEntries(Array.from({ length: 9000 }, (_, i) => [`k${i}`, 1])));
  expect(many).toMatch(/^There are no such fields here: “k0”, .* and 8988 more$/);
});
