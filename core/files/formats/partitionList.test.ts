import { cleanParameter, readPartitionList, restoreRows } from "./partitionList";

describe("partition lists of loader boards", () => {
  // Example of the Linux kernel's cmdlinepart documentation, arithmetic by hand: 512k + 1m, then the rest.
  test("the kernel's rule: sizes with k and m, offsets where they are missing, the rest", () => {
    const list = readPartitionList("console=ttyS0 mtdparts=edb7312-nor:256k(ARMboot)ro,-(root);edb7312-nand:-(home)");
    expect(list).toMatchObject({
      device: "edb7312-nor",
      unit: "bytes",
      rows: [
        { name: "ARMboot", from: 0, bytes: 262_144, flags: "ro" },
        { name: "root", from: 262_144, bytes: null },
      ],
      problems: [],
      more: [{ device: "edb7312-nand", rows: [{ name: "home", from: 0, bytes: null }] }],
    });
  });

  const PARTS = [
    "0x00002000@0x00002000(uboot)",
    "0x00002000@0x00004000(trust)",
    "0x00002000@0x00006000(misc)",
    "0x00008000@0x00008000(resource)",
    "0x00010000@0x00010000(kernel)",
    "0x00010000@0x00020000(boot)",
    "0x00010000@0x00030000(recovery)",
    "0x00020000@0x00040000(backup)",
    "0x00040000@0x00060000(cache)",
    "0x00200000@0x000A0000(system)",
    "0x00008000@0x002A0000(metadata)",
    "0x00002000@0x002A8000(verity_mode)",
    "0x00002000@0x002AA000(baseparameter)",
    "-@0x002AC000(userdata)",
  ].join(",");
  const dump = `PARM\u0001\u0000\u0000FIRMWARE_VER: 6.0\r\nMACHINE_MODEL: BOX\r\nCMDLINE: console=x mtdparts=nand0:${PARTS}\u0007\u0000\u00ff\u00fejunk)`;

  // Common practice, no source: 16 restore rows = loader + parameter + 13 images + userdata, 14 ticked; from the word
  // FIRMWARE to the last closing bracket.
  test("a dumped parameter file: head and tail cut off, sectors, 16 rows with 14 ticked", () => {
    const cleaned = cleanParameter(dump);
    expect([cleaned.slice(0, 12), cleaned.slice(-10)]).toEqual(["FIRMWARE_VER", "(userdata)"]);
    const list = readPartitionList(dump);
    expect(list).toMatchObject({ unit: "sectors", problems: [] });
    expect(list?.rows[9]).toMatchObject({ name: "system", from: 0xa0000 * 512, bytes: 1_073_741_824 });
    const names = list?.rows.map((r) => r.name) ?? [];
    const files = ["parameter", ...names].map((n) => ({ name: `${n}.img`, bytes: 4096 }));
    const { rows, left } = restoreRows(list ?? { rows: [] }, [...files, { name: "MiniLoader.bin", bytes: 1 }]);
    expect([rows.length, rows.filter((r) => r.ticked).length, left]).toEqual([16, 14, ["MiniLoader.bin"]]);
    expect(rows.filter((r) => !r.ticked).map((r) => r.name)).toEqual(["loader", "userdata"]);
  });

  test("overlaps, gaps, doubles and what can't be read are named", () => {
    const list = readPartitionList("mtdparts=x:1m@0(a),1m@512k(b),1m@4m(c),zz(d),-(e),1m(f),1m@9m(a)");
    expect(list?.problems).toEqual([
      "Row 4 can't be read: zz(d)",
      "a and b overlap by 524,288 bytes",
      expect.stringContaining("belong to nobody (from 0x180000)"),
      expect.stringMatching(/(e and f|f and e|e takes the rest)/),
      expect.stringContaining("belong to nobody"),
      "a stands twice",
    ]);
    const { rows } = restoreRows({ rows: [{ name: "boot", from: 0, bytes: 10, flags: "" }] }, [
      { name: "boot.img", bytes: 11 },
    ]);
    expect(rows[2]).toMatchObject({ ticked: false, says: "boot.img is 1 bytes too large" });
  });
});

