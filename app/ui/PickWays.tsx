import { Form } from "~/app/ui/Form";

import { describeRelease } from "~/core/android/releases";
import { STOCK_WRITERS } from "~/core/ways/registry";
import { countText } from "./words";

interface ShortWay {
  readonly id: string;
  readonly image: string | null;
  readonly release: string;
  readonly keeps: boolean;
  readonly works: boolean;
  readonly operations: number;
}

/** Chooses which ways stand side by side; the choice is in the address, so it can be kept and sent. */
export function PickWays({
  all,
  side,
  titles,
  keep,
}: {
  all: readonly ShortWay[];
  side: readonly string[];
  titles: Readonly<Record<string, string>>;
  keep: Readonly<Record<string, string>>;
}) {
  if (all.length <= 3) return null;
  return (
    <details className="my-2">
      <summary className="cursor-pointer font-semibold">Set other ways side by side ({all.length} in all)</summary>
      <Form method="get" className="mt-2 space-y-1" preventScrollReset>
        {Object.entries(keep).map(([name, value]) => (
          <input key={name} type="hidden" name={name} value={value} />
        ))}
        {all.map((w) => (
          <label key={w.id} className="flex items-baseline gap-2">
            <input type="checkbox" name="compare" value={w.id} defaultChecked={side.includes(w.id)} />
            <span>
              {w.keeps
                ? `Keep Android ${w.release}`
                : (w.image && titles[w.image]) || describeRelease(Number(w.release))}{" "}
              <span className="hint">
                Android {w.release}, {countText(w.operations, "operation")}
                {w.works ? "" : ", misses part of the need"}
                {STOCK_WRITERS.some((kind) => w.id.includes(kind))
                  ? ", through stock"
                  : w.id.includes("take-update")
                    ? ", by official update"
                    : ""}
              </span>
            </span>
          </label>
        ))}
        <button type="submit" className="btn">
          Compare (three at most)
        </button>
      </Form>
    </details>
  );
}
