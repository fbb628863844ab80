import { CircleAlert, CircleCheck, TriangleAlert } from "lucide-react";

/** A message that stands where it matters: what went wrong, what to do; or that it worked; or a caution. */
export function Notice({ kind, children }: { kind: "wrong" | "done" | "caution"; children: React.ReactNode }) {
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
      role={kind === "wrong" ? "alert" : "status"}
      className={`my-3 flex gap-2 rounded-md border-l-4 px-3 py-2 ${look.box}`}
    >
      {look.icon}
      <div>{children}</div>
    </div>
  );
}