describe("partition lists as people have them", () => {
  const names = (text: string) => readPartitionList(text)?.rows.map((r) => r.name);
  test("line breaks and blanks between the rows", () => {
    const broken = `FIRMWARE_VER: 7.1\nCMDLINE: mtdparts=nand0:0x2000@0x2000(uboot),\r\n 0x2000 @ 0x4000 (trust),\n\t-@0x6000(userdata:grow)\nMAGIC: 1`;
    const list = readPartitionList(broken);
    expect(list?.rows.map((r) => [r.name, r.from, r.bytes])).toEqual([
      ["uboot", 0x2000 * 512, 0x2000 * 512],
      ["trust", 0x4000 * 512, 0x2000 * 512],
      ["userdata", 0x6000 * 512, null],
    ]);
    expect(list?.problems).toEqual([]);
  });
  test("what follows on the kernel's command line is no row", () => {
    expect(names("console=ttyS0 mtdparts=nand0:1m(boot),-(rest) root=/dev/mtdblock2 rw")).toEqual(["boot", "rest"]);
  });
  test("further devices behind semicolons have rows of their own, from their own beginning", () => {
    const list = readPartitionList("mtdparts=a:1m(x),-(y);b:-(z);c:1m@0(k),1m@512k(l) quiet");
    expect(list?.more.map(({ rows }) => rows.length)).toEqual([1, 2]);
    expect(list?.problems).toEqual([]);
    expect(list?.more[1].problems.join()).toContain("k and l overlap");
    expect(readPartitionList("mtdparts=a:-(x);b:")?.more[0].problems.join()).toContain("No row of b");
    // What is too much is said, not left out without a word.
    const many = (count: number) =>
      readPartitionList(`mtdparts=${Array.from({ length: count }, (_, n) => `d${n}:1m(a)`).join(";")}`);
    expect([many(8)?.more.length, many(8)?.problems]).toEqual([7, []]);
    expect([many(9)?.more.length, many(9)?.problems.join()]).toEqual([
      7,
      expect.stringContaining("more than 8 flashes"),
    ]);
    // A row needs no name by the kernel's rule, and no bracket then.
    expect(readPartitionList("mtdparts=a:1m(x);b:512k,-")?.more[0].rows).toMatchObject([
      { name: "part0", from: 0, bytes: 524_288 },
      { name: "part1", from: 524_288, bytes: null },
    ]);
  });
  test("bare numbers without a FIRMWARE line: bytes or sectors is asked; with units, or with the line, it is not", () => {
    const unit = (text: string, counts?: "bytes" | "sectors") => readPartitionList(text, counts)?.unit;
    const bare = "mtdparts=nand0:0x2000@0x2000(uboot),0x8000@0x4000(boot)";
    expect(unit(bare)).toBe("unknown");
    expect(readPartitionList(bare)?.rows[1].bytes).toBe(0x8000);
    expect(unit(bare, "bytes")).toBe("bytes");
    expect(readPartitionList(bare, "sectors")).toMatchObject({ unit: "sectors", rows: [{}, { bytes: 0x8000 * 512 }] });
    expect(unit("mtdparts=nand0:1m(boot),8m(system)")).toBe("bytes");
    expect(unit(`FIRMWARE_VER: 1\nCMDLINE: ${bare}`)).toBe("sectors");
    // What the list itself says is better than what somebody says.
    expect(unit(`FIRMWARE_VER: 1\nCMDLINE: ${bare}`, "bytes")).toBe("sectors");
    // Asked also where only the second flash is written so.
    expect(unit("mtdparts=nand0:1m(boot),8m(system);sd0:0x2000(a)")).toBe("unknown");
  });
});
