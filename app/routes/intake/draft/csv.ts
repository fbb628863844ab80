import { db, notFound } from "~/app/server/http/context";
import { csvDownload } from "~/app/server/http/csv";
import { judgeList } from "~/app/server/intake/takeIn";
import { findImport, pendingRows } from "~/store/imports";
import type { Route } from "./+types/csv";

/**
 * The rows that are left, to be mended elsewhere; with ?only=numbers those whose IMEI is none, with what is wrong of it. A cell
 * that a spreadsheet would run is written so that it does not.
 */
export function loader({ params, request }: Route.LoaderArgs) {
  const id = Number(params.id);
  const list = findImport(db(), id);
  if (!list) throw notFound(`There is no list ${params.id}. Look at Intake`);
  const judged = new URL(request.url).searchParams.get("only") === "numbers" ? judgeList(db(), id) : null;
  if (!judged) {
    const rows = pendingRows(db(), id).map((r) => r.cells);
    return csvDownload(`list-${id}-left.csv`, list.header, rows);
  }
  const { raw, good, bad } = judged;
  const cells = new Map(raw.map((r) => [r.line, r.cells]));
  const rows = [...good, ...bad]
    .sort((a, b) => a.line - b.line)
    .flatMap((r) => {
      const wrong = r.remarks.filter((m) => m.kind === "check-digit" || m.kind === "no-identity");
      return wrong.length ? [[r.line, wrong.map((m) => m.says).join("; "), ...(cells.get(r.line) ?? [])]] : [];
    });
  return csvDownload(`list-${id}-numbers.csv`, ["line", "what is wrong", ...list.header], rows);
}
