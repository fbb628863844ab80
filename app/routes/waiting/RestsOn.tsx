import { Link } from "~/app/ui/Link";
import { Notice } from "~/app/ui/Notice";

/** Caution beside odds that rest on what nobody wrote down, or on what is over. */
export function RestsOn({ says }: { readonly says: readonly string[] }) {
  if (says.length === 0) return null;
  return (
    <Notice kind="caution">
      {says.join(". ")}. <Link to="/division">Divide again</Link>, or{" "}
      <Link to="/timetable">work the timetable out</Link>.
    </Notice>
  );
}
