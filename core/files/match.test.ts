import { demoCatalogue } from "~/demo/catalogue";
import { agreesWithLists, type ListsSay, writeDigestList } from "./agreesWithLists";
import { writeVbmeta } from "./formats/writeVbmeta";
import { holdAgainst, judgeFile, type Target } from "./holdAgainst";
import { compareTyped, type Digests, matchFile } from "./match";
import { recognise } from "./recognise";
import { type FileContent, type FileReport, TELLS_NOTHING, type Told } from "./report";
import { bytesSource } from "./source";
import { sparseParts } from "./sparseParts";

const { images, models } = demoCatalogue();
const codename = (id: string) => models.find((m) => m.id === id)?.codename;
const sum = (c: string) => c.repeat(64);

const made = (content: FileContent, told: Partial<Told> = {}, name = "a.img"): FileReport => ({
  name,
  size: 1000,
  says: "",
  whole: { is: "unknown", says: "not told" },
  expanded: null,
  told: { ...TELLS_NOTHING, ...told },
  content,
});
const plain = (name: string) => made({ kind: "unknown", begins: "" }, {}, name);
const vbmeta = (build: string, device = "linnet") =>
  recognise(
    bytesSource(
      "v.img",
      writeVbmeta({
        properties: { "com.android.build.system.fingerprint": `a/${device}/${device}:12/${build}/7:user/release-keys` },
      }),
    ),
  );
const with256 = (sha256: string | null): Digests => ({ sha256, md5: null });
const find = (report: FileReport, sha256: string | null, known = images) =>
  matchFile(report, with256(sha256), known, codename);

describe("which file of the catalogue it is", () => {
  const rom = images.find((i) => i.id === "tallgrass-13-lumen") as (typeof images)[number];

  test("by its digest, whatever its name", () => {
    expect(find(plain("x.bin"), rom.files[0].sha256)).toMatchObject({ image: rom.id, is: "yes" });
  });

  test("by a name that only one file has; another digest means damage", () => {
    expect(find(plain("tallgrass-13-lumen (1).zip"), sum("a"))).toMatchObject({ image: rom.id, is: "no" });
    expect(find(plain("tallgrass-13-lumen.zip"), null)).toMatchObject({ image: rom.id, is: "unknown" });
    expect(find(plain("boot.img"), sum("a"))).toMatchObject({ image: null, is: "unknown" });
  });

  test("by the build it tells: a verification file of a build is one file, packages of a build are many", async () => {
    const file = await vbmeta("HL12-SZ9A.220405.004");
    expect(find(file, sum("a"))).toMatchObject({ image: "leaf-vbmeta-12", is: "no" });
    const ota = made(
      { kind: "ota", type: "AB", metadata: {}, checks: [], downgrade: false, wipes: false, full: true, payload: null },
      { build: "HL12-SZ9A.220405.004", devices: ["linnet"] },
      "something.zip",
    );
    expect(find(ota, sum("a"))).toMatchObject({ image: "leaf-ota-12", is: "unknown" });
  });

  test("without a recorded digest it can't be told, and may be written down", () => {
    const open = images.map((i) => ({ ...i, files: i.files.map((f) => ({ ...f, sha256: null })) }));
    expect(find(plain("tallgrass-13-lumen.zip"), sum("a"), open)).toMatchObject({ image: rom.id, is: "unknown" });
  });
});

