import { CircleCheck, CircleHelp, CircleX } from "lucide-react";

/** The three answers of a check: a shape, a word and a colour. */
export const HOLDS_LOOK = {
  yes: { word: "right", text: "text-lane-deep", wash: "bg-lane-wash", Icon: CircleCheck },
  no: { word: "wrong", text: "text-stop", wash: "bg-stop-wash", Icon: CircleX },
  unknown: { word: "can't tell", text: "text-check", wash: "bg-check-wash", Icon: CircleHelp },
} as const;

export type Holds = keyof typeof HOLDS_LOOK;

export function HoldMark({ is, word }: { is: Holds; word?: string }) {
  const { text, wash, Icon, word: own } = HOLDS_LOOK[is];
  return (
    <span
      className={`inline-flex items-center gap-1 rounded-full px-2 py-0.5 text-sm font-bold whitespace-nowrap ${text} ${wash}`}
    >
      <Icon size={15} aria-hidden="true" />
      {word ?? own}
    </span>
  );
}
