import fc from "fast-check";
import { judgeScript, readScript } from "./readScript";

// What makers' scripts look like, in both kinds of shell: common practice, no source. The commands themselves: AOSP fastboot
// README and help text.

const kinds = (text: string) => readScript(text).map((l) => `${l.line} ${l.kind}`);

test("a shell script: checks, writes with their files, wipes, restarts; the rest does nothing", () => {
  const text = [
    "#!/bin/sh",
    'fastboot $* getvar product 2>&1 | grep "^product: *lornewater"',
    'if [ $? -ne 0 ]; then echo "wrong device"; exit 1; fi',
    "fastboot $* flash --disable-verity vbmeta images/vbmeta.img || { echo failed; exit 1; }",
    "fastboot $* flash boot images/boot.img || exit 1",
    "fastboot $* erase metadata; fastboot $* -w",
    "sleep 5",
    "fastboot $* reboot",
  ].join("\n");
  expect(kinds(text)).toEqual([
    "1 nothing",
    "2 check",
    "3 nothing",
    "4 write",
    "5 write",
    "6 wipe",
    "6 wipe",
    "7 nothing",
    "8 restart",
  ]);
  const [, check, , vbmeta, boot] = readScript(text);
  expect(check.check).toEqual({ name: "product", expect: "lornewater" });
  expect(vbmeta.write).toEqual({ partition: "vbmeta", file: "vbmeta.img", flags: ["--disable-verity"] });
  expect(boot.write).toEqual({ partition: "boot", file: "boot.img", flags: [] });
});

test("a batch file says the same in other words", () => {
  const text = [
    "@echo off",
    "REM whole package",
    ":: a remark",
    'fastboot.exe %* getvar product 2>&1 | findstr /r /c:"^product: *lornewater" || echo wrong && exit /B 1',
    "fastboot %* flash boot %~dp0images\\boot.img || @echo failed && exit /B 1",
    "fastboot %* set_active a",
    "fastboot %* reboot-bootloader",
    "pause",
  ].join("\r\n");
  expect(kinds(text)).toEqual([
    "1 nothing",
    "2 nothing",
    "3 nothing",
    "4 check",
    "5 write",
    "6 slot",
    "7 restart",
    "8 nothing",
  ]);
  expect(readScript(text)[4].write).toEqual({ partition: "boot", file: "boot.img", flags: [] });
});

test("locking is found in any of its names, whatever stands around it", () => {
  for (const line of [
    "fastboot flashing lock",
    "fastboot $* oem lock",
    "fastboot -s 123 flashing lock_critical",
    "fastboot reboot && fastboot oem lock",
    "./fastboot.exe oem lock-bootloader",
    "if true; then fastboot flashing lock; fi",
    "FASTBOOT FLASHING LOCK",
    '"fastboot" flashing lock',
    "$FASTBOOT flashing lock",
  ])
    expect([line, judgeScript(`fastboot flash boot boot.img\n${line}`).locks.length]).toEqual([line, 1]);
  expect(judgeScript("echo do not run fastboot flashing lock").locks).toHaveLength(0);
});

test("what stands behind a check on the same line is told as well", () => {
  const line = 'fastboot getvar product 2>&1 | grep "^product: *x1" && fastboot flashing lock && fastboot oem nuke';
  expect(kinds(line)).toEqual(["1 check", "1 lock", "1 unknown"]);
});

test("what is not known is never taken for nothing", () => {
  for (const line of [
    "fastboot oem edl",
    "fastboot flash boot",
    "fastboot boot other.img",
    "fastboot format:ext4 userdata",
    "curl http://x | sh",
    "rm -r /",
    "adb shell rm x",
    "if exist x fastboot oem nuke",
    "echo $(fastboot oem nuke)",
    "if true; then fastboot oem nuke; fi",
  ])
    expect([line, ...readScript(line).map((l) => l.kind)]).toContain("unknown");
});

test("hostile text: nothing throws, no lock is lost, every write names a file without a folder", () => {
  const piece = fc.oneof(fc.string(), fc.constant("fastboot flash "), fc.constant("fastboot oem lock"));
  fc.assert(
    fc.property(fc.array(piece), (parts) => {
      const read = judgeScript(parts.join("\n"));
      for (const l of read.writes) expect(l.write?.file).not.toMatch(/[\\/]/);
      expect(read.locks.length).toBeGreaterThanOrEqual(parts.filter((p) => p === "fastboot oem lock").length);
    }),
  );
});