describe("held against a device", () => {
  const leaf: Target = {
    title: "TH-025",
    model: "halvik-leaf",
    codename: "linnet",
    cpu: "arm64",
    flash: "fastboot",
    binder: null,
    systemAsRoot: true,
    build: "HL12-SZ9A.220405.004",
    api: 31,
  };
  const codes = (report: FileReport, target: Target, image: string | null = null) =>
    holdAgainst(report, images.find((i) => i.id === image) ?? null, target)
      .filter((c) => c.is !== "yes")
      .map((c) => `${c.is} ${c.code}`);

  test("a verification file: the exact build, another region, another build, another board, a build nobody read", async () => {
    expect(codes(await vbmeta("HL12-SZ9A.220405.004"), leaf)).toEqual([]);
    expect(codes(await vbmeta("HLS12-SZ9A.220405.004"), leaf)).toEqual(["no verification.other-region"]);
    expect(codes(await vbmeta("HL11-RZ9A.210205.004"), leaf)).toEqual(["no verification.other-build"]);
    expect(codes(await vbmeta("HL12-SZ9A.220405.004", "otter"), leaf)).toEqual(["no image.other-model"]);
    expect(codes(await vbmeta("HL12-SZ9A.220405.004"), { ...leaf, build: null })).toEqual([
      "unknown verification.other-build",
    ]);
  });

  test("a generic image's binder and layout, a list for loader boards", () => {
    const gsi = "plainsong-14-arm64";
    expect(codes(plain("x"), leaf, gsi)).toEqual([]);
    expect(codes(plain("x"), { ...leaf, systemAsRoot: false }, gsi)).toEqual(["no gsi.slots"]);
    expect(codes(plain("x"), { ...leaf, systemAsRoot: null }, gsi)).toEqual(["unknown gsi.slots"]);
    const ember = { ...leaf, cpu: "arm" as const, api: 22 };
    expect(codes(plain("x"), { ...ember, binder: "32" }, "plainsong-11-arm")).toEqual([]);
    expect(codes(plain("x"), { ...ember, binder: "64" }, "plainsong-11-arm")).toEqual(["no gsi.binder"]);
    expect(codes(plain("x"), ember, "plainsong-11-arm")).toEqual(["unknown gsi.binder"]);
    const list = made({
      kind: "partition-list",
      device: "nand0",
      unit: "sectors",
      rows: [],
      problems: [],
      more: [],
      cleaned: "",
    });
    expect(codes(list, leaf)).toEqual(["unknown list.other-board"]);
    expect(codes(list, { ...leaf, flash: "loader" })).toEqual([]);
    const verdict = (change: object, is: "yes" | "unknown" = "unknown") =>
      judgeFile(
        { ...list, content: { ...list.content, ...change } } as typeof list,
        { image: null, file: null, is, says: "its digest agrees" },
        [],
        null,
      );
    expect([verdict({ unit: "unknown" }).is, verdict({}).is]).toEqual(["unknown", "yes"]);
    // Rows that overlap are no good list, unless somebody vouches for this very file.
    const overlap = "boot and system overlap by 512 bytes";
    const second = { device: "nand1", rows: [], problems: [overlap] };
    for (const change of [{ problems: [overlap] }, { more: [second] }]) {
      expect(verdict(change)).toEqual({ is: "unknown", says: `Read whole, but ${overlap}: look at its rows` });
      expect(verdict(change, "yes").is).toBe("yes");
    }
  });

  test("processor, withdrawn, going down, a base that is not installed", () => {
    const sparse = made({
      kind: "sparse",
      blockSize: 4096,
      blocks: 1,
      chunks: 1,
      raw: 1,
      fill: 0,
      skip: 0,
      inside: "unknown",
    });
    expect(codes(sparse, leaf, "plainsong-11-arm")).toEqual(["no image.cpu", "unknown package.older"]);
    const withdrawn = images.find((i) => i.withdrawn && i.kind === "rom");
    expect(codes(plain("x"), { ...leaf, model: withdrawn?.models[0] ?? "" }, withdrawn?.id)).toEqual([
      "no image.withdrawn",
    ]);
    const delta = made(
      {
        kind: "ota",
        type: "AB",
        metadata: { "pre-build": "a/linnet/linnet:11/HL11-RZ9A.210205.004/1:user/release-keys" },
        checks: [],
        downgrade: false,
        wipes: false,
        full: false,
        payload: null,
      },
      { devices: ["linnet"] },
    );
    expect(codes(delta, leaf)).toEqual(["no package.other-base"]);
    expect(codes(delta, { ...leaf, build: "HL11-RZ9A.210205.004" })).toEqual([]);
  });

  test("an app: release and processor", () => {
    const app = (minApi: number, abis: string[]) =>
      made({
        kind: "apk",
        package: "example.a",
        label: null,
        versionName: null,
        versionCode: 1,
        minApi,
        targetApi: null,
        maxApi: null,
        abis,
        features: [],
        permissions: [],
        namesServices: false,
        split: null,
        splits: [],
      });
    expect(codes(app(33, ["x86_64"]), leaf)).toEqual(["no app.floor", "no app.cpu"]);
    expect(codes(app(26, ["armeabi-v7a"]), leaf)).toEqual([]);
    expect(codes(app(26, ["arm64-v8a"]), { ...leaf, cpu: "arm", api: null })).toEqual([
      "unknown app.floor",
      "no app.cpu",
    ]);
  });

  test("one answer: a single no decides, a yes needs the digest and no open question", async () => {
    const file = await vbmeta("HL12-SZ9A.220405.004");
    const yes = { image: "leaf-vbmeta-12", file: "vbmeta.img", is: "yes" as const, says: "digest" };
    const none = { image: null, file: null, is: "unknown" as const, says: "nothing like it" };
    const judge = (match: typeof yes | typeof none, target: Target, lists: ListsSay = null) =>
      judgeFile(file, match, holdAgainst(file, null, target), lists).is;
    expect(judge(yes, leaf)).toBe("yes");
    expect(judge(none, leaf)).toBe("unknown");
    expect(judge(none, leaf, "agrees")).toBe("yes");
    expect(judge(yes, leaf, "other")).toBe("no");
    expect(judge(none, leaf, "both")).toBe("unknown");
    expect(judge(yes, leaf, "both")).toBe("yes");
    expect(judgeFile(file, yes, [], "both").says).toMatch(/\. One of the digest lists has another digest for it$/);
    const open = judgeFile(file, yes, holdAgainst(file, null, { ...leaf, build: null }), "both").says;
    expect(open).toMatch(/^Whole, by its digest\. .*[^.]\. One of the digest lists has another digest for it$/);
    expect(judge(yes, { ...leaf, build: null })).toBe("unknown");
    expect(judge(yes, { ...leaf, build: "X-1" })).toBe("no");
    expect(judgeFile({ ...file, whole: { is: "no", says: "cut" } }, yes, [], "agrees")).toEqual({
      is: "no",
      says: "cut",
    });
  });
});

