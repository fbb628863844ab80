import type { Catalogue, Incompatible } from "~/core/catalogue/catalogue";
import type { Cpu } from "~/core/catalogue/common";
import { type Identity, identify } from "~/core/catalogue/identify";
import { expandedBytes, type Image, type ImageKind, imageApi, imageBytes } from "~/core/catalogue/image";
import type { Model } from "~/core/catalogue/model";
import type { Need } from "~/core/catalogue/need";
import type { FactKey } from "~/core/device/fact";
import type { CurrentFacts } from "~/core/device/lookUp";

/** Facts that tell which model a device is. */
export const IDENTITY_FACTS: readonly FactKey[] = [
  "model.number",
  "model.codename",
  "model.board",
  "model.name",
  "screen.size",
  "room.system",
  "cpu.arch",
];

/** An image with what the planner asks of it over and over worked out once. */
export interface IndexedImage {
  readonly image: Image;
  readonly api: number;
  readonly bytes: number;
  readonly expanded: number;
}

/** The catalogue arranged for planning: images by model, generic ones by CPU. */
export interface CatalogueIndex {
  readonly models: ReadonlyMap<string, Model>;
  readonly images: ReadonlyMap<string, IndexedImage>;
  readonly needs: ReadonlyMap<string, Need>;
  /** Images that may go on a model: its own and the generic ones, in catalogue order. */
  imagesFor(model: Model): readonly IndexedImage[];
  /** The same of one kind. */
  imagesOf(model: Model, kind: ImageKind): readonly IndexedImage[];
  /** Which model a device is, from its facts; worked out once for devices that show the same. */
  identify(facts: CurrentFacts): Identity;
  /** What a recovery can do, as a text: two that are alike in it are interchangeable for everything but their own cost. */
  recoveryClass(id: string): string;
  /** The known trouble between two images, if any. */
  incompatible(a: string, b: string): Incompatible | null;
}

const NONE: readonly IndexedImage[] = [];

/** @example indexCatalogue({ models: [], images: [], needs: [], incompatible: [] }).models.size // 0 */
export function indexCatalogue(
  catalogue: Pick<Catalogue, "models" | "images" | "needs" | "incompatible">,
): CatalogueIndex {
  const indexed = catalogue.images.map((image) => ({
    image,
    api: imageApi(image),
    bytes: imageBytes(image),
    expanded: expandedBytes(image),
  }));
  const generic = indexed.filter(({ image }) => image.models.length === 0);
  const own = new Map<string, IndexedImage[]>();
  for (const entry of indexed)
    for (const id of entry.image.models) {
      const list = own.get(id);
      if (list) list.push(entry);
      else own.set(id, [entry]);
    }
  const pairs = new Map<string, Incompatible>();
  for (const pair of catalogue.incompatible) {
    pairs.set(`${pair.a}\n${pair.b}`, pair);
    pairs.set(`${pair.b}\n${pair.a}`, pair);
  }
  const images = new Map(indexed.map((e) => [e.image.id, e]));
  const byKind = new Map<string, ReadonlyMap<ImageKind, readonly IndexedImage[]>>();
  const classes = new Map<string, string>();
  const cache = new Map<string, readonly IndexedImage[]>();
  const suits = (image: Image, cpu: Cpu) => image.cpu === null || image.cpu === cpu || image.kind === "gsi";
  const identities = new Map<string, Identity>();
  const last: { model: Model | null; kinds: ReadonlyMap<ImageKind, readonly IndexedImage[]> } = {
    model: null,
    kinds: new Map(),
  };
  const kindsOf = (model: Model, entries: readonly IndexedImage[]) => {
    const key = `${model.id}|${model.cpu}`;
    const kept = byKind.get(key);
    if (kept) return kept;
    const kinds = new Map<ImageKind, IndexedImage[]>();
    for (const entry of entries) {
      const list = kinds.get(entry.image.kind);
      if (list) list.push(entry);
      else kinds.set(entry.image.kind, [entry]);
    }
    byKind.set(key, kinds);
    return kinds;
  };
  return {
    identify(facts) {
      const key = IDENTITY_FACTS.map((k) => facts.get(k)?.value ?? "").join("\n");
      let identity = identities.get(key);
      if (!identity) {
        identity = identify(catalogue.models, facts);
        identities.set(key, identity);
      }
      return identity;
    },
    models: new Map(catalogue.models.map((m) => [m.id, m])),
    images,
    needs: new Map(catalogue.needs.map((n) => [n.id, n])),
    imagesFor(model) {
      // The processor may be one that was read on a device, against the record.
      const key = `${model.id}|${model.cpu}`;
      const kept = cache.get(key);
      if (kept) return kept;
      const list = [...(own.get(model.id) ?? []), ...generic.filter((e) => suits(e.image, model.cpu))];
      cache.set(key, list);
      return list;
    },
    imagesOf(model, kind) {
      // One device is planned after the other: mostly it is the model of the last question.
      if (model !== last.model) {
        last.model = model;
        last.kinds = kindsOf(model, this.imagesFor(model));
      }
      return last.kinds.get(kind) ?? NONE;
    },
    recoveryClass(id) {
      let kind = classes.get(id);
      if (kind === undefined) {
        const image = images.get(id)?.image;
        const enemies = catalogue.incompatible.flatMap((p) => (p.a === id ? [p.b] : p.b === id ? [p.a] : []));
        // A custom one is held to its version, a ROM's own to its release.
        kind = image
          ? `${image.flavour}|${image.flavour === "rom" ? image.release : image.version}|${enemies.sort().join()}`
          : id;
        classes.set(id, kind);
      }
      return kind;
    },
    incompatible: (a, b) => pairs.get(`${a}\n${b}`) ?? null,
  };
}
