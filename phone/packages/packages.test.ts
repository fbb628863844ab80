import { standInBytes } from "~/core/files/standIn";
import { codenames, demoCatalogue, md5Hex } from "~/demo/catalogue";
import { shell } from "~/phone/adb/shell";
import { reportOf, startSystem } from "~/phone/boot";
import { phoneFromCatalogue } from "~/phone/fromCatalogue";
import { actByHand } from "~/phone/hands";
import { makeFacts } from "~/testing/catalogueEntries";
import { installApp, streamedInstall } from "./install";

// The package manager of the simulated phone: its own book of what a cleaned system survives.
const catalogue = demoCatalogue();
const list = catalogue.images.find((i) => i.id === "tab8-clean-11");
if (!list) throw new Error("no list");

function tablet(over: Record<string, string | boolean> = {}) {
  const model = catalogue.models.find((m) => m.id === "ondarra-tab8");
  if (!model) throw new Error("no model");
  const facts = makeFacts({
    "model.number": model.modelNumbers[0],
    "android.release": "11",
    "build.number": "OT11-RZ9A.210605.001",
    "storage.state": "clean",
    "accounts.on": false,
    ...over,
  });
  return phoneFromCatalogue({ tag: "T", serial: "S1", model, facts, images: catalogue.images });
}

const names = (text: string) => text.trim().split("\n");
const home = "example.firstshelf.home";

describe("pm, as the platform answers it", () => {
  test("list packages with its flags", () => {
    const device = tablet();
    const all = names(shell(device, "pm list packages"));
    expect(all).toContain("package:com.ondarra.mall");
    expect(all).toContain("package:com.android.phone");
    expect(names(shell(device, "pm list packages -f com.ondarra.mall"))).toEqual([
      "package:/system/app/mall/base.apk=com.ondarra.mall",
    ]);
    expect(shell(device, "pm list packages -3")).toBe("");
    installApp(device, standInBytes(list, "firstshelf-home-2.4.apk", codenames(catalogue), md5Hex));
    expect(names(shell(device, "pm list packages -3"))).toEqual([`package:${home}`]);
    expect(shell(device, "pm list packages -s")).not.toContain(home);
    expect(shell(device, "pm path com.ondarra.mall")).toBe("package:/system/app/mall/base.apk\n");
    expect(shell(device, "pm path com.ondarra.nothing")).toBe("");
  });

  test("a package of the system goes for the first user only, stays on the partition, and comes back", () => {
    const device = tablet();
    expect(shell(device, "pm uninstall com.ondarra.mall")).toContain("DELETE_FAILED_INTERNAL_ERROR");
    expect(shell(device, "'pm uninstall com.ondarra.mall || pm uninstall --user 0 com.ondarra.mall'")).toMatch(
      /Failure.*\nSuccess\n/,
    );
    expect(shell(device, "pm list packages")).not.toContain("com.ondarra.mall");
    expect(shell(device, "pm list packages -u")).toContain("com.ondarra.mall");
    expect(shell(device, "pm uninstall --user 0 com.ondarra.mall")).toContain("not installed for 0");
    expect(shell(device, "cmd package install-existing com.ondarra.mall")).toBe(
      "Package com.ondarra.mall installed for user: 0\n",
    );
    expect(shell(device, "cmd package install-existing com.ondarra.nothing")).toContain("doesn't exist");
    expect(shell(device, "pm list packages")).toContain("com.ondarra.mall");
  });

  test("an app is streamed as the client does it, and refused where it is none", () => {
    const device = tablet();
    const bytes = Buffer.from(standInBytes(list, "plainkeys-1.9.apk", codenames(catalogue), md5Hex));
    const told: string[] = [];
    const receive = streamedInstall(
      device,
      `exec:cmd package 'install' '-g' '-S' '${bytes.length}'`,
      (d) => told.push(String(d)),
      () => told.push("closed"),
    );
    receive?.(bytes.subarray(0, 10));
    expect(told).toEqual([]);
    receive?.(bytes.subarray(10));
    expect(told).toEqual(["Success\n", "closed"]);
    expect(shell(device, "ime set example.plainkeys/.Keys")).toContain("cannot be selected");
    expect(shell(device, "ime enable example.plainkeys/.Keys")).toContain("now enabled");
    expect(shell(device, "ime set example.plainkeys/example.plainkeys.Keys")).toContain("selected for user #0");
    expect(installApp(device, Buffer.from("no app"))).toContain("INSTALL_PARSE_FAILED");
    expect(
      streamedInstall(
        device,
        "exec:rm -rf /",
        () => undefined,
        () => undefined,
      ),
    ).toBeNull();
  });

  test("less on it leaves more room and memory", () => {
    const device = tablet();
    const free = () => Number(/MemAvailable:\s+(\d+)/.exec(shell(device, "cat /proc/meminfo"))?.[1]);
    const before = free();
    shell(device, "pm uninstall --user 0 com.ondarra.mall");
    expect(free()).toBeGreaterThan(before);
    expect(shell(device, "df /data").split("\n")[1].split(/\s+/)).toHaveLength(6);
  });
});

