import type { z } from "zod";

const KINDS: Readonly<Record<string, string>> = {
  string: "a text",
  number: "a number",
  int: "a whole number",
  boolean: "true or false",
  array: "a list",
  object: "an object with named fields",
  record: "an object with named fields",
  null: "null",
};
const PARTS: Readonly<Record<string, readonly [one: string, many: string]>> = {
  string: ["character", "characters"],
  array: ["entry", "entries"],
  set: ["entry", "entries"],
};
/** Names and values that are listed: whoever wrote thousands of wrong ones needs no list of them. */
const SHOWN = 12;

const list = (values: readonly unknown[], quote: (value: unknown) => string) =>
  values.slice(0, SHOWN).map(quote).join(", ") + (values.length > SHOWN ? ` and ${values.length - SHOWN} more` : "");
const quoted = (value: unknown) => `“${String(value).slice(0, 60)}”`;

/**
 * What a schema has against a value, in words for whoever wrote it; a schema's own words stand before these.
 *
 * @returns undefined where there are none: the library's own stay
 * @example inWords({ code: "invalid_type", expected: "array", input: 3 }) // "This must be a list"
 */
export function inWords(issue: z.core.$ZodRawIssue): string | undefined {
  switch (issue.code) {
    case "invalid_type":
      return issue.input === undefined ? "This is missing" : `This must be ${KINDS[issue.expected] ?? issue.expected}`;
    case "invalid_value":
      return issue.input === undefined ? "This is missing" : `This must be ${list(issue.values, quoted)}`;
    case "unrecognized_keys":
      return issue.keys.length === 1
        ? `There is no field ${quoted(issue.keys[0])} here`
        : `There are no such fields here: ${list(issue.keys, quoted)}`;
    case "too_small":
    case "too_big": {
      const [most, limit] =
        issue.code === "too_big" ? (["most", issue.maximum] as const) : (["least", issue.minimum] as const);
      const part = PARTS[issue.origin];
      return part
        ? `This must have at ${most} ${limit} ${part[Number(limit) === 1 ? 0 : 1]}`
        : `This must be at ${most} ${limit}`;
    }
    case "not_multiple_of":
      return `This must be a multiple of ${issue.divisor}`;
    case "invalid_format":
      return "This is not written as it has to be";
    case "invalid_union":
      return "This is none of the things that can stand here";
    case "invalid_key":
      return "A name in it is not written as it has to be";
    default:
      return undefined;
  }
}
