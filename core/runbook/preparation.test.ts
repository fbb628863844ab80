import type { Way } from "~/core/upgrade/way";
import { demoCatalogue } from "~/demo/catalogue";
import { type DeviceToPrepare, preparationDigests, preparationScript, prepareFiles, shortName } from "./preparation";

const { images, models } = demoCatalogue();
const image = (id: string) => images.find((i) => i.id === id);
const device = (tag: string, model: string, ids: readonly string[]): DeviceToPrepare => ({
  tag,
  model: models.find((m) => m.id === model) as DeviceToPrepare["model"],
  way: { operations: ids.map((id) => ({ kind: "install-rom", image: id })) } as unknown as Way,
});

describe("the files of a batch", () => {
  const preparation = prepareFiles(
    [
      device("A-1", "velkora-lume", ["lume-ota-9", "lanternkeep-3-lumen", "tallgrass-13-lumen", "larder-13-arm64"]),
      device("A-2", "velkora-lume", ["lanternkeep-3-lumen", "tallgrass-13-lumen", "tallgrass-13-lumen"]),
      device("A-3", "ondarra-tab8", ["tab8-ota-10"]),
    ],
    image,
    "stick",
  );
  const item = (path: string) => preparation.items.find((i) => i.path === path);

  test("each file once, bytes to fetch once and to write per device", () => {
    expect(preparation.items.map((i) => i.path)).toEqual([
      "lanternkeep-3-lumen/recovery.img",
      "tallgrass-13-lumen/tallgrass-13-lumen.zip",
      "larder-13-arm64/larder-13-arm64.zip",
    ]);
    const rom = item("tallgrass-13-lumen/tallgrass-13-lumen.zip");
    const bytes = image("tallgrass-13-lumen")?.files[0].bytes as number;
    expect(rom).toMatchObject({ fetch: bytes, write: 2 * bytes, devices: ["A-1", "A-2"] });
    expect(preparation.fetch).toBe(preparation.items.reduce((sum, i) => sum + i.fetch, 0));
  });

  test("official updates come over the air; who needs no file is said", () => {
    expect(preparation.overTheAir).toEqual([
      { title: image("lume-ota-9")?.title, devices: ["A-1"] },
      { title: image("tab8-ota-10")?.title, devices: ["A-3"] },
    ]);
    expect(preparation.withoutFiles).toEqual(["A-3"]);
  });

  test("packages stay packed and go on the stick, partition images stay at the computer", () => {
    expect(item("tallgrass-13-lumen/tallgrass-13-lumen.zip")).toMatchObject({ unpack: "leave", place: "stick" });
    expect(item("lanternkeep-3-lumen/recovery.img")).toMatchObject({ unpack: "as it is", place: "computer" });
    const packed = images.find((i) => i.id === "plainsong-12-arm64") as (typeof images)[number];
    const xz = { ...packed, files: [{ ...packed.files[0], name: "gsi.img.xz" }] };
    const one = prepareFiles([device("A", "quillon-q3", ["x"])], () => xz, "computer");
    expect(one.items[0]).toMatchObject({ unpack: "unpack" });
  });

  test("short names are short, safe and each used once", () => {
    const everything = prepareFiles(
      [
        device(
          "A",
          "velkora-lume",
          images.map((i) => i.id),
        ),
      ],
      image,
      "card",
    );
    const names = everything.items.map((i) => i.shortName);
    expect(new Set(names).size).toBe(names.length);
    for (const name of names) expect(name).toMatch(/^[a-z0-9][a-z0-9.-]{2,40}$/);
    expect(
      shortName({ kind: "rom", release: "13" }, { name: "tallgrass-13-lumen.zip", partition: null }, "lumen"),
    ).toBe("rom-13-lumen.zip");
  });

  test("the digest list and the script name every file with a digest", () => {
    expect(preparationDigests(preparation).trim().split("\n")).toHaveLength(3);
    const open = { items: preparation.items.map((i, n) => (n ? i : { ...i, sha256: null })) };
    expect(preparationDigests(open).trim().split("\n")).toHaveLength(2);
    expect(preparationScript(open, "a\nb")).toContain("Not checked: lanternkeep-3-lumen/recovery.img");
    expect(preparationScript(open, "a\nb").split("\n")[1]).toContain("for a b.");
  });
});