describe("what a cleaned system does not survive", () => {
  test("a kept package: it stops starting; a reset in the recovery brings all back", () => {
    const device = tablet();
    shell(device, "pm uninstall --user 0 com.android.phone");
    shell(device, "pm uninstall --user 0 com.ondarra.mall");
    startSystem(device);
    expect(reportOf(device)).toMatchObject({ boots: false });
    expect(device.trail.at(-1)).toContain("com.android.phone was taken away");
    expect(actByHand(device, "keys.recovery")).toBeNull();
    expect(actByHand(device, "recovery.factory-reset")).toBeNull();
    startSystem(device);
    expect(reportOf(device)).toMatchObject({ boots: true });
    expect(shell(device, "pm list packages")).toContain("com.ondarra.mall");
  });

  test("the maker's home screen draws the recent-apps view: without it the key does nothing", () => {
    const device = tablet();
    startSystem(device);
    installApp(device, standInBytes(list, "firstshelf-home-2.4.apk", codenames(catalogue), md5Hex));
    expect(shell(device, `cmd package set-home-activity ${home}/.Shelf`)).toBe("Success\n");
    expect(actByHand(device, "check.home-works")).toBeNull();
    shell(device, "pm uninstall --user 0 com.ondarra.launcher");
    expect(actByHand(device, "check.home-works")).toContain("recent-apps key does nothing");
  });

  test("a home screen that goes before another is default leaves a black screen; a keyboard leaves none", () => {
    const device = tablet();
    startSystem(device);
    shell(device, "pm uninstall --user 0 com.ondarra.keyboard");
    expect(actByHand(device, "check.home-works")).toContain("No keyboard comes");
    shell(device, "pm uninstall --user 0 com.ondarra.launcher");
    expect(actByHand(device, "check.home-works")).toContain("screen stays black");
    expect(actByHand(device, "check.home-comes")).toContain("screen stays black");
    expect(shell(device, `cmd package set-home-activity ${home}/.Shelf`)).toContain("Failed to set");
  });

  test("a reset takes what was installed since, and the maker's home and keyboard are asked again", () => {
    const device = tablet();
    startSystem(device);
    installApp(device, standInBytes(list, "firstshelf-home-2.4.apk", codenames(catalogue), md5Hex));
    shell(device, `cmd package set-home-activity ${home}/.Shelf`);
    actByHand(device, "android.factory-reset");
    expect(shell(device, "pm list packages")).not.toContain(home);
    expect(actByHand(device, "check.home-works")).toBeNull();
  });
});

test("a phone made from a cleaned device is a cleaned one", () => {
  const device = tablet({ "system.cleaned": "tab8-clean-11" });
  expect(shell(device, "pm list packages")).not.toContain("com.ondarra.mall");
  expect(shell(device, "pm list packages")).toContain("com.ondarra.launcher");
});
