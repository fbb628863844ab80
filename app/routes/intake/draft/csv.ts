import { db, notFound } from "~/app/server/http/context";
import { csvDownload } from "~/app/server/http/csv";
import { findImport, pendingRows } from "~/store/imports";
import type { Route } from "./+types/csv";

/** The rows that are left, to be mended elsewhere. A cell that a spreadsheet would run is written so that it does not. */
export function loader({ params }: Route.LoaderArgs) {
  const list = findImport(db(), Number(params.id));
  if (!list) throw notFound(`There is no list ${params.id}. Look at Intake`);
  const rows = pendingRows(db(), list.id).map((r) => r.cells);
  return csvDownload(`list-${list.id}-left.csv`, list.header, rows);
}
