import type { Runbook } from "~/core/runbook/step";
import { type LogContext, NO_CONTEXT } from "./pattern";

/**
 * The context of a step of a sheet; nothing where there is no such step.
 *
 * @example contextOfStep({ steps: [], operations: [] }, 0).operation // null
 */
export function contextOfStep({ steps, operations }: Pick<Runbook, "steps" | "operations">, place: number): LogContext {
  const step = steps[place];
  if (!step) return NO_CONTEXT;
  const { deed } = step;
  return {
    operation: operations[step.operation]?.kind ?? null,
    step: step.code,
    mayFail: deed.kind === "command" && (deed.mayFail === true || deed.instead !== undefined),
  };
}
