import { stringify } from "csv-stringify/sync";
import { preparationOf, readPrepareAsk } from "~/app/server/bench/preparations";
import { db, notFound } from "~/app/server/http/context";
import { type Preparation, preparationDigests, preparationScript } from "~/core/runbook/preparation";
import type { Route } from "./+types/files";

function write(file: string, preparation: Preparation, title: string): string | null {
  if (file === "SHA256SUMS") return preparationDigests(preparation);
  if (file === "check-files.sh") return preparationScript(preparation, title);
  if (file !== "files.csv") return null;
  const rows = preparation.items.map((i) => ({
    path: i.path,
    "short name": i.shortName,
    image: i.title,
    "bytes to fetch": i.fetch,
    "bytes to write": i.write,
    sha256: i.sha256 ?? "",
    unpack: i.unpack,
    place: i.place,
    devices: i.devices.join(" "),
  }));
  return stringify(rows, { header: true, bom: true, escape_formulas: true });
}

/** What goes beside the folder of files: the digest list, the script that checks it, the list as CSV. */
export function loader({ request, params }: Route.LoaderArgs) {
  const ask = readPrepareAsk(db(), request);
  const text = write(params.file ?? "", preparationOf(db(), ask), ask.title);
  if (text === null) throw notFound(`There is no ${params.file} of a preparation list`);
  return new Response(text, {
    headers: {
      "content-type": params.file === "files.csv" ? "text/csv; charset=utf-8" : "text/plain; charset=utf-8",
      "content-disposition": `attachment; filename="${params.file}"`,
    },
  });
}
