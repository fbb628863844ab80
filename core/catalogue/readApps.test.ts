import { readCsv } from "~/core/lists/table";
import { type App, floorSteps } from "./need";
import { appOfPackage, mergeApps, readAppTable } from "./readApps";

const table = (csv: string) => {
  const read = readCsv(csv);
  if (!read.ok) throw new Error(read.says);
  return readAppTable(read);
};
const app = (name: string, minApi: number, over: Partial<App> = {}): App => ({
  name,
  minApi,
  services: false,
  integrity: false,
  only64: false,
  package: null,
  abis: [],
  hardware: [],
  ...over,
});

describe("a list of apps", () => {
  test("levels and releases, yes and no, processors and hardware", () => {
    expect(
      table(
        "App;Min;Services;64-bit;ABIs;Hardware\nBank;API 29;yes;x;arm64-v8a;camera nfc\nReader;8.1;;;;\nChat;Android 9;no;;;\nMaps;21;;;;",
      ).apps,
    ).toEqual([
      app("Bank", 29, { services: true, only64: true, abis: ["arm64-v8a"], hardware: ["camera", "nfc"] }),
      app("Reader", 27),
      app("Chat", 28),
      app("Maps", 21),
    ]);
  });

  test("each problem at its line, the good rows beside", () => {
    const { apps, problems } = table(
      "name,lowest,services,hardware\nA,eleven,,\nB,9,perhaps,\nC,10,,teleporter\n,9,,\nD,11,,\n",
    );
    expect(apps.map((a) => a.name)).toEqual(["D"]);
    expect(problems.map((p) => p.line)).toEqual([2, 3, 4, 5]);
    expect(problems[0].says).toContain("“eleven” is no Android version");
    expect(table("a,b\n1,2\n").problems[0].says).toContain("names no column for the app's name and its lowest release");
  });
});

test("from a package: what it can't do without, and the guess about services", () => {
  expect(
    appOfPackage({
      kind: "apk",
      package: "example.bank",
      label: "Bank",
      versionName: "1",
      versionCode: 1,
      minApi: 29,
      targetApi: 33,
      maxApi: null,
      abis: ["arm64-v8a"],
      permissions: [],
      namesServices: true,
      split: null,
      splits: [],
      features: [
        { name: "android.hardware.camera.autofocus", required: true },
        { name: "android.hardware.nfc", required: false },
        { name: "android.hardware.cameraless", required: true },
      ],
    }),
  ).toEqual(
    app("Bank", 29, {
      package: "example.bank",
      services: true,
      only64: true,
      abis: ["arm64-v8a"],
      hardware: ["camera"],
    }),
  );
});

test("an app that is there already is renewed, and keeps what no package tells", () => {
  const have = [app("Bank", 26, { package: "example.bank", integrity: true }), app("Chat", 24)];
  const fresh = [app("Harbour Bank", 29, { package: "example.bank" }), app("chat", 26), app("Maps", 21)];
  expect(mergeApps(have, fresh).map((a) => [a.name, a.minApi, a.integrity])).toEqual([
    ["Harbour Bank", 29, true],
    ["chat", 26, false],
    ["Maps", 21, false],
  ]);
});

test("the floor from the top down", () => {
  expect(floorSteps({ apps: [app("A", 24), app("B", 29), app("C", 29), app("D", 26)] })).toEqual([
    { apps: ["B", "C"], api: 29, without: 26 },
    { apps: ["D"], api: 26, without: 24 },
    { apps: ["A"], api: 24, without: null },
  ]);
});
