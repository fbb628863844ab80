import { type Image, KIND_WORDS } from "./image";
import type { Model } from "./model";

/** Whether every word of a search stands somewhere in the texts. */
function hasWords(texts: readonly (string | null)[], search: string): boolean {
  const all = texts.join(" ").toLowerCase();
  return search
    .toLowerCase()
    .split(/\s+/)
    .every((word) => all.includes(word));
}

/**
 * Models by any name or number they go by; all of them for an empty search.
 *
 * @example findModels([], "lumen") // []
 */
export const findModels = (models: readonly Model[], search: string): Model[] =>
  models.filter((m) => hasWords([m.id, m.maker, ...m.names, ...m.modelNumbers, m.codename, m.board, m.form], search));

/**
 * Images by title, id, kind, build, release, model or file name, and of one kind where one is given.
 *
 * @example findImages([], "tallgrass", "rom") // []
 */
export const findImages = (images: readonly Image[], search: string, kind: Image["kind"] | null = null): Image[] =>
  images.filter(
    (i) =>
      (kind === null || i.kind === kind) &&
      hasWords(
        [i.id, i.title, i.version, KIND_WORDS[i.kind], i.release, i.build, ...i.models, ...i.files.map((f) => f.name)],
        search,
      ),
  );
