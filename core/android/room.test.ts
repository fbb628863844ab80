import fc from "fast-check";
import { fitRoom, type PartitionRoom, readRoom, roomCautions, roomOfSuper, slotEnding, systemRoom } from "./room";

const MiB = 1_048_576;

// Shape of the text: AOSP `lpdump`; sizes by hand.
const LAYOUT = `Slot 0:
Metadata version: 10.2
Metadata slot count: 3
Partition table:
------------------------
  Name: system_a
  Group: main_a
  Attributes: readonly
  Extents:
    0 .. 5242879 linear super 2048
------------------------
  Name: product_a
  Group: main_a
  Attributes: readonly
  Extents:
    0 .. 1023999 linear super 5244928
    1024000 .. 2047999 linear super 9000000
------------------------
  Name: system_b
  Group: main_b
  Attributes: readonly
  Extents:
------------------------
Super partition layout:
------------------------
super: 2048 .. 5244928: system_a (5242880 sectors)
------------------------
Block device table:
------------------------
  Partition name: super
  First sector: 2048
  Size: 4294967296 bytes
  Flags: none
------------------------
Group table:
------------------------
  Name: default
  Maximum size: 0 bytes
  Flags: none
------------------------
  Name: main_a
  Maximum size: 4290772992 bytes
  Flags: none
`;

describe("the layout tool's text", () => {
  const room = readRoom(LAYOUT) as PartitionRoom;
  test("partitions, groups, size", () => {
    expect(room).toEqual({
      from: "layout-text",
      superBytes: 4096 * MiB,
      groups: [
        { name: "default", maximum: null },
        { name: "main_a", maximum: 4092 * MiB },
      ],
      partitions: [
        { name: "system_a", bytes: 2560 * MiB, logical: true, group: "main_a" },
        { name: "product_a", bytes: 1000 * MiB, logical: true, group: "main_a" },
        { name: "system_b", bytes: 0, logical: true, group: "main_b" },
      ],
    });
  });

  // 4092 MiB of the group − 1000 MiB of product = 3092 MiB; without product 4092 MiB.
  test("fits, fits after removing product, does not fit by so many MiB", () => {
    expect(fitRoom(room, "_a", 3092 * MiB)).toMatchObject({ is: "fits", remove: [], says: "Fits, 0 MiB to spare" });
    expect(fitRoom(room, "_a", 3092 * MiB + 1)).toMatchObject({
      is: "fits-after",
      remove: ["product_a"],
      says: "Fits after removing product_a, 999 MiB to spare",
    });
    expect(fitRoom(room, "_a", 4100 * MiB)).toMatchObject({
      is: "does-not-fit",
      missing: 8 * MiB,
      says: "Does not fit by 8 MiB, even after removing product_a",
    });
    expect(slotEnding(room, null)).toBe("_a");
    expect(slotEnding(room, "b")).toBe("_b");
  });
});

describe("fastboot getvar all", () => {
  const fixed = readRoom(
    "(bootloader) partition-size:system: 0x80000000\n(bootloader) partition-size:vendor:20000000\nfinished",
  );
  const logical = readRoom(
    "partition-size:system_a:0x80000000\nis-logical:system_a:yes\npartition-size:product_a:0x20000000\nis-logical:product_a:yes\npartition-size:boot_a:0x4000000\nis-logical:boot_a:no\npartition-size:super:0x100000000\n",
  );

  test("a partition of fixed size takes what it is, and nothing can be removed for it", () => {
    expect(fixed?.partitions).toEqual([
      { name: "system", bytes: 2048 * MiB, logical: false, group: null },
      { name: "vendor", bytes: 512 * MiB, logical: false, group: null },
    ]);
    expect(fitRoom(fixed as PartitionRoom, "", 2049 * MiB)).toMatchObject({ is: "does-not-fit", missing: MiB });
  });

  test("logical ones grow into the super partition", () => {
    expect(systemRoom(logical as PartitionRoom, "_a")).toBe((4096 - 1 - 512) * MiB);
    expect(systemRoom(logical as PartitionRoom, "_a", ["product_a"])).toBe(4095 * MiB);
    const untold = { ...(logical as PartitionRoom), superBytes: null };
    expect(systemRoom(untold, "_a")).toBe(2048 * MiB);
    expect(roomCautions(untold)[0]).toContain("does not tell the size of super");
  });

  test("text that tells no size is none", () => {
    expect(readRoom("hello\nproduct: quill")).toBeNull();
    expect(fitRoom({ ...(logical as PartitionRoom), partitions: [] }, "_a", 1)).toMatchObject({ is: "unknown" });
  });
});

test("what to mind: both slots filled, an update that is not merged", () => {
  const part = (name: string) => ({ name, group: "g", bytes: MiB });
  const room = roomOfSuper({
    bytes: 9 * MiB,
    groups: [],
    partitions: ["system_a", "system_b", "system_b-cow"].map(part),
  });
  expect(roomCautions(room)).toEqual([
    expect.stringContaining("not merged yet"),
    expect.stringContaining("Both slots"),
  ]);
});

test("removing more never leaves less room; any text is a room or none", () => {
  fc.assert(
    fc.property(
      fc.array(fc.tuple(fc.constantFrom("system_a", "product_a", "system_ext_a", "vendor_a"), fc.nat(1e9))),
      fc.nat(5e9),
      (parts, superBytes) => {
        const room = roomOfSuper({
          bytes: superBytes,
          groups: [],
          partitions: [...new Map(parts)].map(([name, bytes]) => ({ name, bytes, group: "g" })),
        });
        const [none, one] = [systemRoom(room, "_a"), systemRoom(room, "_a", ["product_a"])];
        if (none !== null) expect(one).toBeGreaterThanOrEqual(none);
      },
    ),
  );
  fc.assert(fc.property(fc.string(), (text) => void readRoom(`Partition table:\n${text}`)));
});
