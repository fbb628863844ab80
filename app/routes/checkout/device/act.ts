import type { CheckItem } from "~/core/runbook/checkout";
import { appendChecks, checkoutEnd, checksOf, endCheckout } from "~/store/checkouts";
import type { Hand, Store } from "~/store/database";

export interface Asked {
  readonly device: number;
  readonly run: number;
  readonly items: readonly CheckItem[];
  readonly form: Readonly<Record<string, string>>;
}

/**
 * Saves what was measured; on “done” closes the checkout when everything that must be right is right. A device that fails
 * goes back to the bench with a note.
 *
 * @returns what is wrong in words, or null
 */
export function actAtCheckout(store: Store, { device, run, items, form }: Asked, hand: Hand): string | null {
  return store.transaction(() => {
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
    if (form.act === "save") return null;
    const now = checksOf(store, run);
    if (form.act === "back") {
      if ((form.note ?? "").trim().length < 5) return "Write down why it goes back to the bench";
      endCheckout(store, device, run, { result: "back", note: (form.note ?? "").trim() }, hand);
      return null;
    }
    const missing = items.filter((i) => i.must && now.get(i.item)?.result !== "ok");
    if (missing.length)
      return `Not done yet: ${missing.map((i) => i.title.toLowerCase()).join(", ")} must be all right${missing.some((m) => m.expect) ? " and the measured value as promised" : ""}. What you entered is saved`;
    endCheckout(store, device, run, { result: "done", note: (form.note ?? "").trim() }, hand);
    return null;
  })();
}
