import type { Policy } from "./policy";
import type { OwnSchools } from "./schools";

interface HasSchools {
  readonly schools: OwnSchools;
}

/**
 * The policy that counts for one device: the house's, then the model's own sides, then those of the group that receives it.
 *
 * A group that wants no root is never given any because a model allows it: the last word is the group's.
 */
export function policyFor(policy: Policy, model: HasSchools, need: HasSchools | null): Policy {
  const root = need?.schools.root ?? model.schools.root ?? policy.root;
  const relock = need?.schools.relock ?? model.schools.relock ?? policy.relock;
  return root === policy.root && relock === policy.relock ? policy : { ...policy, root, relock };
}
