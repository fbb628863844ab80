import { fitLine, reachOf, studentT, usefulLife } from "./usefulLife";
import { yearOf } from "./yearOf";

/**
 * Published: NIST Statistical Reference Datasets, "Norris" (linear regression, lower level of difficulty): observations as
 * (x, y) and certified values. Written from memory; the certified values below hold for no other numbers.
 */
const NORRIS: [number, number][] = [
  [0.2, 0.1],
  [337.4, 338.8],
  [118.2, 118.1],
  [884.6, 888.0],
  [10.1, 9.2],
  [226.5, 228.1],
  [666.3, 668.5],
  [996.3, 998.5],
  [448.6, 449.1],
  [777.0, 778.9],
  [558.2, 559.2],
  [0.4, 0.3],
  [0.6, 0.1],
  [775.5, 778.1],
  [666.9, 668.8],
  [338.0, 339.3],
  [447.5, 448.9],
  [11.6, 10.8],
  [556.0, 557.7],
  [228.1, 228.3],
  [995.8, 998.0],
  [887.6, 888.8],
  [120.2, 119.6],
  [0.3, 0.3],
  [0.3, 0.6],
  [556.8, 557.6],
  [339.1, 339.3],
  [887.2, 888.0],
  [999.0, 998.5],
  [779.0, 778.9],
  [11.1, 10.2],
  [118.3, 117.6],
  [229.2, 228.9],
  [669.1, 668.4],
  [448.9, 449.2],
  [0.5, 0.2],
];

describe("the straight line", () => {
  test("has the certified values of the published dataset", () => {
    const fit = fitLine(NORRIS);
    expect(fit.points).toBe(36);
    expect(fit.slope).toBeCloseTo(1.00211681802045, 10);
    expect(fit.intercept).toBeCloseTo(-0.262323073774029, 8);
    expect(fit.slopeError).toBeCloseTo(0.429796848199937e-3, 9);
    expect(fit.interceptError).toBeCloseTo(0.232818234301152, 8);
    expect(fit.scatter).toBeCloseTo(0.884796396144373, 9);
    expect(fit.rSquared).toBeCloseTo(0.999993745883712, 10);
  });

  // Published: NIST/SEMATECH e-Handbook, 1.3.6.7.2, critical values of Student's t (0.975).
  test.each([
    [1, 12.706],
    [2, 4.303],
    [10, 2.228],
    [30, 2.042],
  ])("Student's t with %i degrees of freedom", (degrees, value) => expect(studentT(degrees)).toBeCloseTo(value, 3));
});

describe("when a release falls under the floor", () => {
  const yearly = (apis: readonly number[]) => apis.map((api, i) => ({ on: `${2018 + i}-01-01`, api }));

  test("points on a line: the year by hand, no band to speak of", () => {
    const life = usefulLife(yearly([21, 22, 23, 24, 25]), 28);
    // One level a year, 25 in 2022: level 29 comes in 2026.
    expect(life?.reach.year).toBeCloseTo(2026, 6);
    expect((life?.reach.to ?? 0) - (life?.reach.from ?? 0)).toBeLessThan(1e-6);
  });

  test("scattered points have a band around the year, wider the further it lies ahead", () => {
    const history = yearly([21, 21, 23, 23, 26]);
    const near = usefulLife(history, 26)?.reach;
    const far = usefulLife(history, 33)?.reach;
    const width = (r: typeof near) => (r?.to ?? 0) - (r?.from ?? 0);
    expect(near?.from).toBeLessThan(near?.year ?? 0);
    expect(width(far)).toBeGreaterThan(width(near));
  });

  test("two points have no band, one has no line, a floor that sinks reaches nothing", () => {
    expect(usefulLife(yearly([21, 23]), 24)?.reach).toEqual({ year: expect.closeTo(2020, 6), from: null, to: null });
    expect(usefulLife(yearly([21]), 24)).toBeNull();
    expect(
      usefulLife(
        [
          { on: "2020-01-01", api: 21 },
          { on: "2020-01-01", api: 23 },
        ],
        24,
      ),
    ).toBeNull();
    expect(usefulLife(yearly([25, 23, 21]), 24)).toBeNull();
    expect(() => fitLine([[1, 1]])).toThrow(RangeError);
    expect(
      reachOf(
        fitLine([
          [1, 3],
          [2, 3],
        ]),
        5,
      ),
    ).toBeNull();
  });

  test("days as years", () => {
    expect(yearOf("2023-01-01")).toBe(2023);
    expect(yearOf("2024-07-02")).toBeCloseTo(2024.5, 6);
    expect(yearOf("2023-12-31")).toBeLessThan(2024);
  });
});
