import { bytesText } from "~/app/ui/words";
import type { Store } from "~/store/database";
import { reportsOf } from "~/store/reports";
import { findRun } from "~/store/runs";

const KIB = 1024;
const WHAT = [
  { name: "packages", says: "Packages", text: (n: number) => String(n) },
  { name: "storage", says: "Free storage", text: (n: number) => bytesText(n * KIB) },
  { name: "memory", says: "Free memory", text: (n: number) => bytesText(n * KIB) },
];

/** What the newest run read before and after packages were taken away; what it did not read is left out. */
export function measuresOf(store: Store, device: number) {
  const run = findRun(store, device);
  const read = new Map<string, number>();
  for (const { values } of run ? reportsOf(store, run.id) : [])
    for (const [name, value] of Object.entries(JSON.parse(values) as Record<string, string>))
      if (/^(packages|storage|memory)\.(before|after)$/.test(name) && /^\d{1,15}$/.test(value))
        read.set(name, Number(value));
  return WHAT.flatMap(({ name, says, text }) => {
    const [before, after] = [read.get(`${name}.before`), read.get(`${name}.after`)];
    if (before === undefined && after === undefined) return [];
    return [
      {
        what: says,
        before: before === undefined ? null : text(before),
        after: after === undefined ? null : text(after),
      },
    ];
  });
}
