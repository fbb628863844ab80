import type { Highs } from "highs";

type Term = readonly [column: number, factor: number];

/** A linear program with whole numbers, grown line by line, and solved aim after aim. */
export class Linear {
  private readonly lower: number[] = [];
  private readonly upper: number[] = [];
  private readonly whole: boolean[] = [];
  private readonly rows: Row[] = [];

  constructor(private readonly highs: Highs) {}

  /** A number between two others; whole, unless said otherwise. @returns its column */
  number(lower: number, upper: number, whole = true): number {
    this.lower.push(lower);
    this.upper.push(upper);
    this.whole.push(whole);
    return this.lower.length - 1;
  }

  /** A sum that has to lie between two values. */
  row(terms: readonly Term[], low: number, high: number): void {
    if (terms.length) this.rows.push({ terms: merged(terms), low, high });
  }

  atLeast(terms: readonly Term[], low: number): void {
    this.row(terms, low, Number.POSITIVE_INFINITY);
  }

  /** A sum that must not fall below what it has reached; where that is asked for, at a price. */
  floor(terms: readonly Term[], low: number): void {
    this.rows.push({ terms: merged(terms), low, high: Number.POSITIVE_INFINITY, isFloor: true });
  }

  atMost(terms: readonly Term[], high: number): void {
    this.row(terms, Number.NEGATIVE_INFINITY, high);
  }

  /**
   * The largest value of a sum.
   *
   * @param start   some of the numbers, as they are known already
   * @param besides rows that hold this time only
   * @param fixed   numbers that are what they are
   * @param relaxed no number has to be whole: quick, and a bound
   * @param gap     part of the sum by which it may fall short of the largest
   * @param prices  of floors, in their order: what it costs to stay below one by one; the numbers may then not keep them
   * @param margins by how much more than a floor is asked for there
   * @returns the numbers with the proven upper bound of the sum; null when nothing was found in the time, or nothing can be
   */
  largest(
    terms: readonly Term[],
    seconds: number,
    {
      start,
      besides = [],
      gap = 0,
      fixed,
      relaxed = false,
      prices,
      margins,
    }: {
      readonly start?: ReadonlyMap<number, number>;
      readonly besides?: readonly LowRow[];
      readonly gap?: number;
      readonly fixed?: ReadonlyMap<number, number>;
      readonly relaxed?: boolean;
      readonly prices?: readonly number[];
      readonly margins?: readonly number[];
    } = {},
  ): Found | null {
    const { highs } = this;
    const { infinity, constants } = highs;
    return highs.withModel((model) => {
      model.options.set({
        output_flag: false,
        time_limit: seconds,
        mip_rel_gap: Math.max(1e-6, gap),
        mip_abs_gap: 1e-7,
        mip_heuristic_effort: 0.3,
      });
      this.lower.forEach((low, column) => {
        const known = fixed?.get(column);
        model.addVar(known ?? low, known ?? Math.min(this.upper[column], infinity));
        if (this.whole[column] && !relaxed) model.changeColIntegrality(column, constants.variableType.integer);
      });
      const rows: Row[] = [...this.rows, ...besides.map((row) => ({ ...row, high: Number.POSITIVE_INFINITY }))];
      let floors = 0;
      for (const { terms: row, low, high, isFloor } of rows) {
        const price = isFloor ? prices?.[floors] : undefined;
        const more = price === undefined ? 0 : (margins?.[floors] ?? 0);
        const short: Term[] = [];
        if (price !== undefined) {
          short.push([this.lower.length + floors++, 1]);
          model.addVar(0, infinity);
          model.changeColCost(short[0][0], price);
        }
        model.addRow(Math.max(low + more, -infinity), Math.min(high, infinity), {
          indices: [...row, ...short].map(([column]) => column),
          values: [...row, ...short].map(([, factor]) => factor),
        });
      }
      // Turned round: the solver makes it as small as can be.
      for (const [column, factor] of merged(terms)) model.changeColCost(column, -factor);
      if (start) model.setSolution({ indices: [...start.keys()], values: [...start.values()] });
      model.run();
      const status = model.getModelStatus();
      if (status === constants.modelStatus.infeasible) return null;
      const { colValue: values, colDual, rowDual } = model.getSolution();
      if (!values || values.length === 0 || !this.holds(values, prices !== undefined)) return null;
      const value = sumOf(terms, values);
      const proven = status === constants.modelStatus.optimal;
      const roundedBound = this.isWholeSum(terms)
        ? (bound: number) => Math.floor(bound + 1e-6)
        : (bound: number) => bound;
      if (relaxed || !this.whole.some(Boolean)) {
        const bound = proven ? roundedBound(value) : Number.POSITIVE_INFINITY;
        return { values, value, bound, ...this.dualsOf(colDual, rowDual) };
      }
      const bound = roundedBound(-Number(model.info.get("mip_dual_bound")));
      return { values, value, bound: proven && !Number.isFinite(bound) ? value : Math.max(value, bound) };
    });
  }

  /** Whether a sum can only be a whole number: what is above the next lower one is no bound then. */
  private isWholeSum(terms: readonly Term[]): boolean {
    return terms.every(([column, factor]) => this.whole[column] && Number.isInteger(factor));
  }

  private dualsOf(columns: ArrayLike<number>, rows: ArrayLike<number>): Pick<Found, "columnCosts" | "floorCosts"> {
    return {
      columnCosts: columns,
      floorCosts: this.rows.flatMap(({ isFloor }, k) => (isFloor ? [Math.abs(rows[k])] : [])),
    };
  }

  /** Whether numbers keep all rows: what the solver had to stop over is not trusted. */
  private holds(values: Found["values"], mayFall: boolean): boolean {
    return this.rows.every(({ terms, low, high, isFloor }) => {
      if (isFloor && mayFall) return true;
      const value = sumOf(terms, values);
      return value >= low - 1e-5 && value <= high + 1e-5;
    });
  }
}

type Row = { readonly terms: readonly Term[]; readonly low: number; readonly high: number; readonly isFloor?: true };
type LowRow = { readonly terms: readonly Term[]; readonly low: number };

export type Found = {
  readonly values: ArrayLike<number>;
  readonly value: number;
  /** Proven: no numbers give more. */
  readonly bound: number;
  /** Without whole numbers: what one more of a column would cost, and what one more of each floor does. */
  readonly columnCosts?: ArrayLike<number>;
  readonly floorCosts?: readonly number[];
};

const sumOf = (terms: readonly Term[], values: ArrayLike<number>) =>
  terms.reduce((sum, [column, factor]) => sum + factor * values[column], 0);

/** The same column named twice is one term. */
function merged(terms: readonly Term[]): Term[] {
  const sum = new Map<number, number>();
  for (const [column, factor] of terms) sum.set(column, (sum.get(column) ?? 0) + factor);
  return [...sum];
}