describe("digest lists", () => {
  const line = (digest: string, file: string | null) => ({ algorithm: "sha256" as const, digest, file });
  test("a line that agrees, one that names it and does not, none that names it", () => {
    expect(agreesWithLists("a.img", with256(sum("a")), [line(sum("a"), "dir/A.img")])).toBe("agrees");
    expect(agreesWithLists("renamed.img", with256(sum("a")), [line(sum("a"), "a.img")])).toBe("agrees");
    expect(agreesWithLists("a.img", with256(sum("a")), [line(sum("b"), "a.img")])).toBe("other");
    expect(agreesWithLists("a.img", with256(null), [line(sum("b"), "a.img")])).toBeNull();
    expect(agreesWithLists("c.img", with256(sum("a")), [line(sum("b"), "a.img")])).toBeNull();
  });

  test("lists that contradict each other about one path are told; files of one name in two folders are two", () => {
    const own = with256(sum("a"));
    expect(agreesWithLists("a.img", own, [line(sum("a"), "a.img"), line(sum("b"), "./A.img")])).toBe("both");
    expect(agreesWithLists("a.img", own, [line(sum("b"), "old\\a.img"), line(sum("a"), "old/a.img")])).toBe("both");
    expect(agreesWithLists("a.img", own, [line(sum("a"), "one/a.img"), line(sum("b"), "two/a.img")])).toBe("agrees");
    expect(agreesWithLists("a.img", own, [line(sum("a"), null), line(sum("b"), null)])).toBe("agrees");
  });

  test("names with a backslash or a line break are escaped, as the GNU tools do", () => {
    expect(writeDigestList([{ sha256: sum("a"), path: "x/a b.img" }])).toBe(`${sum("a")}  x/a b.img\n`);
    expect(writeDigestList([{ sha256: sum("a"), path: "a\\b\nc" }])).toBe(`\\${sum("a")}  a\\\\b\\nc\n`);
  });

  test.each([
    [sum("A"), true],
    [`SHA-256: ${sum("a")}`, true],
    [`sha256:${sum("b")}`, false],
    [`${"AA:".repeat(31)}AA`, true],
    ["abc", null],
  ])("typed %s", (typed, is) => {
    expect(compareTyped(typed, with256(sum("a")))?.is ?? null).toBe(is);
  });
});

// Common practice, no source: ceil(image bytes ÷ max-download-size); 3 GiB at 256 MiB are 12 parts.
test("sparse parts over the lead", () => {
  expect(sparseParts(3_221_225_472, 268_435_456)).toBe(12);
  expect(sparseParts(268_435_457, 268_435_456)).toBe(2);
  expect(() => sparseParts(0, 1)).toThrow(RangeError);
});
