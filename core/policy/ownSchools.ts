import type { Policy } from "./policy";
import { OWN_SCHOOLS, type OwnSchools } from "./schools";

interface HasSchools {
  readonly schools: OwnSchools;
}

/**
 * The policy that counts for one device: the house's, then the model's own sides, then those of the group that receives it.
 *
 * A group that wants no root is never given any because a model allows it: the last word is the group's.
 *
 * @example policyFor(policy, { schools: { root: "never" } }, null).root // "never" …
 */
export function policyFor(policy: Policy, model: HasSchools, need: HasSchools | null): Policy {
  const own = <K extends (typeof OWN_SCHOOLS)[number]>(key: K) =>
    need?.schools[key] ?? model.schools[key] ?? policy[key];
  const sides = { root: own("root"), services: own("services"), relock: own("relock") };
  return OWN_SCHOOLS.every((key) => sides[key] === policy[key]) ? policy : ({ ...policy, ...sides } as Policy);
}
