import { useBellOn } from "./useBell";

/** Asks for a ring when one is due; on every page that says what is due. */
export function BellSwitch({ children }: { children: React.ReactNode }) {
  const [on, set] = useBellOn();
  return (
    <label className="flex items-center gap-2">
      <input type="checkbox" checked={on} onChange={(event) => set(event.target.checked)} /> {children}
    </label>
  );
}
