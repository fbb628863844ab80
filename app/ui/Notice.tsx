import { CircleAlert, CircleCheck, TriangleAlert } from "lucide-react";
import { useEffect, useRef } from "react";
import { useLocation } from "react-router";

/**
 * A message that stands where it matters: what went wrong, what to do; or that it worked; or a caution. What went wrong is
 * brought into sight: a form far down a page stays where it was when it is refused.
 */
export function Notice({ kind, children }: { kind: "wrong" | "done" | "caution"; children: React.ReactNode }) {
  const box = useRef<HTMLDivElement>(null);
  // Each try has a key of its own, so that a second refusal in the same words is brought into sight again.
  const { key } = useLocation();
  // biome-ignore lint/correctness/useExhaustiveDependencies: the key says that there was another try.
  useEffect(() => {
    const above = kind === "wrong" && (box.current?.getBoundingClientRect().top ?? 0) < 0;
    if (above) box.current?.scrollIntoView({ block: "nearest" });
  }, [kind, key]);
  const look = {
    wrong: {
      box: "border-stop bg-stop-wash",
      icon: <CircleAlert className="shrink-0 text-stop" size={20} aria-hidden="true" />,
    },
    done: {
      box: "border-lane bg-lane-wash",
      icon: <CircleCheck className="shrink-0 text-lane" size={20} aria-hidden="true" />,
    },
    caution: {
      box: "border-signal bg-signal-wash",
      icon: <TriangleAlert className="shrink-0 text-signal" size={20} aria-hidden="true" />,
    },
  }[kind];
  return (
    <div
      ref={box}
      role={kind === "wrong" ? "alert" : "status"}
      className={`my-3 flex scroll-my-4 gap-2 rounded-md border-l-4 px-3 py-2 ${look.box}`}
    >
      {look.icon}
      <div>{children}</div>
    </div>
  );
}
