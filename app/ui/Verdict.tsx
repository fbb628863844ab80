import type { Verdict } from "~/core/upgrade/plan";

interface Look {
  readonly word: string;
  readonly text: string;
  readonly wash: string;
  readonly shape: React.ReactNode;
}

/** Every verdict is a shape, a word and a colour; the same everywhere. */
export const VERDICTS: Record<Verdict, Look> = {
  "can-go": {
    word: "Can go",
    text: "text-lane-deep",
    wash: "bg-lane-wash",
    shape: <path d="M8 2 14.5 13.5H1.5Z" fill="currentColor" />,
  },
  "good-enough": {
    word: "Good as it is",
    text: "text-lane-deep",
    wash: "bg-sheet border border-rule",
    shape: <circle cx="8" cy="8" r="5.5" fill="none" stroke="currentColor" strokeWidth="3" />,
  },
  "check-first": {
    word: "Check first",
    text: "text-check",
    wash: "bg-check-wash",
    shape: <path d="M8 1.5 14.5 8 8 14.5 1.5 8Z" fill="currentColor" />,
  },
  waiting: {
    word: "Waiting",
    text: "text-wait",
    wash: "bg-wait-wash",
    shape: (
      <>
        <circle cx="8" cy="8" r="6" fill="none" stroke="currentColor" strokeWidth="2" />
        <path d="M8 2a6 6 0 0 1 0 12Z" fill="currentColor" />
      </>
    ),
  },
  "not-this-way": {
    word: "Not this way",
    text: "text-stop",
    wash: "bg-stop-wash",
    shape: <path d="M2 2H14V14H2ZM4 7V9H12V7Z" fill="currentColor" fillRule="evenodd" />,
  },
};

export function VerdictMark({ verdict, count }: { verdict: Verdict; count?: number }) {
  const look = VERDICTS[verdict];
  return (
    <span
      className={`inline-flex items-center gap-1.5 rounded-full px-2 py-0.5 text-sm font-bold whitespace-nowrap ${look.text} ${look.wash}`}
    >
      <svg width="14" height="14" viewBox="0 0 16 16" aria-hidden="true">
        {look.shape}
      </svg>
      {count === undefined ? look.word : `${count} ${look.word.toLowerCase()}`}
    </span>
  );
}
