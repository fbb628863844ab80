import { draftPackageList } from "./draftPackageList";

const kept = new Map([["com.android.phone", "telephony"]]);
const others = new Map([["com.maker.home", "home screen"]]);

test("what must stay is marked, by the platform's list and by the model's other lists; the rest is for a person to tick", () => {
  const draft = draftPackageList(
    "package:/system/app/Shop.apk=com.maker.shop\npackage:com.maker.home\npackage:com.android.phone\npackage:com.maker.shop\n",
    kept,
    others,
  );
  expect(draft).toEqual({
    notUnderstood: [],
    packages: [
      { name: "com.android.phone", keptBecause: "telephony" },
      { name: "com.maker.home", keptBecause: "home screen" },
      { name: "com.maker.shop", keptBecause: null },
    ],
  });
});

test("a name that no list may hold can't be ticked", () => {
  expect(draftPackageList("package:oneword\n", kept, others)).toMatchObject({
    packages: [{ name: "oneword", keptBecause: "no ordinary name" }],
  });
});

test("a name with anything behind it but another column is no name: no half of it is taken", () => {
  const text = "package:/a.apk=com.maker.shop;reboot\npackage:/b=c.apk=com.maker.games  installer=com.maker.market\n";
  expect(draftPackageList(text, kept, others)).toEqual({
    notUnderstood: ["package:/a.apk=com.maker.shop;reboot"],
    packages: [{ name: "com.maker.games", keptBecause: null }],
  });
});

test("lines that are no package are named, the first five; nothing at all, or far too much, is refused in words", () => {
  const noise = Array.from({ length: 9 }, (_, i) => `noise ${i}`).join("\n");
  expect(draftPackageList(`${noise}\npackage:com.maker.shop`, kept, others)).toMatchObject({
    notUnderstood: ["noise 0", "noise 1", "noise 2", "noise 3", "noise 4"],
  });
  expect(draftPackageList("error: device offline", kept, others)).toContain("There is no package");
  const many = Array.from({ length: 2001 }, (_, i) => `package:a.b${i}`).join("\n");
  expect(draftPackageList(many, kept, others)).toContain("more than 2000 packages");
});
