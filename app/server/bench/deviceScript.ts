import { asClause } from "~/core/catalogue/clause";
import { CLEARANCE_STATES } from "~/core/clearance/states";
import { fileTag } from "~/core/runbook/writeScript";
import type { Standing } from "~/store/devices";

/** A refusal in one sentence, for programs and people alike. */
export const refuseScript = (says: string) =>
  new Response(`${says}\n`, { status: 409, headers: { "content-type": "text/plain; charset=utf-8" } });

/** Why no script is served for a device whose account lock is not settled; null where it is. */
export function lockRefusal(standing: Standing, what: "written" | "done"): Response | null {
  const gate = CLEARANCE_STATES[standing.clearance];
  return gate.opensGate
    ? null
    : refuseScript(`${standing.tag}: ${asClause(gate.says)}. Nothing is ${what} before the account lock is settled`);
}

/** A script of a device, as a file to save. */
export const serveScript = (standing: Standing, name: string, script: string) =>
  new Response(script, {
    headers: {
      "content-type": "text/x-shellscript; charset=utf-8",
      "content-disposition": `attachment; filename="${fileTag(standing.tag)}-${name}.sh"`,
    },
  });
