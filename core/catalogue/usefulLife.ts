import jstat from "jstat";
import { linearRegression, linearRegressionLine, rSquared } from "simple-statistics";
import { yearOf } from "./yearOf";

/** A point: when, in years, and what the floor was. */
export type FloorPoint = readonly [year: number, api: number];

export interface LineFit {
  readonly slope: number;
  readonly intercept: number;
  /** Standard deviation of the points around the line; null with fewer than three points. */
  readonly scatter: number | null;
  /** Standard errors of slope and intercept; null with fewer than three points. */
  readonly slopeError: number | null;
  readonly interceptError: number | null;
  readonly rSquared: number;
  readonly points: number;
  readonly meanYear: number;
  /** Sum of the squared distances of the years from their mean. */
  readonly spread: number;
}

/**
 * Straight line through points by least squares, with its errors.
 *
 * @throws RangeError with fewer than two different years
 * @source NIST/SEMATECH e-Handbook of Statistical Methods, 4.1.4.1 "Linear Least Squares Regression" and 2.3.6.2
 *         "Calibration, straight line"
 */
export function fitLine(points: readonly FloorPoint[]): LineFit {
  const n = points.length;
  const meanYear = points.reduce((sum, [x]) => sum + x, 0) / n;
  const spread = points.reduce((sum, [x]) => sum + (x - meanYear) ** 2, 0);
  if (n < 2 || spread === 0) throw new RangeError("A line needs points of at least two different days");
  const data = points.map(([x, y]) => [x, y]);
  const { m, b } = linearRegression(data);
  const line = linearRegressionLine({ m, b });
  const rest = points.reduce((sum, [x, y]) => sum + (y - line(x)) ** 2, 0);
  const scatter = n > 2 ? Math.sqrt(rest / (n - 2)) : null;
  return {
    slope: m,
    intercept: b,
    scatter,
    slopeError: scatter === null ? null : scatter / Math.sqrt(spread),
    interceptError: scatter === null ? null : scatter * Math.sqrt(1 / n + meanYear ** 2 / spread),
    rSquared: rSquared(data, line),
    points: n,
    meanYear,
    spread,
  };
}

/** The two-sided 95 % value of Student's t with so many degrees of freedom. */
export const studentT = (degrees: number): number => jstat.jStat.studentt.inv(0.975, degrees);

export interface Reach {
  /** When the line reaches the level, as a year with its fraction. */
  readonly year: number;
  /** 95 % band around it, years; null with fewer than three points: nothing tells how sure it is. */
  readonly from: number | null;
  readonly to: number | null;
}

/**
 * When the line reaches a level, with its error band.
 *
 * @returns null when the floor does not rise
 * @source NIST/SEMATECH e-Handbook of Statistical Methods, 2.3.6.7.1 "Uncertainty for the linear calibration": the
 *         error of a calibrated value, s/b · √(1 + 1/n + (x − x̄)²/Sxx), times Student's t
 */
export function reachOf(fit: LineFit, api: number): Reach | null {
  if (fit.slope <= 0) return null;
  const year = (api - fit.intercept) / fit.slope;
  if (fit.scatter === null) return { year, from: null, to: null };
  const error = (fit.scatter / fit.slope) * Math.sqrt(1 + 1 / fit.points + (year - fit.meanYear) ** 2 / fit.spread);
  const band = studentT(fit.points - 2) * error;
  return { year, from: year - band, to: year + band };
}

/**
 * A release falls under the floor when the floor reaches the next level: the day its apps stop accepting it.
 *
 * @param history what the floor was, in any order
 * @returns null when there are too few points, or the floor does not rise
 * @example usefulLife([{ on: "2025-01-01", api: 26 }], 30) // null
 */
export function usefulLife(
  history: readonly { readonly on: string; readonly api: number }[],
  api: number,
): { readonly fit: LineFit; readonly reach: Reach } | null {
  if (new Set(history.map((h) => h.on)).size < 2) return null;
  const fit = fitLine(history.map((h): FloorPoint => [yearOf(h.on), h.api]));
  const reach = reachOf(fit, api + 1);
  return reach && { fit, reach };
}
