import { stringify } from "csv-stringify/sync";
import { db } from "~/app/server/http/context";
import type { Route } from "./+types/csv";
import { recordRows } from "./rows";

export function loader({ request }: Route.LoaderArgs) {
  const rows = recordRows(db(), new URL(request.url).searchParams.get("batch"));
  // escape_formulas keeps a spreadsheet from running a cell that begins like a formula.
  const csv = stringify(rows, { header: true, bom: true, escape_formulas: true });
  return new Response(csv, {
    headers: { "content-type": "text/csv; charset=utf-8", "content-disposition": 'attachment; filename="records.csv"' },
  });
}
