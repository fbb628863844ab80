import { db } from "~/app/server/http/context";
import { type CsvColumn, csvList } from "~/app/server/http/csv";
import { catalogueOf } from "~/app/server/planning/planning";
import { type App, floorOf, type Need } from "~/core/catalogue/need";

const COLUMNS: readonly CsvColumn<{ readonly need: Need; readonly app: App }>[] = [
  ["need", ({ need }) => need.name],
  ["for whom", ({ need }) => need.forWhom],
  ["floor api", ({ need }) => floorOf(need).api],
  ["app", ({ app }) => app.name],
  ["package", ({ app }) => app.package],
  ["lowest api", ({ app }) => app.minApi],
  ["sets the floor", ({ need, app }) => app.minApi === floorOf(need).api],
  ["services", ({ app }) => app.services],
  ["integrity", ({ app }) => app.integrity],
  ["64-bit only", ({ app }) => app.only64],
  ["processors", ({ app }) => app.abis.join("; ")],
  ["hardware", ({ app }) => app.hardware.join("; ")],
];

/** Every app of every need, one a row. */
export function loader() {
  const items = catalogueOf(db()).needs.flatMap((need) => need.apps.map((app) => ({ need, app })));
  return csvList("needs.csv", COLUMNS, items);
}
