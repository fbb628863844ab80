import fs from "node:fs";
import Ajv2020 from "ajv/dist/2020";
import fc from "fast-check";
import { Pack } from "./catalogue";
import { packSchema } from "./packSchema";

/**
 * From outside: `ajv`, a reference validator of JSON Schema 2020-12, reads the published schema and judges packs by it; where
 * it and the product's own reader look at the same thing, they must agree.
 */
const ajv = new Ajv2020({ strict: true, allErrors: true });
const validate = ajv.compile(packSchema());
const demo = JSON.parse(fs.readFileSync("demo/data/catalogue.json", "utf8"));

type Doc = Record<string, unknown>;

/** Every place of a document at which something stands, as paths. */
function places(value: unknown, path: readonly (string | number)[] = []): (readonly (string | number)[])[] {
  if (typeof value !== "object" || value === null) return [path];
  const keys = Array.isArray(value) ? value.map((_v, i) => i) : Object.keys(value);
  return [path, ...keys.flatMap((k) => places((value as Doc)[k], [...path, k]))];
}

function changed(path: readonly (string | number)[], to: unknown): unknown {
  const copy = structuredClone(small);
  const at = path.slice(0, -1).reduce<Doc>((v, k) => v[k] as Doc, copy as unknown as Doc);
  if (to === undefined) delete at[path[path.length - 1]];
  else at[path[path.length - 1]] = to;
  return copy;
}

const small = {
  ...demo,
  models: demo.models.slice(0, 2),
  images: demo.images.slice(0, 4),
  needs: demo.needs.slice(0, 1),
};

describe("the published schema", () => {
  test("accepts the demo catalogue, and what the export makes of it", () => {
    expect(validate(demo)).toBe(true);
    expect(validate(JSON.parse(JSON.stringify(Pack.parse(demo))))).toBe(true);
  });

  test("refuses each of these, and says where", () => {
    const refusals: [unknown, string][] = [
      [{ ...small, format: "something" }, "/format"],
      [{ ...small, extra: 1 }, ""],
      [changed(["models", 0, "launchApi"], 0), "/models/0/launchApi"],
      [changed(["models", 0, "id"], "With Blanks"), "/models/0/id"],
      [changed(["images", 1, "files", 0, "sha256"], "abc"), "/images/1/files/0/sha256"],
      [changed(["images", 1, "released"], "May 2024"), "/images/1/released"],
      [changed(["needs", 0, "apps"], []), "/needs/0/apps"],
      [changed(["models", 0, "source"], undefined), "/models/0"],
    ];
    for (const [document, at] of refusals) {
      expect(validate(document)).toBe(false);
      expect(validate.errors?.map((e) => e.instancePath)).toContain(at);
    }
  });

  test("agrees with the reader on documents broken at any place", () => {
    const somewhere = fc.constantFrom(...places(small).filter((p) => p.length > 1));
    const something = fc.constantFrom<unknown>(undefined, null, -1, 1.5, "", "x".repeat(500), true, [], {}, 1e300);
    // What the schema can't say, and the reader checks besides: whether a release exists, and what belongs together in one entry.
    const beyond = (code: string) => code === "custom";
    fc.assert(
      fc.property(somewhere, something, (path, to) => {
        const document = changed(path, to);
        const read = Pack.safeParse(document);
        const byReader = read.success || read.error.issues.every((i) => beyond(i.code));
        expect({ path, to, fits: validate(document) }).toEqual({ path, to, fits: byReader });
      }),
      { numRuns: 500 },
    );
  });

  test("stands in docs/ as it is", () => {
    expect(JSON.parse(fs.readFileSync("docs/catalogue.schema.json", "utf8"))).toEqual(packSchema());
  });
});
