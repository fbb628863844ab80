import { z } from "zod";
import { releaseOf } from "~/core/android/releases";
import { asClause } from "~/core/catalogue/clause";
import { Hardware } from "~/core/catalogue/common";
import { FactKey } from "~/core/device/fact";
import { withdrawnText } from "~/core/ways/common/rules";
import type { Bound } from "~/core/ways/operation";
import type { ReasonCode } from "~/core/ways/reasons";
import { OPERATION_KINDS } from "~/core/ways/registry";
import type { End } from "./end";
import { NeedFit } from "./needFit";
import { boundOf, operationsOf, type Path, type SearchWorld, type Taught } from "./search";
import { type WayBack, wayBackFrom } from "./wayBack";

/** An open question: the fact that is missing, and what to do to find it out. */
export const Question = z.object({ fact: FactKey, code: z.string(), says: z.string() }).readonly();
export type Question = Omit<z.infer<typeof Question>, "code"> & { readonly code: ReasonCode };

const list = <T extends z.ZodType>(of: T) => z.array(of).readonly();

/** One way to bring a device up: what is done, what comes of it, what it costs and what it rests on. */
export const Way = z.object({
  id: z.string(),
  operations: list(z.object({ kind: z.enum(OPERATION_KINDS), image: z.string().nullable() }).readonly()),
  /** The system that runs in the end; null when the device stays as it is and the image is not known. */
  image: z.string().nullable(),
  release: z.string(),
  api: z.number(),
  patch: z.string().nullable(),
  /** Patch date of the vendor part under the system: a newer Android on an old one is not fully patched. */
  basePatch: z.string().nullable(),
  handsOnMinutes: z.number(),
  unattendedMinutes: z.number(),
  waitingDays: z.number(),
  bytes: z.number(),
  /** Chance that all goes well at the first try, 0 to 1. */
  success: z.number(),
  wipes: z.number(),
  irreversible: list(z.string()),
  questions: list(z.object({ fact: FactKey, code: z.custom<ReasonCode>(), says: z.string() }).readonly()),
  fit: NeedFit,
  faults: list(z.object({ hardware: Hardware, says: z.string() }).readonly()),
  /** Nothing is installed: the device is good enough as it is. */
  keeps: z.boolean(),
  enough: z.boolean(),
  /** List of packages by which the stock system is cleaned in the end; null where it is not. */
  cleaned: z.string().nullable().default(null),
  /** What has to be said beside it and on its sheet. */
  cautions: list(z.string()).default([]),
  /** It writes over the lead: it could leave a device that does not start. */
  writes: z.boolean().default(false),
  /** Operations whose chance rests on own runs too, with the runs. */
  learned: list(
    z
      .object({
        kind: z.string(),
        image: z.string().nullable(),
        chance: z.number(),
        low: z.number(),
        high: z.number(),
        here: z.object({ ok: z.number(), of: z.number() }).readonly(),
        all: z.object({ ok: z.number(), of: z.number() }).readonly(),
      })
      .readonly(),
  ).default([]),
  /** How the device comes back when it goes wrong; null where nothing is written, or no way back is known. */
  back: z
    .object({
      image: z.string(),
      title: z.string(),
      bytes: z.number(),
      minutes: z.number(),
      whole: z.boolean(),
    })
    .readonly()
    .nullable()
    .default(null),
});
export type Way = Readonly<z.infer<typeof Way>>;

/** Turns an end into a way, with everything that is told of it. */
export function wayOf(end: End, world: SearchWorld, backs: Map<string | null, WayBack | null> = new Map()): Way {
  const { path } = end;
  const { state } = path;
  const bounds = boundOf(path);
  const operations = operationsOf(path);
  const writes = bounds.some(
    ({ operation }) => !operation.withoutComputer && !operation.opens && !operation.keepsSystem,
  );
  // Written out field by field: spreading what was taken apart is many times slower, and there are very many ways.
  return {
    id: wayId(operations),
    operations,
    image: state.image,
    release: releaseOf(state.api) ?? String(state.api),
    api: end.api,
    patch: end.patch,
    basePatch: state.basePatch,
    handsOnMinutes: end.handsOnMinutes,
    unattendedMinutes: end.unattendedMinutes,
    waitingDays: end.waitingDays,
    bytes: end.bytes,
    success: end.success,
    wipes: end.wipes,
    irreversible: end.irreversible,
    questions: end.questions,
    fit: end.fit,
    faults: end.faults,
    keeps: path.untouched,
    enough: end.enough,
    cleaned: end.cleaned,
    cautions: cautionsOf(end, world, bounds),
    writes,
    learned: world.taught ? learnedOf(operations, bounds, world.taught) : NOTHING,
    back: writes ? keptBack(state, world, backs) : null,
  };
}

const NOTHING: readonly never[] = [];

/** Ways back differ only by the firmware that is on the device in the end. */
function keptBack(end: Path["state"], world: SearchWorld, kept: Map<string | null, WayBack | null>): WayBack | null {
  let back = kept.get(end.firmware);
  if (back === undefined) {
    back = wayBackFrom(end, world);
    kept.set(end.firmware, back);
  }
  return back;
}

/** What the chances of a way's operations rest on, beside the handbook. */
function learnedOf(operations: Way["operations"], bounds: readonly Bound[], taught: Taught): Way["learned"] {
  return operations.flatMap((operation, i) => {
    const found = taught.learned(operation, bounds[i].cost);
    if (!found) return [];
    const { mean, low, high, here, all } = found;
    return [{ kind: operation.kind, image: operation.image, chance: mean, low, high, here, all }];
  });
}

const wayId = (operations: Way["operations"]) =>
  operations.map((o) => (o.image ? `${o.kind}:${o.image}` : o.kind)).join("+") || "nothing";

/** What has to be said beside a way: by its operations, and by how it ends. */
function cautionsOf(
  { path: { state, untouched }, working }: End,
  { index, device, policy }: SearchWorld,
  bounds: readonly Bound[],
): readonly string[] {
  const cautions: string[] = [];
  for (const { caution } of bounds) if (caution !== null && !cautions.includes(caution)) cautions.push(caution);
  const image = untouched && state.image !== null ? index.images.get(state.image)?.image : undefined;
  const withdrawn = image?.withdrawn ? withdrawnText(image, (id) => index.images.get(id)?.image.title) : null;
  if (image && withdrawn) cautions.push(`The build that runs, ${image.title}: ${asClause(withdrawn)}`);
  if (device.model.form === "phone" && !working.includes("calls")) cautions.push(NOT_A_PHONE);
  if (!untouched && state.system !== "stock") cautions.push(TERMS);
  if (state.system === "stock" && !state.locked && policy.relock === "when-stock" && device.model.relock)
    cautions.push(STAYS_UNLOCKED);
  return cautions;
}

const NOT_A_PHONE = "Calls do not work: it goes out with the label “not a phone” only";
const TERMS =
  "Terms of builds and of services packages vary: look at them before it goes out. The lane ships and links neither";
const STAYS_UNLOCKED =
  "It stays unlocked: nobody wrote its system whole here, and a device is never locked on trust. To lock it, write the whole stock package first";

export const endId = (end: End) => wayId(operationsOf(end.path));
