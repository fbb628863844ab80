import { writePackagesBack } from "./packagesBack";
import { readPackageValue, seenInList } from "./packagesSeen";

const listed = [
  { name: "com.maker.shop", before: null },
  { name: "com.maker.keys", before: null },
];

describe("what the client's list tells of packages that were to go", () => {
  test("missing is gone, there is stays", () => {
    expect(seenInList("package:android\npackage:com.maker.keys\n", listed)).toEqual([
      { name: "com.maker.shop", outcome: "gone" },
      { name: "com.maker.keys", outcome: "stays" },
    ]);
  });

  test("later, only what has changed is told: back, or gone again; what was never there is not “gone”", () => {
    const before = [
      { name: "com.maker.shop", before: "gone" as const },
      { name: "com.maker.keys", before: "back" as const },
      { name: "com.maker.news", before: "absent" as const },
      { name: "com.maker.mall", before: "stays" as const },
    ];
    expect(seenInList("package:android\npackage:com.maker.shop\npackage:com.maker.mall", before)).toEqual([
      { name: "com.maker.shop", outcome: "back" },
      { name: "com.maker.keys", outcome: "gone" },
    ]);
  });

  test("nothing, something else, or a list that was cut short is refused in words, never taken for “all gone”", () => {
    expect(seenInList("", listed)).toContain("There is no package in what was pasted");
    expect(seenInList("error: no devices/emulators found", listed)).toContain("There is no package");
    expect(seenInList("package:com.maker.keys", listed)).toContain("not the whole list");
  });
});

test("what a script reports of packages", () => {
  expect(readPackageValue("package.com.maker.shop", "gone")).toEqual({ name: "com.maker.shop", outcome: "gone" });
  expect(readPackageValue("package.com.maker.shop", "perhaps")).toBeNull();
  expect(readPackageValue("package.x; reboot", "gone")).toBeNull();
  expect(readPackageValue("battery", "80")).toBeNull();
});

test("nothing to put back is no script", () => {
  expect(() => writePackagesBack({ tag: "T", serial: null, names: [] })).toThrow("nothing to put back");
});
