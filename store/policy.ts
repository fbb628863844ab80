import { DEFAULT_POLICY, Policy } from "~/core/policy/policy";
import { change, type Hand, queryOne, StaleEdit, type Store } from "./database";
import { inTransaction } from "./transaction";

const current = queryOne<object, { doc: string; version: number }>(`SELECT doc, version FROM policy WHERE id = 1`);
const insert = change<{ doc: string }>(`INSERT INTO policy (id, doc) VALUES (1, @doc)`);
const update = change<{ doc: string; version: number }>(`
  UPDATE policy
  SET    doc = @doc, version = version + 1
  WHERE  id = 1 AND version = @version
`);
const record = change<{ doc: string } & Hand>(`INSERT INTO policy_change (doc, at, by) VALUES (@doc, @at, @by)`);

export interface VersionedPolicy {
  readonly policy: Policy;
  readonly version: number;
}

/** The house's policy; the defaults until somebody saves one (version 0). */
export function readPolicy(store: Store): VersionedPolicy {
  const row = current(store, {});
  return row
    ? { policy: Policy.parse(JSON.parse(row.doc)), version: row.version }
    : { policy: DEFAULT_POLICY, version: 0 };
}

/** Saves the policy. @throws StaleEdit when it was saved by somebody else since `version` */
export function savePolicy(store: Store, policy: Policy, version: number, hand: Hand) {
  const doc = JSON.stringify(Policy.parse(policy));
  inTransaction(store, () => {
    if (version === 0 && !current(store, {})) insert(store, { doc });
    else if (update(store, { doc, version }).changes === 0) throw new StaleEdit("The policy");
    record(store, { doc, ...hand });
  });
}
