import { notKept, notWhole, PRACTICE_BYTES, readIdentityValue } from "./identityCopy";
import { writeRestoreScript } from "./restoreIdentity";

const SUM = "a".repeat(64);

describe("what a script reports of a saved partition", () => {
  test("name, bytes and digest, each as they must be", () => {
    expect(readIdentityValue("identity.persist", `T-persist-1.img 4096 ${SUM}`)).toEqual({
      partition: "persist",
      file: "T-persist-1.img",
      bytes: 4096,
      sha256: SUM,
    });
  });

  test.each([
    ["another value", "battery", "80"],
    ["no bytes", "identity.persist", `a.img 0 ${SUM}`],
    ["half a digest", "identity.persist", "a.img 10 abc"],
    ["nothing behind the name", "identity.persist", "a.img"],
    ["a path in the name", "identity.persist", `../a.img 10 ${SUM}`],
    ["a partition with a shell's characters", "identity.a;reboot", `a.img 10 ${SUM}`],
  ])("%s is no copy", (_, name, value) => {
    expect(readIdentityValue(name, value)).toBeNull();
  });

  test("what is missing is named", () => {
    const copy = { partition: "persist", file: "a.img", bytes: 1, sha256: SUM };
    expect(notKept(["persist", "nvdata"], [copy])).toEqual(["nvdata"]);
    expect(notKept(["persist"], [copy])).toEqual([]);
  });
});

describe("a dump is held against the partition list", () => {
  const of = (partition: string, bytes: number) => ({ partition, file: `${partition}.img`, bytes, sha256: SUM });
  const sizes = { boot: 8192, system: 65_536 };

  test("what is shorter, or longer, is named; what has no size is not", () => {
    expect(notWhole(sizes, [of("parameter", 508), of("boot", 8192), of("system", 65_536)])).toEqual([]);
    expect(notWhole(sizes, [of("boot", 8192), of("system", 65_024)]).map((c) => c.partition)).toEqual(["system"]);
    expect(notWhole(sizes, [of("boot", 8704), of("system", 65_536)]).map((c) => c.partition)).toEqual(["boot"]);
  });

  test("a practice board's dump is as long in every row; one row of that length is cut short", () => {
    expect(notWhole(sizes, [of("boot", PRACTICE_BYTES), of("system", PRACTICE_BYTES)])).toEqual([]);
    expect(notWhole(sizes, [of("boot", 8192), of("system", PRACTICE_BYTES)]).map((c) => c.partition)).toEqual([
      "system",
    ]);
  });

  test("a partition of two gigabytes is a copy like any other", () => {
    expect(readIdentityValue("identity.system", `s.img ${2 ** 31} ${SUM}`)?.bytes).toBe(2 ** 31);
  });
});

describe("the script that gives them back", () => {
  const copies = [
    { partition: "persist", file: "p.img", bytes: 1, sha256: SUM },
    { partition: "nvdata", file: "n.img", bytes: 1, sha256: "b".repeat(64) },
  ];
  const script = writeRestoreScript({ tag: "TH-1", serial: "S'1", codename: "vesper", copies });

  test("asks for this very device and checks every digest before the first write", () => {
    const at = (text: string) => {
      const place = script.indexOf(text);
      expect([text, place > 0]).toEqual([text, true]);
      return place;
    };
    const order = [
      at("want_var serialno 'S'\\''1'"),
      at("want_var product 'vesper'"),
      at("want_var unlocked yes"),
      at(`digest 'p.img' ${SUM}`),
      at(`digest 'n.img' ${"b".repeat(64)}`),
      at("flash 'persist'"),
      at("flash 'nvdata'"),
    ];
    expect(order).toEqual([...order].sort((a, b) => a - b));
  });

  test("is not written without something to tell the device by, nor without copies", () => {
    expect(() => writeRestoreScript({ tag: "T", serial: "", codename: "v", copies })).toThrow("serial number");
    expect(() => writeRestoreScript({ tag: "T", serial: "S", codename: "v", copies: [] })).toThrow("copies on record");
  });
});
