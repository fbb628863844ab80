import type { PlannedDevice } from "~/app/server/planning/planning";
import { policyFor } from "~/core/policy/ownSchools";
import type { Policy } from "~/core/policy/policy";
import type { Runbook, Step } from "~/core/runbook/step";
import { commandText, insteadTexts } from "~/core/runbook/writeSheet";
import { pickable, planTrouble, type TroublePlan, type Where } from "~/core/trouble/plan";
import { SeenTrouble } from "~/core/trouble/seen";

export interface ShownTrouble extends Omit<TroublePlan, "steps"> {
  readonly steps: readonly (Step & { readonly command: string | null; readonly instead: readonly string[] })[];
}

/** What can be picked at the open step, and the steps for what was picked; nothing where no model is known. */
export function troubleAt(
  { model, standing, need }: PlannedDevice,
  runbook: Runbook | null,
  place: number | null,
  house: Policy,
  seen: string | null,
): { readonly pick: readonly SeenTrouble[]; readonly shown: ShownTrouble | null } {
  if (!model || !runbook || place === null) return { pick: [], shown: null };
  const where: Where = { runbook, place, model, serial: standing.serial, policy: policyFor(house, model, need) };
  const pick = pickable(where);
  const picked = SeenTrouble.safeParse(seen);
  if (!picked.success || !pick.includes(picked.data)) return { pick, shown: null };
  const plan = planTrouble(picked.data, where);
  return {
    pick,
    shown: {
      ...plan,
      steps: plan.steps.map((step) => ({ ...step, command: commandText(step), instead: insteadTexts(step) })),
    },
  };
}
