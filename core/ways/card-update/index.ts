import { fails, HOLDS } from "~/core/upgrade/outcome";
import { rule } from "~/core/upgrade/rule";
import { bringsNoDanger, noRollback, notWithdrawn, signedOut, suitsModel } from "../common/rules";
import { failureOf, imageOperation, type WayFamily } from "../operation";
import { behindStock } from "../stock-package/behindStock";
import { modelNumberFits, regionFits, writtenBy } from "../stock-package/rules";
import { cardUpdateSteps } from "./steps";

const takesCards = rule([], ({ device: { model } }) =>
  model.card
    ? HOLDS
    : fails(
        "card.not-taken",
        "The model's record names no keys for an update from a card: it takes none, or nobody tried",
      ),
);

const cardUpdate = imageOperation("card-update", "stock", {
  says: "Update from a memory card",
  installs: "stock",
  withoutComputer: true,
  next: ["start-and-check"],
  settles: ["firmware.too-old", "firmware.dangerous"],
  needs: [
    suitsModel,
    notWithdrawn,
    writtenBy("card"),
    takesCards,
    regionFits,
    modelNumberFits,
    bringsNoDanger,
    signedOut,
    noRollback,
  ],
  apply: behindStock,
  cost: (e) => ({ handsOn: 10, unattended: 8, failure: failureOf(e, 0.08), wipes: 1 }),
  steps: cardUpdateSteps,
});

/** F: the maker's update from the root of a card; it works on a device that no longer starts. */
export const cardUpdateWay = {
  id: "card-update",
  says: "Card update",
  operations: [cardUpdate],
  hands: ["card.insert", "keys.card-update"],
} as const satisfies WayFamily;
