import { asClause } from "~/core/catalogue/clause";
import { Hardware } from "~/core/catalogue/common";
import { brokenHardware, hardwareText } from "~/core/device/brokenHardware";
import { type Fact, readFactValue } from "~/core/device/fact";
import { type CurrentFacts, currentValue } from "~/core/device/lookUp";
import type { CheckItem } from "~/core/runbook/checkout";
import { appendChecks, checkoutEnd, checksOf, endCheckout } from "~/store/checkouts";
import type { Hand, Store } from "~/store/database";
import { appendFacts } from "~/store/facts";
import { inTransaction } from "~/store/transaction";

export interface Asked {
  readonly device: number;
  readonly run: number;
  readonly items: readonly CheckItem[];
  readonly form: Readonly<Record<string, string>>;
  /** What is known of the device so far. */
  readonly facts: CurrentFacts;
}

const MEASURES = { release: "android.release", patch: "build.patch" } as const;

/** What was measured at Checkout, as facts: version and patch as typed, hardware that was tried. */
function measuredFacts(
  entries: readonly { readonly item: string; readonly measured: string; readonly result: string }[],
  facts: CurrentFacts,
  hand: Hand,
): Fact[] {
  const found: Fact[] = [];
  const broken = new Set<Hardware>(brokenHardware(currentValue(facts, "hardware.broken") ?? ""));
  const before = hardwareText(broken);
  for (const { item, measured, result } of entries) {
    if (item === "release" || item === "patch") {
      const read = measured ? readFactValue(MEASURES[item], measured) : null;
      if (read?.ok) found.push({ key: MEASURES[item], value: read.value, source: "typed", ...hand });
    }
    const hardware = Hardware.safeParse(item.replace("hardware.", ""));
    if (hardware.success && result === "not-ok") broken.add(hardware.data);
    if (hardware.success && result === "ok") broken.delete(hardware.data);
  }
  const now = hardwareText(broken);
  if (now !== before) found.push({ key: "hardware.broken", value: now, source: "typed", ...hand });
  return found;
}

/**
 * Saves what was measured; on “done” closes the checkout when everything that must be right is right. A device that fails
 * goes back to the bench with a note.
 *
 * @returns what is wrong in words, or null
 */
export function actAtCheckout(store: Store, { device, run, items, form, facts }: Asked, hand: Hand): string | null {
  return inTransaction(store, () => {
    if (checkoutEnd(store, run)) return "This checkout was closed already. Reload the page";
    const before = checksOf(store, run);
    const entries = items.flatMap(({ item, expect }) => {
      const measured = (form[`measured.${item}`] ?? "").trim().slice(0, 200);
      let result = form[`result.${item}`] ?? "";
      if (!["ok", "not-ok", "not-tried"].includes(result)) result = "not-tried";
      // A measured value that differs from the promise is not all right, whatever was ticked.
      if (expect !== null && result === "ok" && measured !== expect) result = "not-ok";
      const old = before.get(item);
      return old?.result === result && old.measured === measured ? [] : [{ item, measured, result }];
    });
    appendChecks(store, device, run, entries, hand);
    appendFacts(store, device, measuredFacts(entries, facts, hand));
    if (form.act === "save") return null;
    const now = checksOf(store, run);
    if (form.act === "back") {
      if ((form.note ?? "").trim().length < 5) return "Write down why it goes back to the bench";
      endCheckout(store, device, run, { result: "back", note: (form.note ?? "").trim() }, hand);
      return null;
    }
    const missing = items.filter((i) => i.must && now.get(i.item)?.result !== "ok");
    if (missing.length)
      return `Not done yet: ${missing.map((i) => asClause(i.title)).join(", ")} must be all right${missing.some((m) => m.expect) ? " and the measured value as promised" : ""}. What you entered is saved`;
    endCheckout(store, device, run, { result: "done", note: (form.note ?? "").trim() }, hand);
    return null;
  });
}
