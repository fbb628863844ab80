import type { PackKind } from "~/core/catalogue/packs";

interface Props {
  readonly title: string;
  readonly kinds: readonly PackKind[];
  /** Only this model with the images made for it. */
  readonly model?: string;
  /** Only the entry of this id. */
  readonly only?: string;
  readonly children: string;
}

/** Saves a part of the catalogue as a pack. */
export function PackLink({ title, kinds, model, only, children }: Props) {
  const query = new URLSearchParams({ title });
  for (const kind of kinds) query.append("kind", kind);
  if (model) query.set("model", model);
  if (only) query.set("only", only);
  return (
    <a href={`/catalogue.json?${query}`} className="btn">
      {children}
    </a>
  );
}
