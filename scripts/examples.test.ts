import fs from "node:fs";
import path from "node:path";

// Examples in the doc comments of core are run: one that is not true any more is a lie to whoever reads it. Those that leave
// something out (…) only show a shape.

interface Example {
  readonly file: string;
  readonly of: string;
  readonly gives: string;
}

const examples: Example[] = fs
  .readdirSync("core", { recursive: true, encoding: "utf8" })
  .filter((name) => name.endsWith(".ts") && !name.endsWith(".test.ts"))
  .flatMap((name) => {
    const file = path.join("core", name);
    const lines = fs.readFileSync(file, "utf8").matchAll(/@example (.+?) \/\/ (.+?)(?: \*\/)?$/gm);
    return [...lines].filter(([line]) => !line.includes("…")).map(([, of, gives]) => ({ file, of, gives }));
  });

/** An expression in the scope of a module. */
const evaluate = (scope: object, text: string): unknown =>
  new Function(...Object.keys(scope), `return (${text});`)(...Object.values(scope));

test("there are examples to run", () => expect(examples.length).toBeGreaterThan(70));

test.each(examples.map((e) => [e.file, e.of, e.gives]))("%s: %s is %s", async (file, of, gives) => {
  const scope = await import(path.resolve(file));
  const value = evaluate(scope, of);
  if (/^[<>]/.test(gives)) expect(evaluate(scope, `${value} ${gives}`)).toBe(true);
  else if (typeof value === "number") expect(value).toBeCloseTo(evaluate(scope, gives) as number, 9);
  else expect(value).toEqual(evaluate(scope, gives));
});
