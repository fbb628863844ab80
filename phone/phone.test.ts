import fc from "fast-check";
import { writeSparse } from "~/core/files/sparse";
import { standInBytes } from "~/core/files/standIn";
import { codenames, demoCatalogue, md5Hex } from "~/demo/catalogue";
import { makeFacts } from "~/testing/catalogueEntries";
import { reportOf, startSystem } from "./boot";
import { answer } from "./bootloader/fastboot";
import { phoneFromCatalogue } from "./fromCatalogue";
import { actByHand } from "./hands";
import type { PhoneState } from "./state";

const catalogue = demoCatalogue();
const codename = codenames(catalogue);
const image = (id: string) => {
  const found = catalogue.images.find((i) => i.id === id);
  if (!found) throw new Error(id);
  return found;
};
const bytes = (id: string, name: string) => standInBytes(image(id), name, codename, md5Hex);

function slate(over: Partial<PhoneState> = {}): PhoneState {
  const model = catalogue.models.find((m) => m.id === "brisk-slate10");
  if (!model) throw new Error("no model");
  const facts = makeFacts({
    "model.number": "BT-S10",
    "android.release": "10",
    "build.number": "BT10-QZ9A.200905.001",
    "firmware.version": "S10-10.0",
    "slot.current": "a",
  });
  return { ...phoneFromCatalogue({ tag: "T", serial: "S1", model, facts, images: catalogue.images }), ...over };
}

test("as donated it starts, is locked, and holds the donor's data", () => {
  const phone = slate();
  startSystem(phone);
  expect(reportOf(phone)).toMatchObject({
    alive: true,
    boots: true,
    release: "10",
    api: 29,
    bootloader: "locked",
    slot: "a",
    storage: "donor",
    wipes: 0,
  });
});

test("a locked bootloader refuses to write and erase", () => {
  const phone = slate({ mode: "bootloader" });
  expect(answer(phone, "flash:vbmeta_a", bytes("slate10-vbmeta-10", "vbmeta.img"))).toMatchObject({
    ok: false,
    text: expect.stringContaining("locked"),
  });
  expect(answer(phone, "erase:userdata", null).ok).toBe(false);
  expect(answer(phone, "getvar:unlocked", null)).toEqual({ ok: true, text: "no" });
});

test("a logical partition exists in userspace fastboot only, and can't outgrow the room", () => {
  const phone = slate({ mode: "bootloader", locked: false });
  expect(answer(phone, "flash:system_a", bytes("plainsong-14-arm64", "plainsong-14-arm64.img")).text).toContain(
    "No such partition",
  );
  phone.mode = "userspace";
  expect(answer(phone, "resize-logical-partition:system_a:9000000000", null).text).toContain("Not enough space");
  expect(answer(phone, "delete-logical-partition:product_b", null).ok).toBe(false);
  expect(answer(phone, "delete-logical-partition:product_a", null).ok).toBe(true);
  expect(answer(phone, "resize-logical-partition:system_a:2576982016", null).ok).toBe(true);
});

test("a large image comes in several sparse parts, the later ones without a label", () => {
  const phone = slate({ mode: "userspace", locked: false });
  answer(phone, "resize-logical-partition:system_a:1879048192", null);
  const further = writeSparse(new Uint8Array(4096), 8192);
  expect(answer(phone, "flash:system_a", further).ok).toBe(false);
  expect(answer(phone, "flash:system_a", bytes("plainsong-14-arm64-small", "plainsong-14-arm64-small.img")).ok).toBe(
    true,
  );
  expect(answer(phone, "flash:system_a", further).ok).toBe(true);
  expect(reportOf(phone).image).toBe("plainsong-14-arm64-small");
});

test("tempers: a variable that is refused, a first start that hangs once", () => {
  const phone = slate({
    mode: "bootloader",
    tempers: { refusesVars: ["slot-count"], hangsAtFirstBoot: true, dropsLeadAtDownload: null },
  });
  expect(answer(phone, "getvar:slot-count", null).ok).toBe(false);
  startSystem(phone);
  expect(phone.mode).toBe("bootloop");
  actByHand(phone, "keys.start");
  expect(phone.mode).toBe("android");
});

test("a reset from Settings releases the account, a wipe from outside does not", () => {
  const proper = slate();
  expect(actByHand(proper, "android.factory-reset")).toBeNull();
  expect(reportOf(proper)).toMatchObject({ accountLock: false, storage: "clean", boots: true });
  const unclean = slate({ mode: "recovery" });
  actByHand(unclean, "recovery.format-data");
  startSystem(unclean);
  expect(reportOf(unclean).accountLock).toBe(true);
  expect(actByHand(unclean, "android.remove-accounts")).toContain("earlier owner");
});

test("unlocking needs the switch, and a waiting time where the maker has one", () => {
  const phone = slate({ mode: "bootloader", unlock: { possible: true, waitingDays: 7, command: "flashing unlock" } });
  expect(answer(phone, "flashing unlock", null).ok).toBe(false);
  startSystem(phone);
  actByHand(phone, "android.allow-unlocking");
  expect(actByHand(phone, "android.wait-unlock")).toContain("No permission");
  actByHand(phone, "android.request-unlock");
  actByHand(phone, "android.wait-unlock");
  phone.mode = "bootloader";
  expect(answer(phone, "flashing unlock", null).ok).toBe(true);
  expect(actByHand(phone, "bootloader.confirm-unlock")).toBeNull();
  expect(reportOf(phone)).toMatchObject({ bootloader: "unlocked", wipes: 1 });
});

test("any command and any gesture gives an answer, and a dead phone stays dead", () => {
  fc.assert(
    fc.property(fc.array(fc.tuple(fc.boolean(), fc.string({ maxLength: 40 }))), fc.boolean(), (acts, alive) => {
      const phone = slate({ alive });
      for (const [byHand, text] of acts) {
        if (byHand) actByHand(phone, text);
        else expect(typeof answer(phone, text, null).ok).toBe("boolean");
      }
      expect(reportOf(phone).alive).toBe(alive);
    }),
  );
});
