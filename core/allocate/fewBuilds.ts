import { type Found, sumOf, WHOLE } from "./linear";
import { type Nearly, roundedUp } from "./nearly";
import { type Goal, placedBy } from "./program";
import { type Aim, scaleOf } from "./question";
import { clearOf, NEARLY, type Reach, type Turn } from "./relaxed";
import { scoresOf } from "./verdict";

/** Parts of a device by which all floors are kept clear of while builds are chosen, one after the other. */
const ROOMS = [0.25, 0.5, 0.1, 0];
/** Builds more than the fewest, where those do not do in whole numbers. */
const MORE = [0, 1, 2];
/** Part of the time that choosing builds may take, and dividing among them; seconds that it may take in any case. */
const CHOOSE = 0.5;
const DIVIDE = 0.25;
const LEAST = 0.3;
/** What counts behind builds is worth this part of what leads: of choices that are nearly as good it takes its own. */
const BEHIND = 0.01;

/**
 * Few builds: chosen first, as a yes or no each while devices need not be whole, among those that are used where builds need
 * not be whole either; then devices are divided among the chosen ones. Where those do not do in whole numbers, one or two more
 * are chosen, those with which most of what counted before is reached, and far below that of what counts behind builds: which
 * builds they are decides about that more than who gets which device.
 *
 * @source strong relaxations leave few facilities open in part: those are the ones worth choosing from; common practice, no
 * source
 */
export function fewBuilds(reach: Reach, turn: Turn): Nearly {
  const { program, seconds, beside = () => Number.POSITIVE_INFINITY } = reach;
  const { linear, goals, kinds } = program;
  const until = seconds() - turn.seconds;
  const left = () => seconds() - until;
  const bound = linear.largest(goals.builds, turn.seconds, { besides: turn.besides(0), relaxed: true })?.bound;
  if (bound === undefined) return null;
  let best: Divided | null = null;
  for (const room of ROOMS) {
    // Where the fewest is proven beside meanwhile, the aims behind it get the time.
    if (left() < LEAST || (best && best.value >= Math.min(bound, beside()))) break;
    const clear = clearOf(reach, turn, room);
    const parts = linear.largest(goals.builds, left(), { ...clear, relaxed: true });
    if (!parts) continue;
    const unused = [...kinds.keys()].filter((kind) => parts.values[kind] < WHOLE);
    const asked = { ...clear, fixed: new Map(unused.map((kind) => [kind, 0])) };
    const found = divided(reach, { ...turn, seconds: left() }, asked, best);
    if (found && found.value > (best?.value ?? Number.NEGATIVE_INFINITY)) best = found;
  }
  return best ? { ...best, bound } : { values: null, bound };
}

/** Chosen, and divided among the chosen ones; null where nothing is found that is better than what was. */
function divided(reach: Reach, turn: Turn, asked: ReturnType<typeof clearOf>, best: Divided | null): Divided | null {
  const { question, program, held, seconds } = reach;
  const { linear, goals, columns, kinds, met } = program;
  const lead = held[0] ?? "fair";
  const until = seconds() - turn.seconds;
  const part = (share: number) => Math.max(LEAST, Math.min(seconds() - until, turn.seconds * share));
  const whole = new Set([...kinds.keys(), ...met.values()]);
  const yesOrNo = (values: Found["values"]) =>
    new Map([...kinds.keys()].map((kind) => [kind, Math.round(values[kind])]));
  const fewest = linear.largest(goals.builds, part(CHOOSE), { ...asked, whole });
  if (!fewest) return null;
  const leading = leadingGoal(reach, lead, fewest);
  for (const more of MORE) {
    const most = Math.round(fewest.value) - more;
    if ((best && best.value >= most) || (more > 0 && seconds() < until)) return null;
    const besides = [...asked.besides, { terms: goals.builds, low: most }];
    const chosen = more
      ? linear.largest(leading, part(DIVIDE), {
          ...asked,
          besides,
          whole,
          start: yesOrNo(fewest.values),
          gap: NEARLY,
        })
      : fewest;
    if (!chosen) continue;
    const found = roundedUp(
      reach,
      { ...turn, seconds: part(DIVIDE) },
      { fixed: yesOrNo(chosen.values), lead, goodAt: Number.NEGATIVE_INFINITY },
    );
    if (found) return { ...found, value: scoresOf(question, placedBy(columns, found.values)).builds };
  }
  return null;
}

/** What leads, and far below it what counts behind builds; in proportion to what they come to by what was found. */
function leadingGoal({ question, program: { goals } }: Reach, lead: Aim, { values }: Found): Goal {
  const behind = question.aims[question.aims.indexOf("builds") + 1];
  if (!behind) return goals[lead];
  const worth = scaleOf(lead, sumOf(goals[lead], values)) / scaleOf(behind, sumOf(goals[behind], values));
  return [...goals[lead], ...goals[behind].map(([column, factor]) => [column, factor * BEHIND * worth] as const)];
}

type Divided = Omit<Found, "bound">;
