import { DEFAULT_POLICY } from "~/core/policy/policy";
import { makeModel } from "~/testing/catalogueEntries";
import { Bench } from "./bench";

const saying = { title: "t", says: "s", normal: "n", otherwise: "o", usual: 1, latest: 2 };
const begin = () => new Bench(makeModel({ id: "m" }), "bootloader", null, DEFAULT_POLICY);

describe("what the bootloader is asked", () => {
  const ask = (bench: Bench, name = "unlocked", expect = "yes", more: object = {}) =>
    bench.wantVar(name, expect, "bootloader unlocked", "Go back", more);
  const gates = (bench: Bench) =>
    bench.steps.map(({ deed }) => (deed.kind === "gate" && deed.gate.kind === "getvar" ? deed.gate : deed.kind));

  test("twice the same is asked once; another name or another answer is asked too", () => {
    const bench = begin();
    for (const [name, expect] of [
      ["unlocked", "yes"],
      ["unlocked", "yes"],
      ["unlocked", "no"],
      ["product", "no"],
    ])
      ask(bench, name, expect);
    expect(gates(bench)).toEqual([
      { kind: "getvar", name: "unlocked", expect: "yes", fact: "bootloader unlocked" },
      { kind: "getvar", name: "unlocked", expect: "no", fact: "bootloader unlocked" },
      { kind: "getvar", name: "product", expect: "no", fact: "bootloader unlocked" },
    ]);
  });
  test("behind something else it is asked again", () => {
    const bench = begin();
    ask(bench);
    bench.command("fastboot", ["flash", "boot"], saying);
    ask(bench);
    expect(gates(bench)).toHaveLength(3);
  });
  test("the fact that the answer is goes with it", () => {
    const bench = begin();
    ask(bench, "unlocked", "yes", { key: "bootloader.locked", title: "Check: unlocked" });
    expect(gates(bench)[0]).toMatchObject({ key: "bootloader.locked" });
    expect(bench.steps[0].title).toBe("Check: unlocked");
  });
});

describe("commands", () => {
  const made = (words: readonly string[], more: object = {}) => {
    const bench = begin();
    bench.command("fastboot", words, { ...saying, ...more });
    return bench.steps[0];
  };
  test("a code without what no file name has, of sixty letters at most", () => {
    expect(made(["flash", "--slot=all", "boot/ : a"]).code).toBe("fastboot.flash-boot-a");
    expect(made(["oem", "x".repeat(100)]).code).toBe(`fastboot.oem-${"x".repeat(56)}`);
  });
  test("may fail, or has others in its place, only where that is said", () => {
    expect(made(["erase", "cache"]).deed).toEqual({ kind: "command", tool: "fastboot", words: ["erase", "cache"] });
    expect(made(["erase"], { mayFail: true, instead: [["format"]] }).deed).toMatchObject({
      mayFail: true,
      instead: [["format"]],
    });
  });
});
