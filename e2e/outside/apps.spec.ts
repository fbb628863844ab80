import { expect, test } from "@playwright/test";
import { isOnly64 } from "~/core/catalogue/abis";
import { recognise } from "~/core/files/recognise";
import { badging, makeApk } from "../rig/apk";
import { seenAs } from "../rig/seen";
import { Workshop } from "../rig/tools";

// The reader of app packages against packages that the platform's own tool made, and against what it says of them.

let shop: Workshop;
test.beforeEach(() => {
  shop = new Workshop();
});
test.afterEach(() => shop.done());

test.describe("app packages, as aapt makes and tells them", () => {
  const apps = [
    {
      package: "example.notes",
      label: "Notes",
      minApi: 26,
      targetApi: 33,
      asks: ['<uses-permission android:name="android.permission.CAMERA"/>'],
    },
    { package: "example.bank", label: "Bank", minApi: 29, abis: ["arm64-v8a"] },
    { package: "example.reader", label: "Reader", minApi: null },
    { package: "example.chat", label: "Chat & Co", minApi: 24, abis: ["armeabi-v7a", "arm64-v8a"] },
    {
      package: "example.maps",
      label: "Karten Ü",
      minApi: 21,
      targetApi: 30,
      asks: ['<uses-feature android:name="android.hardware.location.gps" android:required="false"/>'],
    },
  ].map((a) => ({ ...a, label: a.label.replace("&", "&amp;") }));

  test("five packages give the same floor as aapt does", async () => {
    const floors: { ours: number; theirs: number }[] = [];
    for (const app of apps) {
      const file = makeApk(shop, app);
      const { content } = await seenAs(shop, file, "apk");
      const said = badging(shop, file);
      expect({
        package: content.package,
        versionCode: content.versionCode,
        minApi: content.minApi,
        targetApi: content.targetApi,
        label: content.label,
        abis: content.abis,
        permissions: content.permissions,
      }).toEqual(said);
      floors.push({ ours: content.minApi, theirs: said.minApi });
    }
    expect(Math.max(...floors.map((f) => f.ours))).toBe(Math.max(...floors.map((f) => f.theirs)));
    expect(Math.max(...floors.map((f) => f.ours))).toBe(29);
  });

  test("a preview's code name, permissions from Android 6 on, and what permissions imply, as aapt tells them", async () => {
    const file = makeApk(shop, {
      package: "example.camera",
      label: "Camera",
      minApi: "Tiramisu",
      targetApi: 33,
      asks: [
        '<uses-permission android:name="android.permission.CAMERA"/>',
        '<uses-permission android:name="android.permission.SEND_SMS"/>',
        '<uses-permission android:name="android.permission.ACCESS_FINE_LOCATION"/>',
        '<uses-permission-sdk-23 android:name="android.permission.BLUETOOTH"/>',
        '<uses-feature android:name="android.hardware.telephony" android:required="false"/>',
      ],
    });
    const { content } = await seenAs(shop, file, "apk");
    const said = shop.run("aapt", "dump", "badging", file);
    expect(said).toContain("Tiramisu");
    expect(content.minApi).toBe(33);
    expect(content.permissions).toContain("android.permission.BLUETOOTH");
    const required = content.features.filter((f) => f.required).map((f) => f.name);
    const theirs = [...said.matchAll(/uses-(?:implied-)?feature(?:-sdk-23)?: name='([^']*)'/g)].map((m) => m[1]);
    // What we take for required, aapt takes for it too; what the app says it can do without, neither does.
    for (const name of required) expect(theirs).toContain(name);
    expect(required).toEqual(expect.arrayContaining(["android.hardware.camera", "android.hardware.bluetooth"]));
    expect(required).not.toContain("android.hardware.telephony");
    expect(theirs).not.toContain("android.hardware.telephony");
    const strange = makeApk(shop, { package: "example.next", label: "Next", minApi: "Zwieback", asks: [] });
    expect((await recognise(shop.source(strange))).says).toContain("a preview of Android, “Zwieback”");
  });

  test("a split-package archive asks for the highest floor of its parts", async () => {
    makeApk(shop, { package: "example.bank", label: "Bank", minApi: 26, asks: [] });
    makeApk(shop, { package: "example.bank", label: "Bank", minApi: 30, split: "feature.scan" });
    shop.run("zip", "-q", "bank.apks", "example.bank.apk", "example.bank-feature.scan.apk");
    expect((await seenAs(shop, "bank.apks", "apk")).content.minApi).toBe(30);
  });

  test("64-bit only, services, and a split-package archive", async () => {
    makeApk(shop, {
      package: "example.bank",
      label: "Bank",
      minApi: 29,
      asks: ['<uses-permission android:name="vendor.gms.permission.VERDICT"/>'],
    });
    makeApk(shop, {
      package: "example.bank",
      label: "Bank",
      minApi: 29,
      split: "config.arm64_v8a",
      abis: ["arm64-v8a"],
    });
    shop.run("zip", "-q", "bank.apks", "example.bank.apk", "example.bank-config.arm64_v8a.apk");
    const { content } = await seenAs(shop, "bank.apks", "apk");
    expect(content).toMatchObject({
      package: "example.bank",
      minApi: 29,
      abis: ["arm64-v8a"],
      namesServices: true,
      splits: ["config.arm64_v8a"],
    });
    expect(isOnly64(content.abis)).toBe(true);
    const part = await seenAs(shop, "example.bank-config.arm64_v8a.apk", "apk");
    expect(part.says).toContain("only a part of an app");
  });
});

