import { casesOf } from "~/app/server/clearance/cases";
import { db, handOf } from "~/app/server/http/context";
import { csvDownload } from "~/app/server/http/csv";
import { placedDevices } from "~/app/server/planning/lane";
import { maskNumber } from "~/core/device/imei";
import { allExhibits } from "~/store/exhibits";
import { noteShown } from "~/store/shown";
import { inTransaction } from "~/store/transaction";
import type { Route } from "./+types/csv";

/** Every case with its evidence. Whole IMEIs and serial numbers only where the person asked for them (?numbers=whole). */
export function loader({ request }: Route.LoaderArgs) {
  const query = new URL(request.url).searchParams;
  const whole = query.get("numbers") === "whole";
  const number = (text: string | null) => (text ? (whole ? text : maskNumber(text)) : "");
  const caseOf = casesOf(db());
  const files = new Map<number, string[]>();
  for (const e of allExhibits(db()))
    files.set(e.device, [
      ...(files.get(e.device) ?? []),
      `${e.name} sha256:${e.digest}${e.removed ? " (taken away)" : ""}`,
    ]);
  const placed = placedDevices(db(), query.get("batch"));
  if (whole)
    inTransaction(db(), () => {
      const hand = handOf(request);
      for (const { standing: s } of placed)
        if (s.serial || s.imei) noteShown(db(), s.id, "numbers, in the list of cases", hand);
    });
  const rows = placed.map(({ standing: s }) => {
    const was = caseOf(s.id);
    return [
      s.tag,
      number(s.serial),
      number(s.imei),
      s.donor,
      was.state,
      was.since ?? "",
      was.askedAt ?? "",
      was.answeredAt ?? "",
      was.counted.at(-1)?.evidence ?? "",
      (files.get(s.id) ?? []).join("; "),
    ];
  });
  const header = [
    "tag",
    "serial",
    "imei",
    "donor",
    "state",
    "since",
    "asked",
    "answered",
    "how it is known",
    "photos and papers",
  ];
  return csvDownload("clearance.csv", header, rows);
}
