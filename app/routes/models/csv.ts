import { db } from "~/app/server/context";
import { csvDownload } from "~/app/server/csv";
import { catalogueOf } from "~/app/server/planning";
import { findModels } from "~/core/catalogue/find";
import type { Route } from "./+types/csv";

const HEADER = [
  "id",
  "maker",
  "sold as",
  "model numbers",
  "code name",
  "board",
  "kind",
  "screen",
  "came with api",
  "processor",
  "flashed by",
  "slots",
  "vendor interface",
  "room for the system",
  "can be unlocked",
  "days of waiting",
  "firmware",
  "source",
  "on",
];

/** The models that a search finds, one a row. */
export function loader({ request }: Route.LoaderArgs) {
  const q = new URL(request.url).searchParams.get("q") ?? "";
  const rows = findModels(catalogueOf(db()).models, q.trim()).map((m) => [
    m.id,
    m.maker,
    m.names.join("; "),
    m.modelNumbers.join("; "),
    m.codename,
    m.board,
    m.form,
    m.screen,
    m.launchApi,
    m.cpu,
    m.flash,
    m.slots ? 2 : 1,
    m.treble,
    m.room.system,
    m.unlock.possible,
    m.unlock.waitingDays,
    m.firmware.order.join("; "),
    m.source,
    m.on,
  ]);
  return csvDownload("models.csv", HEADER, rows);
}
