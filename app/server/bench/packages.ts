import { currentFacts, currentValue } from "~/core/device/lookUp";
import { type PackageSeen, seenInList } from "~/core/runbook/packagesSeen";
import type { Hand, Store } from "~/store/database";
import type { Standing } from "~/store/devices";
import { factsOf, writeFacts } from "~/store/facts";
import { appendPackagesSeen, type PackageSeenRow, packagesSeen } from "~/store/packagesSeen";
import { inTransaction } from "~/store/transaction";
import { catalogueOf } from "../planning/planning";

export interface PackageLine extends PackageSeenRow {
  readonly is: string;
}

export interface DevicePackages {
  readonly list: string;
  readonly title: string;
  readonly lines: readonly PackageLine[];
}

/** What was taken from a device, list by list, with what each package is. */
export function packagesOf(store: Store, device: number): DevicePackages[] {
  const seen = packagesSeen(store, device);
  const lists = [...new Set(seen.map((s) => s.list))];
  return lists.map((list) => {
    const image = catalogueOf(store).images.find((i) => i.id === list);
    const words = new Map(image?.packages?.remove.map((p) => [p.name, p.is]));
    const rows = seen.filter((s) => s.list === list);
    return {
      list,
      title: image?.title ?? list,
      lines: rows.map((row) => ({ ...row, is: words.get(row.name) ?? "no longer in the list" })),
    };
  });
}

/** What `pm list packages` says now, against what a list takes away. @returns what is wrong in words, or null */
export function takePackages(store: Store, standing: Standing, text: string, hand: Hand): string | null {
  return inTransaction(store, () => {
    const before = packagesOf(store, standing.id);
    if (before.length === 0) return `Nothing was taken from ${standing.tag}: there is nothing to compare with`;
    for (const { list, lines } of before) {
      const seen = seenInList(
        text,
        lines.map((l) => ({ name: l.name, before: l.outcome })),
      );
      if (typeof seen === "string") return seen;
      recordPackages(store, standing.id, list, seen, hand);
    }
    return null;
  });
}

/** Appends what was seen; once nothing that was taken away is missing any more, the device is no longer a cleaned one. */
function recordPackages(store: Store, device: number, list: string, seen: readonly PackageSeen[], hand: Hand) {
  if (seen.length === 0) return;
  appendPackagesSeen(store, device, list, seen, hand);
  const gone = packagesSeen(store, device).some((s) => s.list === list && s.outcome === "gone");
  const cleaned = currentValue(currentFacts(factsOf(store, device)), "system.cleaned") ?? "none";
  if (!gone && cleaned === list && seen.some((s) => s.outcome === "back"))
    writeFacts(store, device, [{ key: "system.cleaned", value: "none", source: "read", ...hand }]);
}
