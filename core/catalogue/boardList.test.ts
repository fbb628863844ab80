import { boardListProblems, boardPartitions, dumpedParts, partitionBytes } from "./boardList";

// A board's parameter file: rows as the kernel's command-line partition list has them, in sectors of 512 bytes.
// Source: Linux kernel, drivers/mtd/parsers/cmdlinepart.c; the FIRMWARE line and the sectors: common practice, no source.
const list = (rows: string) => `FIRMWARE_VER:9.0\nCMDLINE:mtdparts=board:${rows}`;
const GOOD = list("0x2000@0x2000(uboot),0x2000@0x4000(boot),0x4000@0x6000(system),-@0xA000(userdata)");

test("a good list has no problems; its rows come in order, user data is never dumped", () => {
  expect(boardListProblems(GOOD, 0x20000)).toEqual([]);
  expect(boardPartitions(GOOD)).toEqual(["uboot", "boot", "system", "userdata"]);
  expect(dumpedParts(GOOD)).toEqual(["parameter", "uboot", "boot", "system"]);
});

test("rows that overlap, or pass the end of the flash, are named", () => {
  const overlap = list("0x3000@0x2000(uboot),0x2000@0x4000(boot),0x4000@0x6000(system),-@0xA000(userdata)");
  expect(boardListProblems(overlap, null).join()).toContain("uboot and boot overlap");
  expect(boardListProblems(GOOD, 0x8000).join()).toContain("system passes the end of the flash");
  expect(boardListProblems(GOOD, 0xa000).join()).toContain("userdata passes the end of the flash");
});

test("no list, a list in bytes, rows that are missing or stand twice", () => {
  expect(boardListProblems("nothing here", null)[0]).toContain("no partition list");
  expect(boardListProblems("mtdparts=nand0:1m(boot),1m(system),-(userdata)", null)[0]).toContain("FIRMWARE is missing");
  const short = list("0x2000@0x4000(boot),-@0xA000(userdata)");
  expect(boardListProblems(short, null).join()).toContain("A row system is missing");
  const twice = list("0x2000@0x2000(boot),0x2000@0x4000(boot),0x4000@0x6000(system),-@0xA000(userdata)");
  expect(boardListProblems(twice, null).join()).toContain("boot stands twice");
});

test("what a dump must have: sectors of 512 bytes; nothing for what takes the rest", () => {
  expect(partitionBytes(GOOD)).toEqual({ uboot: 0x2000 * 512, boot: 0x2000 * 512, system: 0x4000 * 512 });
  expect(partitionBytes("nothing here")).toEqual({});
});
