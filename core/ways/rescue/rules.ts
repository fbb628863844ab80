import { fails, HOLDS } from "~/core/upgrade/outcome";
import { rule } from "~/core/upgrade/rule";
import { openParts } from "../common/rules";

/** There is a whole system on it that does not start: its data may be what stops it. */
export const doesNotStart = rule(["started", "system", "product", "assumed"], ({ state }) => {
  const stock = state.system === "stock";
  if (state.started !== "broken" || state.system === "none" || (stock && state.product === "removed"))
    return fails("order.wrong-moment", "Only a whole system that does not start is rescued by formatting");
  return (stock && openParts(state, ["product.removed"])) || HOLDS;
});

export const recoveryIsStock = rule(["recovery", "assumed"], ({ state }) => {
  if (state.recovery !== "stock")
    return fails("order.wrong-moment", "Another recovery is on it: its data is formatted from the bootloader");
  return openParts(state, ["recovery.image"]) ?? HOLDS;
});
