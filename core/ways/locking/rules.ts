import { fails, HOLDS } from "~/core/upgrade/outcome";
import { rule } from "~/core/upgrade/rule";

/** Nothing but a whole stock package written in this plan, and started, counts: what a device came with is never trusted. */
export const whollyStock = rule(["whole", "system", "recovery", "verification", "product", "started"], ({ state }) =>
  state.whole &&
  state.system === "stock" &&
  state.recovery === "stock" &&
  state.verification === "on" &&
  state.product === "present" &&
  state.started === "running"
    ? HOLDS
    : fails(
        "relock.modified",
        "Locking a modified device kills it: only behind a whole stock package that has started is it locked",
      ),
);

export const relockOffered = rule([], ({ device, policy }) =>
  device.model.relock && policy.relock === "when-stock"
    ? HOLDS
    : fails(
        "relock.not-offered",
        device.model.relock ? "The house does not relock (policy)" : "This maker's devices can't be locked again",
      ),
);
