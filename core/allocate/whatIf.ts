import type { Division } from "./divide";
import type { BenchTime, Candidate, Question } from "./question";
import type { Share } from "./verdict";

/** What another situation would come to, beside the one that is. */
export type WhatIf = {
  readonly code: "all-clear" | "more-hands" | "all-shown" | "more-places" | "more-devices";
  readonly name: string;
  readonly shares: readonly Share[];
  /** Groups whose least number is met then, and is not now. */
  readonly gained: readonly string[];
  /** Devices ready on their day, of all groups together, beyond what there is now. */
  readonly more: number;
};

/** Devices that "some more of them" are. */
const MORE = 5;

/**
 * What it would take: the same question with one shortage lifted at a time. What lifts nothing is not what is short.
 *
 * @param solve divides another question; shorter than the first one, for it only tells which shortage binds
 * @example whatIfs(question, now, solve).map(({ code }) => code) // ["all-clear", …]
 */
export function whatIfs(question: Question, now: Division, solve: (question: Question) => Division): WhatIf[] {
  const best = mostUseful(question);
  const situations: { code: WhatIf["code"]; name: string; question: Question | null }[] = [
    { code: "all-clear", name: "every account lock were settled today", question: cleared(question) },
    {
      code: "more-hands",
      name: "the bench had all the hands it wants",
      question: lifted(question, ({ of }) => of !== "places"),
    },
    {
      code: "all-shown",
      name: "everybody who comes were shown every way",
      question: lifted(question, ({ skills }) => skills !== undefined),
    },
    {
      code: "more-places",
      name: "the bench had all the places it wants",
      question: lifted(question, ({ of }) => of === "places"),
    },
    {
      code: "more-devices",
      name: `${MORE} more devices came like ${best?.device ?? "the best"}`,
      question: best && {
        ...question,
        candidates: [
          ...question.candidates,
          ...Array.from({ length: MORE }, (_, k): Candidate => ({ device: `more ${k + 1}`, options: best.options })),
        ],
      },
    },
  ];
  const ready = (shares: readonly Share[]) => shares.reduce((sum, { expected }) => sum + expected, 0);
  return situations.flatMap(({ code, name, question: other }) => {
    if (!other) return [];
    const { shares } = solve(other);
    const gained = shares.filter(({ met }, k) => met && !now.shares[k].met).map(({ group }) => group);
    return [{ code, name, shares, gained, more: ready(shares) - ready(now.shares) }];
  });
}

/** As if there were as much of these of the bench's times as is needed; null: nothing waits for them. */
function lifted(question: Question, isLifted: (time: BenchTime) => boolean): Question | null {
  const bench = question.bench.filter((time) => !isLifted(time));
  return bench.length < question.bench.length ? { ...question, bench } : null;
}

/** Every device as likely as the likeliest of its own kind: nobody is waited for. */
function cleared(question: Question): Question | null {
  const best = new Map<string, number>();
  const keyOf = (option: Candidate["options"][number]) => `${option.group}|${option.way}|${option.build}`;
  for (const { options } of question.candidates)
    for (const option of options) best.set(keyOf(option), Math.max(best.get(keyOf(option)) ?? 0, option.chance));
  let lifted = false;
  const candidates = question.candidates.map(({ device, options }) => ({
    device,
    options: options.map((option) => {
      const chance = best.get(keyOf(option)) as number;
      lifted ||= chance > option.chance;
      return { ...option, chance };
    }),
  }));
  return lifted ? { ...question, candidates } : null;
}

/** The device that may go to the most groups, with the best chance. */
function mostUseful({ candidates }: Question): Candidate | null {
  const worth = ({ options }: Candidate) =>
    new Set(options.map(({ group }) => group)).size + Math.max(0, ...options.map(({ chance }) => chance));
  return candidates.reduce<Candidate | null>((best, each) => (best && worth(best) >= worth(each) ? best : each), null);
}
