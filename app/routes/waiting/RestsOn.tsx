import { Link } from "~/app/ui/Link";
import { Notice } from "~/app/ui/Notice";

/** Caution beside odds that rest on what nobody wrote down. */
export function RestsOn({ enough }: { readonly enough: readonly string[] }) {
  if (enough.length === 0) return null;
  return (
    <Notice kind="caution">
      {enough.join(". ")}, and <Link to="/division">divide again</Link>.
    </Notice>
  );
}
