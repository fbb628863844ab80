import { groupedBy } from "~/app/server/planning/groupedBy";
import type { PlannedDevice } from "~/app/server/planning/planning";
import { apiOf } from "~/core/android/releases";
import { modelTitle } from "~/core/catalogue/model";
import { floorOf } from "~/core/catalogue/need";
import { calledAs } from "~/core/device/calledAs";
import { currentValue } from "~/core/device/lookUp";
import type { Verdict } from "~/core/upgrade/plan";

/** One row of Match: the devices of one model that wait for one need. */
export interface MatchGroup {
  readonly key: string;
  readonly model: string;
  readonly title: string;
  /** For devices of no known model: what they are called, and one of them to draft a model from. */
  readonly called: string | null;
  readonly draftFrom: string | null;
  readonly need: string | null;
  readonly needName: string;
  readonly devices: number;
  readonly accepted: number;
  readonly tags: string;
  readonly verdicts: readonly (readonly [Verdict, number])[];
  readonly now: readonly number[];
  readonly best: number | null;
  readonly others: readonly number[];
  /** The way to the best release cleans the stock system, for one of them at least. */
  readonly cleaned: boolean;
  readonly floor: number | null;
  readonly bestSays: string;
}

const VERDICT_ORDER: readonly Verdict[] = ["can-go", "good-enough", "check-first", "waiting", "not-this-way"];

/** Groups planned devices by model and need, in the order of the model titles. */
export function groupDevices(devices: readonly PlannedDevice[]): MatchGroup[] {
  const groups = groupedBy(
    devices,
    ({ model, facts, need }) => `${model?.id ?? `unknown ${calledAs(facts).toLowerCase()}`}|${need?.id ?? ""}`,
  );
  return [...groups]
    .map(([key, list]) => toGroup(key, list))
    .sort((a, b) => (a.title + a.needName < b.title + b.needName ? -1 : 1));
}

function toGroup(key: string, list: readonly PlannedDevice[]): MatchGroup {
  const [{ model, need }] = list;
  const verdicts = new Map<Verdict, number>();
  const now = new Set<number>();
  const others = new Set<number>();
  let best: number | null = null;
  for (const { plan, facts } of list) {
    verdicts.set(plan.verdict, (verdicts.get(plan.verdict) ?? 0) + 1);
    const release = currentValue(facts, "android.release");
    const api = release ? apiOf(release) : null;
    if (api) now.add(api);
    if (plan.best && (best === null || plan.best.api > best)) best = plan.best.api;
    for (const way of plan.ways) others.add(way.api);
  }
  const leading = list.find((d) => d.plan.best) ?? list[0];
  return {
    key,
    model: model?.id ?? "unknown",
    title: model ? modelTitle(model) : titleOfUnknown(list[0]),
    called: model ? null : calledAs(list[0].facts).toLowerCase(),
    draftFrom: model ? null : list[0].standing.tag,
    need: need?.id ?? null,
    needName: need?.name ?? "no need chosen",
    devices: list.length,
    accepted: list.filter((d) => d.standing.way !== null).length,
    tags: list
      .slice(0, 3)
      .map((d) => d.standing.tag)
      .join(", "),
    verdicts: [...verdicts].sort((a, b) => VERDICT_ORDER.indexOf(a[0]) - VERDICT_ORDER.indexOf(b[0])),
    now: [...now].sort((a, b) => a - b),
    best,
    cleaned: list.some(({ plan }) => plan.best?.api === best && plan.best?.cleaned != null),
    others: [...others].filter((api) => api !== best).sort((a, b) => a - b),
    floor: need ? floorOf(need).api : null,
    bestSays: leading.plan.says,
  };
}

const titleOfUnknown = ({ facts }: PlannedDevice) => {
  const called = calledAs(facts);
  return called ? `${called} (unknown)` : "Model not known";
};

const ORDERS: Record<string, (a: MatchGroup, b: MatchGroup) => number> = {
  need: (a, b) => a.needName.localeCompare(b.needName, "en"),
  devices: (a, b) => b.devices - a.devices,
  verdict: (a, b) => VERDICT_ORDER.indexOf(a.verdicts[0][0]) - VERDICT_ORDER.indexOf(b.verdicts[0][0]),
};

/** Groups in the order a person asked for; an unknown order leaves them by model. */
export function sortGroups(groups: readonly MatchGroup[], by: string): readonly MatchGroup[] {
  const order = Object.hasOwn(ORDERS, by) ? ORDERS[by] : null;
  return order ? [...groups].sort(order) : groups;
}
