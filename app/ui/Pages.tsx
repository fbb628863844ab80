import { useLocation } from "react-router";
import { Link } from "~/app/ui/Link";

/** Ways to the page before and the page behind of a long list; nothing where all of it is shown. */
export function Pages({ from, of, size, what }: { from: number; of: number; size: number; what: string }) {
  const { pathname, search } = useLocation();
  if (of <= size) return null;
  const to = (at: number) => {
    const query = new URLSearchParams(search);
    query.set("from", String(at));
    return `${pathname}?${query}`;
  };
  return (
    <nav aria-label={`Pages of ${what}`} className="no-print my-2 flex flex-wrap items-center gap-3">
      {from > 0 && (
        <Link to={to(from - size)} className="btn">
          Before
        </Link>
      )}
      <span>
        {what} {from + 1} to {Math.min(of, from + size)} of {of}
      </span>
      {from + size < of && (
        <Link to={to(from + size)} className="btn">
          Next
        </Link>
      )}
    </nav>
  );
}
