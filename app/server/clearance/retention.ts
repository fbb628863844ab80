import { addDays, parseISO } from "date-fns";
import { dayOf } from "~/app/server/http/clock";
import { placedDevices } from "~/app/server/planning/lane";
import { isFinished } from "~/core/clearance/states";
import type { Store } from "~/store/database";
import { contactsByName, eraseContact } from "~/store/donors";
import { sweepForms } from "~/store/formsSeen";
import { eraseLetter, lettersTo } from "~/store/letters";
import { readPolicy } from "~/store/policy";
import { readSetting, writeSetting } from "~/store/setting";
import { inTransaction } from "~/store/transaction";
import { casesOf } from "./cases";
import { sweepExhibits, sweepOrphans } from "./exhibits";

/**
 * Erases what may not be kept any longer: a donor's contact and the address and text of their letters, the policy's days
 * after the last of their cases has closed. The record that they were asked stays.
 *
 * @returns names of the donors whose contact was erased now
 */
export function sweep(store: Store, at: Date): string[] {
  const { followUp } = readPolicy(store).policy;
  const caseOf = casesOf(store);
  const closed = new Map<string, string | null>();
  for (const d of placedDevices(store, null)) {
    const key = d.standing.donor.toLowerCase();
    const was = caseOf(d.standing.id);
    const end = isFinished(was.state) ? was.since : null;
    const before = closed.get(key);
    closed.set(key, end === null || before === null ? null : before === undefined || before < end ? end : before);
  }
  const erased: string[] = [];
  inTransaction(store, () => {
    for (const [key, donor] of contactsByName(store)) {
      const end = closed.get(key);
      if (donor.erased || !end || addDays(parseISO(end), followUp.eraseContactAfter) > at) continue;
      eraseContact(store, donor.name, at.toISOString());
      for (const letter of lettersTo(store, donor.name))
        if (!letter.erased) eraseLetter(store, letter.id, at.toISOString());
      erased.push(donor.name);
    }
  });
  return erased;
}

const SWEPT = "retention.swept-on";

/** Sweeps once a day, with the first page that anybody opens: the product needs no service beside it. */
export function sweepDaily(store: Store, folder: string, at: Date) {
  if (readSetting(store, SWEPT) === dayOf(at)) return;
  sweep(store, at);
  sweepExhibits(store, folder, at);
  sweepOrphans(store, folder, new Date());
  sweepForms(store, addDays(at, -2).toISOString());
  writeSetting(store, SWEPT, dayOf(at));
}
