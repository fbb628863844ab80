import { db } from "~/app/server/http/context";
import { type CsvColumn, csvList } from "~/app/server/http/csv";
import { catalogueOf } from "~/app/server/planning/planning";
import { findModels } from "~/core/catalogue/find";
import { systemAsRoot } from "~/core/catalogue/layout";
import type { Model, OpenPart } from "~/core/catalogue/model";
import type { Route } from "./+types/csv";

/** A cell of what the record holds; empty where nobody knows it yet. */
const told = <T>(m: Model, part: OpenPart, value: T): T | null => (m.open.includes(part) ? null : value);

const COLUMNS: readonly CsvColumn<Model>[] = [
  ["id", (m) => m.id],
  ["maker", (m) => m.maker],
  ["sold as", (m) => m.names.join("; ")],
  ["model numbers", (m) => m.modelNumbers.join("; ")],
  ["code name", (m) => m.codename],
  ["board", (m) => m.board],
  ["kind", (m) => m.form],
  ["screen", (m) => m.screen],
  ["came with api", (m) => told(m, "launchApi", m.launchApi)],
  ["processor", (m) => told(m, "cpu", m.cpu)],
  ["flashed through", (m) => m.flash],
  ["slots", (m) => told(m, "slots", m.slots ? 2 : 1)],
  ["vendor interface", (m) => told(m, "treble", m.treble)],
  ["binder", (m) => m.binder],
  ["root folder inside system", (m) => systemAsRoot(m, null)],
  ["room for the system", (m) => told(m, "room", m.room.system)],
  ["can be unlocked", (m) => told(m, "unlock", m.unlock.possible)],
  ["days of waiting", (m) => m.unlock.waitingDays],
  ["firmware", (m) => m.firmware.order.join("; ")],
  ["quirks", (m) => m.quirks.map((q) => `${q.at}: ${q.says}`).join("; ")],
  ["source", (m) => m.source],
  ["on", (m) => m.on],
];

/** The models that a search finds. */
export function loader({ request }: Route.LoaderArgs) {
  const q = new URL(request.url).searchParams.get("q") ?? "";
  return csvList("models.csv", COLUMNS, findModels(catalogueOf(db()).models, q.trim()));
}
