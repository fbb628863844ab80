import { Link } from "~/app/ui/Link";
import type { Section } from "~/core/catalogue/sections";

/** The parts of an entry, each with its own form. */
export function EditLinks({ base, sections }: { base: string; sections: readonly Section[] }) {
  return (
    <p className="no-print mt-1 flex flex-wrap gap-2">
      <span className="hint self-center">Change:</span>
      {sections.map((s) => (
        <Link key={s.id} to={`${base}/${s.id}`} className="btn px-2 py-0.5 text-sm">
          {s.title}
        </Link>
      ))}
    </p>
  );
}