test("what permissions and features ask for, each by itself, as aapt tells them", async () => {
  test.setTimeout(120_000);
  const permissions = [
    ...["BLUETOOTH", "BLUETOOTH_ADMIN", "BLUETOOTH_CONNECT", "CAMERA", "RECORD_AUDIO", "NFC", "VIBRATE"],
    ...["ACCESS_FINE_LOCATION", "ACCESS_COARSE_LOCATION", "ACCESS_MOCK_LOCATION", "ACCESS_LOCATION_EXTRA_COMMANDS"],
    ...["INSTALL_LOCATION_PROVIDER", "ACCESS_BACKGROUND_LOCATION", "CONTROL_LOCATION_UPDATES"],
    ...["ACCESS_WIFI_STATE", "CHANGE_WIFI_STATE", "CHANGE_WIFI_MULTICAST_STATE", "ACCESS_NETWORK_STATE"],
    ...["CALL_PHONE", "CALL_PRIVILEGED", "MODIFY_PHONE_STATE", "PROCESS_OUTGOING_CALLS", "READ_PHONE_STATE"],
    ...["READ_SMS", "RECEIVE_SMS", "RECEIVE_MMS", "RECEIVE_WAP_PUSH", "SEND_SMS", "WRITE_SMS", "WRITE_APN_SETTINGS"],
  ].map((p) => `<uses-permission android:name="android.permission.${p}"/>`);
  const feature = (name: string, more = "") => `<uses-feature android:name="android.hardware.${name}"${more}/>`;
  const features = [
    ...["camera.autofocus", "camera.flash", "camera.front", "camera.any", "location.gps", "location.network"],
    ...["touchscreen.multitouch", "touchscreen.multitouch.distinct", "telephony.gsm", "wifi.direct", "nfc.hce"],
  ].map((name) => feature(name));
  const optional = ' android:required="false"';
  const together = [
    feature("camera.autofocus", optional),
    `${permissions[3]}${feature("camera", optional)}${feature("camera.flash")}`,
    `${permissions[7].replace("uses-permission", "uses-permission-sdk-23")}`,
    `${permissions[3].replace("/>", ' android:maxSdkVersion="22"/>')}`,
  ];
  const cases = [
    ...permissions.flatMap((ask) => [20, 33].map((targetApi) => ({ asks: [ask], targetApi }))),
    ...[...features, ...together].map((ask) => ({ asks: [ask], targetApi: 33 })),
  ];
  expect(cases.length).toBeGreaterThan(70);
  for (const { asks, targetApi } of cases) {
    const file = makeApk(shop, { package: "example.one", label: "One", minApi: 9, targetApi, asks });
    const { content } = await seenAs(shop, file, "apk");
    const said = shop.run("aapt", "dump", "badging", file);
    const theirs = [...said.matchAll(/^ *uses-feature(?:-sdk-23)?: name='([^']*)'/gm)].map((m) => m[1]);
    const ours = content.features.filter((f) => f.required).map((f) => f.name);
    // Every app has this one, touch screen or not.
    expect([asks, targetApi, ...ours.sort()]).toEqual([
      asks,
      targetApi,
      ...theirs.filter((name) => name !== "android.hardware.faketouch").sort(),
    ]);
  }
});

test("a target that is a preview's code name counts as the level it got", async () => {
  const asks = ['<uses-permission android:name="android.permission.ACCESS_FINE_LOCATION"/>'];
  const file = makeApk(shop, { package: "example.next", label: "Next", minApi: 9, targetApi: "Tiramisu", asks });
  const { content } = await seenAs(shop, file, "apk");
  // aapt takes a code name for no number here, and the lowest level in its place.
  expect(shop.run("aapt", "dump", "badging", file)).toContain("targetSdkVersion < 21");
  expect(content.targetApi).toBe(33);
  expect(content.features.map((f) => f.name)).toEqual(["android.hardware.location"]);
});

test("of several groups of features one is enough", async () => {
  const group = (...names: string[]) =>
    `<feature-group>${names.map((n) => `<uses-feature android:name="android.hardware.${n}"/>`).join("")}</feature-group>`;
  const asks = [group("camera", "nfc"), group("microphone", "nfc")];
  const file = makeApk(shop, { package: "example.groups", label: "Groups", minApi: 26, asks });
  expect(shop.run("aapt", "dump", "badging", file).match(/^feature-group:/gm)).toHaveLength(2);
  const { content } = await seenAs(shop, file, "apk");
  expect(content.features.filter((f) => f.required).map((f) => f.name)).toEqual(["android.hardware.nfc"]);
});
