import { hostOfHouse } from "~/core/lane/bench";
import type { Policy } from "~/core/policy/policy";
import { openBenches } from "~/store/benches";
import type { Store } from "~/store/database";
import { readPolicy } from "~/store/policy";

/** The policy that plans and sheets are made by: the house's, with what its benches work with where any is written down. */
export function housePolicy(store: Store): Policy {
  const { policy } = readPolicy(store);
  return { ...policy, host: hostOfHouse(openBenches(store), policy.host) };
}
