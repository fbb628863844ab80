import type { Highs, InterruptCallbackEvent, ModelData } from "highs";

type Term = readonly [column: number, factor: number];

/**
 * Effort or not, the solver looks for better numbers in smaller programs, and that takes most of a proof's time. Only where a
 * sum is whole it pays: there they cut off what can't be better by one (measured on divisions of some 2,600 choices).
 */
const NO_BETTER = {
  mip_heuristic_run_rins: false,
  mip_heuristic_run_rens: false,
  mip_heuristic_run_root_reduced_cost: false,
};

/** As near to a whole number as the solver comes. */
export const WHOLE = 1e-6;

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

  /** What a number can be at most. */
  most(column: number): number {
    return this.upper[column];
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
    const least = this.isWholeSum(terms) ? Math.ceil(low - WHOLE) : low;
    this.rows.push({ terms: merged(terms), low: least, high: Number.POSITIVE_INFINITY, isFloor: true });
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
   * @param whole   of all numbers only these have to be whole: less quick, and a closer bound
   * @param gap     part of the sum by which it may fall short of the largest
   * @param prices  of floors, in their order: what it costs to stay below one by one; the numbers may then not keep them
   * @param margins by how much more than the floors is asked for, in their order
   * @param onBound told what is proven so far, whenever it comes closer
   * @param enough  what a bound need not fall below: nothing is looked for behind it, and nothing may have been found then
   * @returns the numbers with the proven upper bound of the sum; null when nothing was found in the time, or nothing can be
   */
  largest(terms: readonly Term[], seconds: number, asked: Asked = {}): Found | null {
    const { highs } = this;
    const { start, gap = 0, relaxed, prices, onBound, enough } = asked;
    const { constants } = highs;
    const isWhole = !prices && this.isWholeSum(terms);
    return highs.withModel((model) => {
      model.options.set({
        output_flag: false,
        time_limit: Math.max(0.01, seconds),
        mip_rel_gap: Math.max(1e-6, gap),
        mip_abs_gap: 1e-7,
        // Whoever asks for what is proven needs no better sum.
        mip_heuristic_effort: onBound ? 0 : 0.3,
        ...(onBound && !isWhole ? NO_BETTER : {}),
        // It takes more time than it saves (measured on divisions of some 2,600 choices: a third more).
        mip_allow_restart: false,
      });
      model.passModel(this.modelOf(terms, asked));
      if (start) model.setSolution({ indices: [...start.keys()], values: [...start.values()] });
      const roundedBound = (bound: number) => (isWhole ? Math.floor(bound + WHOLE) : bound);
      let closest = Number.POSITIVE_INFINITY;
      const hear = ({ data, interrupt }: Pick<InterruptCallbackEvent, "data" | "interrupt">) => {
        const bound = roundedBound(-(data.mip_dual_bound ?? Number.NEGATIVE_INFINITY));
        if (bound < closest) onBound?.(bound);
        closest = Math.min(closest, bound);
        if (enough && closest <= enough()) interrupt();
        return undefined;
      };
      model.run(onBound ? { [constants.callbackType.mipInterrupt]: hear } : {});
      const status = model.getModelStatus();
      if (status === constants.modelStatus.infeasible) return null;
      const { colValue: values, colDual, rowDual } = model.getSolution();
      if (!values || values.length === 0 || !this.holds(values, prices !== undefined)) return null;
      const value = sumOf(terms, values);
      const proven = status === constants.modelStatus.optimal;
      if (relaxed || !(asked.whole?.size ?? this.whole.some(Boolean))) {
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

  /** All that the solver is told, at once: number by number it takes as long as solving. Turned round, since it makes sums as small as can be. */
  private modelOf(terms: readonly Term[], { besides = [], fixed, relaxed, whole, prices, margins }: Asked): ModelData {
    const { infinity, constants } = this.highs;
    const colLower = this.lower.map((low, column) => fixed?.get(column) ?? low);
    const colUpper = this.upper.map((high, column) => fixed?.get(column) ?? Math.min(high, infinity));
    const colCost = this.lower.map(() => 0);
    for (const [column, factor] of merged(terms)) colCost[column] = -factor;
    const rows: Row[] = [...this.rows, ...besides.map((row) => ({ ...row, high: Number.POSITIVE_INFINITY }))];
    const starts = [0];
    const indices: number[] = [];
    const values: number[] = [];
    const rowLower: number[] = [];
    let floors = 0;
    for (const { terms: row, low, isFloor } of rows) {
      for (const [column, factor] of row) {
        indices.push(column);
        values.push(factor);
      }
      const price = isFloor ? prices?.[floors] : undefined;
      if (price !== undefined) {
        // By how much it is fallen below.
        indices.push(colCost.length);
        values.push(1);
        colCost.push(price);
        colLower.push(0);
        colUpper.push(infinity);
      }
      rowLower.push(Math.max(isFloor ? low + (margins?.[floors] ?? 0) : low, -infinity));
      if (isFloor) floors++;
      starts.push(indices.length);
    }
    const { continuous, integer } = constants.variableType;
    const mustBeWhole = (column: number) => this.whole[column] && (whole?.has(column) ?? true);
    const numCols = colCost.length;
    const numRows = rows.length;
    return {
      numCols,
      numRows,
      colCost,
      colLower,
      colUpper,
      rowLower,
      rowUpper: rows.map(({ high }) => Math.min(high, infinity)),
      matrix: { format: "csr", numRows, numCols, starts, indices, values },
      ...(relaxed ? {} : { integrality: colCost.map((_, column) => (mustBeWhole(column) ? integer : continuous)) }),
    };
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

/** What is asked for beside the sum itself. */
type Asked = {
  readonly start?: ReadonlyMap<number, number>;
  readonly besides?: readonly LowRow[];
  readonly gap?: number;
  readonly fixed?: ReadonlyMap<number, number>;
  readonly relaxed?: boolean;
  readonly whole?: ReadonlySet<number>;
  readonly prices?: readonly number[];
  readonly margins?: readonly number[];
  readonly onBound?: ((bound: number) => void) | undefined;
  readonly enough?: (() => number) | undefined;
};

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

/** What a sum comes to by these numbers. */
export const sumOf = (terms: readonly Term[], values: ArrayLike<number>) =>
  terms.reduce((sum, [column, factor]) => sum + factor * values[column], 0);

/** The same column named twice is one term. */
function merged(terms: readonly Term[]): Term[] {
  const sum = new Map<number, number>();
  for (const [column, factor] of terms) sum.set(column, (sum.get(column) ?? 0) + factor);
  return [...sum];
}
