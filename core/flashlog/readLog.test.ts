import fc from "fast-check";
import type { OperationKind } from "~/core/ways/registry";
import { anyText } from "~/testing/anyText";
import { contextOfStep } from "./context";
import { type LogContext, NO_CONTEXT } from "./pattern";
import { PATTERNS, readLog } from "./readLog";

const inOp = (operation: OperationKind, step: string | null = null): LogContext => ({
  operation,
  step,
  mayFail: false,
});
const tell = (line: string, context: LogContext = NO_CONTEXT) => readLog(line, context).lines[0]?.tell ?? null;

describe("every pattern", () => {
  test.each(PATTERNS.map((p) => [p.id, p] as const))(
    "%s: its own examples come to it, its counter-examples do not",
    (_, p) => {
      expect(p.examples.length).toBeGreaterThan(0);
      for (const example of p.examples) expect([example, readLog(example).lines[0]?.pattern]).toEqual([example, p.id]);
      for (const other of p.not ?? []) expect([other, p.line.test(other)]).toEqual([other, false]);
      expect(p.source.length).toBeGreaterThan(5);
      // Who is to stop or look is told what to do.
      for (const means of [p.means, ...(p.unless ?? []).map((u) => u.means)]) {
        expect(means.why.length).toBeGreaterThan(3);
        if (means.tell === "stop" || means.tell === "look") expect(means.next?.length).toBeGreaterThan(5);
      }
    },
  );

  test("names are there once", () => {
    expect(new Set(PATTERNS.map((p) => p.id)).size).toBe(PATTERNS.length);
  });

  test("stays quick on long lines that are made to be slow", () => {
    const nasty = [
      "a".repeat(50_000),
      "FAILED (remote: '".repeat(3000),
      " ".repeat(50_000),
      "[1/".repeat(20_000),
      "'".repeat(50_000),
    ];
    const from = performance.now();
    for (const line of nasty) readLog(line);
    expect(performance.now() - from).toBeLessThan(1000);
  });
});

// Handbook, "When it goes wrong" and traps 16: harmless in one place, fatal in another. Common practice, no source.
describe("the same line in another place", () => {
  const error7 = "Updater process ended with ERROR: 7";

  test("“error 7” stops a ROM, and asks to look behind a services add-on", () => {
    expect(tell(error7, inOp("install-rom"))).toBe("stop");
    expect(tell(error7, inOp("install-firmware-pack"))).toBe("stop");
    expect(tell(error7, inOp("install-services"))).toBe("look");
    expect(tell(error7)).toBe("stop");
  });

  test("“invalid sparse file format”: to look at in a write of one file", () => {
    expect(tell("Invalid sparse file format at header magic", inOp("install-gsi"))).toBe("look");
  });

  test("“failed to mount /data” is harmless where data is about to be formatted, and else means that storage can't be read", () => {
    const line = "Failed to mount '/data' (Invalid argument)";
    expect(tell(line, inOp("install-rom", "recovery.wipe-advanced"))).toBe("harmless");
    expect(tell(line, inOp("format-data"))).toBe("harmless");
    expect(tell(line, inOp("install-rom", "adb.push-rom.zip"))).toBe("look");
  });

  test("the counter that ends at 47 % is as it should be; what came of the package only the device says", () => {
    const serving = "serving: 'rom.zip'  (~12%)\rserving: 'rom.zip'  (~47%)";
    expect(readLog(`${serving}\nTotal xfer: 1.00x`).verdict).toBe("go-on");
    expect(readLog(`${serving}\nTotal xfer: 1.00x\nInstall from ADB completed with status 0.`).verdict).toBe(
      "went-well",
    );
    expect(readLog(serving).verdict).toBe("go-on");
    expect(readLog(`${serving}\nTotal xfer: 0.02x`).verdict).toBe("do-this");
  });

  test("a refusal that the sheet reckons with is not a stop", () => {
    const line = "FAILED (remote: 'something new')";
    expect(tell(line)).toBe("stop");
    expect(tell(line, { ...NO_CONTEXT, mayFail: true })).toBe("look");
    expect(tell("Failure [DELETE_FAILED_INTERNAL_ERROR]", inOp("clean-stock"))).toBe("harmless");
    expect(tell("Failure [DELETE_FAILED_INTERNAL_ERROR]")).toBe("look");
  });
});

describe("the verdict", () => {
  const well = "Sending 'boot' (4 KB)   OKAY [  0.001s]\nWriting 'boot'   OKAY [ 0.002s]\nFinished. Total time: 0.1s";

  test("is that of the worst line, and names it", () => {
    expect(readLog(well).verdict).toBe("go-on");
    const bad = readLog(`${well}\nerror: device offline\nWriting 'boot' FAILED (remote: 'No such partition: boot')`);
    expect(bad).toMatchObject({ verdict: "stop", because: { n: 5, pattern: "fastboot.no-partition" } });
    expect(readLog(`${well}\nerror: device offline`)).toMatchObject({ verdict: "do-this", because: { n: 4 } });
  });

  test("lines that nobody knows stay unknown: alone they are no verdict, beside others they change none", () => {
    expect(readLog("the moon is made of cheese")).toMatchObject({ verdict: "not-known", because: null });
    expect(readLog("the moon is made of cheese\nStatus 0").verdict).toBe("went-well");
    expect(readLog("").verdict).toBe("not-known");
  });

  test("of a very long log beginning and end are read, and it says so; it never “went well”", () => {
    const lines = Array.from({ length: 100_000 }, () => "package:com.android.settings").join("\n");
    const read = readLog(`${lines}\nTotal xfer: 1.00x`);
    expect(read).toMatchObject({ verdict: "not-known", leftOut: 80_001 });
    expect(readLog(`${lines}\nSTOP: no`).verdict).toBe("stop");
  });

  test("colours, counters, Windows line ends and control characters are taken away; the number of the line stays", () => {
    const { lines } = readLog("\u001b[32m[1/3] Look\u001b[0m\r\n\r\n\u0007(bootloader) slot-count:2\u0000\r\n");
    expect(lines.map((l) => [l.n, l.text, l.tell])).toEqual([
      [1, "[1/3] Look", "normal"],
      [3, "(bootloader) slot-count:2", "normal"],
    ]);
  });

  test("anything at all is read without a fault, and no line is ever both unknown and judged", () => {
    fc.assert(
      fc.property(anyText(500), (text) => {
        for (const line of readLog(text).lines) {
          expect(line.tell === null).toBe(line.pattern === null);
          expect(line.text).not.toMatch(/\p{Cc}/u);
        }
      }),
    );
  });
});

test("the context of a step comes from its sheet", () => {
  const step = {
    code: "fastboot.-w",
    operation: 0,
    deed: { kind: "command", tool: "fastboot", words: ["-w"], instead: [["erase"]] },
  };
  const sheet = { steps: [step], operations: [{ kind: "install-gsi" }] } as never;
  expect(contextOfStep(sheet, 0)).toEqual({ operation: "install-gsi", step: "fastboot.-w", mayFail: true });
  expect(contextOfStep(sheet, 7)).toEqual(NO_CONTEXT);
});

test("“invalid sparse file format” is a look on an ordinary write, and harmless on a port", () => {
  const line = "Invalid sparse file format at header magic";
  const told = (operation: string) => readLog(line, { operation, step: null, mayFail: false }).lines[0].tell;
  expect(told("flash-stock")).toBe("look");
  expect(told("install-port")).toBe("harmless");
});
