import fc from "fast-check";
import isIMEI from "validator/lib/isIMEI";
import { DANGERS, DangerKind } from "./danger";
import { imeiCheckDigit } from "./imei";
import { LABEL_SHEETS, layLabels } from "./labels";
import { tellScan } from "./scan";

describe("what was scanned", () => {
  test.each([
    ["TH-101", { is: "tag", tag: "TH-101" }],
    ["th-101", { is: "tag", tag: "th-101" }],
    ["http://127.0.0.1:4310/devices/TH-101", { is: "tag", tag: "TH-101" }],
    ["490154203237518", { is: "imei", imei: "490154203237518" }],
    ["49-015420-323751-8", { is: "imei", imei: "490154203237518" }],
    ["IMEI: 490154203237518", { is: "imei", imei: "490154203237518" }],
    ["S/N: VKA1000101", { is: "serial", serial: "VKA1000101" }],
    ["R58M12ABCDE", { is: "serial", serial: "R58M12ABCDE" }],
    ["12345678", { is: "serial", serial: "12345678" }],
  ] as const)("%s", (text, told) => expect(tellScan(text, "TH-")).toEqual(told));

  test.each(["490154203237515", "", "   ", "https://place.example/x", "TH-", "hello", "a".repeat(60), "TH-10 1"])(
    "“%s” is refused in words",
    (text) => expect(tellScan(text, "TH-")).toMatchObject({ is: "wrong", says: expect.stringMatching(/./) }),
  );

  // From outside: isIMEI of the validator package.
  test("fifteen digits are an IMEI exactly when the reference says so", () => {
    const digits = fc.stringMatching(/^\d{14}$/).chain((b) => fc.constantFrom(b + imeiCheckDigit(b), `${b}0`, `${b}7`));
    fc.assert(fc.property(digits, (d) => expect(tellScan(d, "TH-").is).toBe(isIMEI(d) ? "imei" : "wrong")));
  });
});

describe("labels", () => {
  test("every sheet fits its paper, and labels do not overlap", () => {
    for (const sheet of Object.values(LABEL_SHEETS)) {
      const { columns, rows, label, margin, gap, page } = sheet;
      const right = margin.left + columns * label.width + (columns - 1) * gap.x;
      const bottom = margin.top + rows * label.height + (rows - 1) * gap.y;
      expect(right).toBeLessThanOrEqual(page.width + 0.001);
      expect(bottom).toBeLessThanOrEqual(page.height + 0.001);
      expect(gap.x).toBeGreaterThanOrEqual(0);
    }
  });

  // Published: ISO 216 (A4 is 210 × 297 mm); a Letter sheet is 8.5 × 11 inches.
  test("paper sizes", () => {
    expect(LABEL_SHEETS["a4-24"].page).toEqual({ width: 210, height: 297 });
    const { width, height } = LABEL_SHEETS["letter-30"].page;
    expect([width / 25.4, height / 25.4]).toEqual([expect.closeTo(8.5, 6), expect.closeTo(11, 6)]);
  });

  test("a begun sheet is used up first", () => {
    const pages = layLabels(["a", "b", "c"], LABEL_SHEETS["a4-24"], 22);
    expect(pages.map((p) => p.map((l) => [l.label, l.x, l.y]))).toEqual([
      [
        ["a", 70, 259.5],
        ["b", 140, 259.5],
      ],
      [["c", 0, 0.5]],
    ]);
    expect(() => layLabels(["a"], LABEL_SHEETS.single, 1)).toThrow(RangeError);
  });
});

test("every danger tells what to look for, and never to charge or open without a word on trained people or the fire service", () => {
  for (const kind of DangerKind.options.filter((k) => k !== "lost")) {
    expect(DANGERS[kind].sign.length).toBeGreaterThan(20);
    expect(DANGERS[kind].caution).toMatch(/do not charge/i);
    expect(DANGERS[kind].caution).toMatch(/collection point|trained people/);
  }
});
