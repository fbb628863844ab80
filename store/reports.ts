import { change, type Hand, query, queryOne, type Store } from "./database";

export interface ReportRow extends Hand {
  readonly id: number;
  readonly session: string;
  readonly seq: number;
  readonly place: number;
  readonly event: "begun" | "done" | "failed";
  readonly exit: number | null;
  readonly values: string;
  readonly tail: string;
}

const ofRun = query<{ run: number }, ReportRow>(`
  SELECT id, session, seq, place, event, "exit", "values", tail, at, by FROM run_report WHERE run = @run ORDER BY id
`);
const newest = queryOne<{ run: number; session: string }, { seq: number | null }>(`
  SELECT max(seq) AS seq FROM run_report WHERE run = @run AND session = @session
`);
const insert = change<{ run: number } & Omit<ReportRow, "id">>(`
  INSERT INTO run_report (run, session, seq, place, event, "exit", "values", tail, at, by)
  VALUES (@run, @session, @seq, @place, @event, @exit, @values, @tail, @at, @by)
`);

/** What scripts reported of a run, in the order it came. */
export const reportsOf = (store: Store, run: number) => ofRun(store, { run });

/** Number of the last line that a session has reported of a run; 0 for none. */
export const lastReported = (store: Store, run: number, session: string) => newest(store, { run, session })?.seq ?? 0;

export function appendReport(store: Store, run: number, row: Omit<ReportRow, "id">) {
  insert(store, { run, ...row });
}
