import { lookUp } from "~/core/device/lookUp";
import { fails, HOLDS, unknown } from "~/core/upgrade/outcome";
import { imageRule } from "~/core/upgrade/rule";

export const isPort = imageRule([], ({ entry: { image } }) =>
  image.port
    ? HOLDS
    : fails("port.other-way", "It is made for this model, not for another: it goes on as an ordinary ROM"),
);

export const isNoPort = imageRule([], ({ entry: { image } }) =>
  image.port ? fails("port.other-way", "It was built for another model: its two packages are queued") : HOLDS,
);

/** Exactly the build it names lies under it; or, where it names none, storage is not encrypted. */
export const portBase = imageRule(
  ["baseBuild", "system", "assumed"],
  ({ entry: { image }, state, device: { facts } }) => {
    const base = image.port?.base ?? null;
    if (base === null) {
      const encrypted = lookUp(facts, "storage.encrypted");
      if (encrypted.isUnknown) return unknown("port.encrypted", "storage.encrypted");
      return encrypted.value
        ? fails("port.encrypted", "Its storage is encrypted: the port's packages can't be installed over it")
        : HOLDS;
    }
    const key = state.system === "stock" ? "build.number" : "base.build";
    if (state.assumed.includes(key) || (state.system === "stock" && state.baseBuild === null))
      return unknown("build.unknown", key);
    return state.system === "stock" && state.baseBuild === base
      ? HOLDS
      : fails(
          "port.other-base",
          state.baseBuild && state.system === "stock"
            ? `Needs the maker's build ${base} under it; this is ${state.baseBuild}`
            : `Needs the maker's build ${base} under it: go to stock first`,
        );
  },
);
