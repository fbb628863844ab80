import { db } from "~/app/server/http/context";
import { type CsvColumn, csvList } from "~/app/server/http/csv";
import { catalogueOf } from "~/app/server/planning/planning";
import { findImages } from "~/core/catalogue/find";
import { expandedBytes, type Image, ImageKind, imageApi, imageBytes } from "~/core/catalogue/image";
import type { Route } from "./+types/csv";

const faultText = ({ hardware, models, says }: Image["faults"][number]) =>
  `${hardware}${models.length ? ` (${models.join(", ")})` : ""}: ${says}`;

const COLUMNS: readonly CsvColumn<Image>[] = [
  ["id", (i) => i.id],
  ["kind", (i) => i.kind],
  ["title", (i) => i.title],
  ["version", (i) => i.version],
  ["android", (i) => i.release],
  ["api", imageApi],
  ["build", (i) => i.build],
  ["patch", (i) => i.patch],
  ["patched until", (i) => i.patchedUntil],
  ["released", (i) => i.released],
  ["models", (i) => i.models.join("; ")],
  ["processor", (i) => i.cpu],
  ["binder", (i) => i.generic.binder],
  ["layout", (i) => i.generic.slots],
  ["patched for vendor parts", (i) => i.generic.patching],
  ["bytes to fetch", imageBytes],
  ["bytes on the device", expandedBytes],
  ["services", (i) => i.services],
  ["integrity", (i) => i.integrity],
  ["rooted", (i) => i.rooted],
  ["faults", (i) => i.faults.map(faultText).join("; ")],
  ["withdrawn", (i) => i.withdrawn && `${i.withdrawn.on}: ${i.withdrawn.says}`],
  ["successor", (i) => i.withdrawn?.successor ?? null],
  ["files", (i) => i.files.map((f) => `${f.name}${f.sha256 ? ` sha256:${f.sha256}` : ""}`).join("; ")],
  ["source", (i) => i.source],
  ["on", (i) => i.on],
];

/** The images that a search finds; each file with its digest. */
export function loader({ request }: Route.LoaderArgs) {
  const query = new URL(request.url).searchParams;
  const kind = ImageKind.safeParse(query.get("kind")).data ?? null;
  const found = findImages(catalogueOf(db()).images, (query.get("q") ?? "").trim(), kind);
  return csvList("images.csv", COLUMNS, found);
}
