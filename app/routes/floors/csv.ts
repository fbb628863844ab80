import { db } from "~/app/server/context";
import { csvDownload } from "~/app/server/csv";
import { catalogueOf } from "~/app/server/planning";
import { floorOf } from "~/core/catalogue/need";

const HEADER = [
  "need",
  "for whom",
  "floor api",
  "app",
  "package",
  "lowest api",
  "sets the floor",
  "services",
  "integrity",
  "64-bit only",
  "processors",
  "hardware",
];

/** Every app of every need, one a row. */
export function loader() {
  const rows = catalogueOf(db()).needs.flatMap((n) => {
    const floor = floorOf(n);
    return n.apps.map((a) => [
      n.name,
      n.forWhom,
      floor.api,
      a.name,
      a.package,
      a.minApi,
      floor.setBy.includes(a.name),
      a.services,
      a.integrity,
      a.only64,
      a.abis.join("; "),
      a.hardware.join("; "),
    ]);
  });
  return csvDownload("needs.csv", HEADER, rows);
}
