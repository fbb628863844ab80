import { EDITION_WORDS, SLOT_WORDS, slotName } from "~/core/catalogue/flasherSlots";
import { fails, HOLDS, unknown } from "~/core/upgrade/outcome";
import { imageRule, rule } from "~/core/upgrade/rule";

export const downloadRecorded = rule([], ({ device: { model } }) =>
  model.download
    ? HOLDS
    : fails(
        "download.not-recorded",
        "The model's record says nothing of its download mode: add the flasher's edition, the keys and the fuse",
      ),
);

/** Each file of the package has a slot in the edition that suits the model. */
export const slotsForAll = imageRule([], ({ entry: { image }, device: { model } }) => {
  const edition = model.download?.edition;
  if (!edition) return HOLDS;
  const without = image.files.flatMap((f) => f.slot ?? []).filter((slot) => slotName(edition, slot) === null);
  return without.length
    ? fails("download.no-slot", `${EDITION_WORDS[edition]} has no slot for the ${SLOT_WORDS[without[0]]}`)
    : HOLDS;
});

/** Recovery in the system slot, the patched verification file in the extra one. */
export const bringsVerification = imageRule([], ({ entry: { image } }) => {
  const has = (slot: "system" | "data") => image.files.some((f) => f.slot === slot);
  if (image.flavour === "custom" && has("system") && has("data")) return HOLDS;
  return fails(
    "download.no-verification",
    "Needs two tars: the recovery for the system slot, the patched verification file for the extra slot",
  );
});

export const verificationOfBuild = imageRule(["baseBuild", "system", "assumed"], ({ entry: { image }, state }) => {
  const key = state.system === "stock" ? "build.number" : "base.build";
  if (state.assumed.includes(key) || state.baseBuild === null) return unknown("build.unknown", key);
  return image.build === state.baseBuild
    ? HOLDS
    : fails(
        "download.other-build",
        image.build
          ? `Its verification file belongs to build ${image.build}; the installed build is ${state.baseBuild}`
          : "Its record does not say which build its verification file belongs to",
      );
});

/** A recovery goes over the maker's own system, or a generic image over a known stock base. */
export const stockUnder = rule(["system"], ({ state }) =>
  state.system === "stock" || state.system === "generic"
    ? HOLDS
    : fails("gsi.needs-stock-base", "Go to stock first: the boot and vendor parts must be the maker's"),
);

/** A donated device keeps nothing: the keeping edition is for a device that stays with its owner. */
export const hasWipeEdition = imageRule([], ({ entry: { image } }) =>
  image.files.some((f) => f.slot === "region-wipe")
    ? HOLDS
    : fails("download.wipe-edition", "It holds only the keeping edition of the region part: fetch the wiping one"),
);

/** With a computer or a second phone the image is copied over the lead: the stick is for a bench without. */
export const noComputer = rule([], ({ policy }) =>
  policy.host === "none"
    ? HOLDS
    : fails("order.wrong-moment", "With a computer at the bench the image goes over the lead"),
);

/** A recovery that can write a whole image to a partition is on it, and verification is off. */
export const recoveryWritesImages = rule(["recovery", "verification"], ({ state, index }) => {
  if (index.images.get(state.recovery)?.image.flavour !== "custom")
    return fails("recovery.missing", "Needs a custom recovery first");
  return state.verification === "off"
    ? HOLDS
    : fails("verification.missing", "Needs the patched verification file of exactly the installed build");
});
