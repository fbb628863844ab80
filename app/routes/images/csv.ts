import { db } from "~/app/server/context";
import { csvDownload } from "~/app/server/csv";
import { catalogueOf } from "~/app/server/planning";
import { findImages } from "~/core/catalogue/find";
import { expandedBytes, ImageKind, imageApi, imageBytes } from "~/core/catalogue/image";
import type { Route } from "./+types/csv";

const HEADER = [
  "id",
  "kind",
  "title",
  "version",
  "android",
  "api",
  "build",
  "patch",
  "patched until",
  "released",
  "models",
  "processor",
  "bytes to fetch",
  "bytes on the device",
  "services",
  "integrity",
  "rooted",
  "faults",
  "withdrawn",
  "successor",
  "files",
  "source",
  "on",
];

/** The images that a search finds, one a row; each file with its digest. */
export function loader({ request }: Route.LoaderArgs) {
  const query = new URL(request.url).searchParams;
  const kind = ImageKind.safeParse(query.get("kind")).data ?? null;
  const rows = findImages(catalogueOf(db()).images, (query.get("q") ?? "").trim(), kind).map((i) => [
    i.id,
    i.kind,
    i.title,
    i.version,
    i.release,
    imageApi(i),
    i.build,
    i.patch,
    i.patchedUntil,
    i.released,
    i.models.join("; "),
    i.cpu,
    imageBytes(i),
    expandedBytes(i),
    i.services,
    i.integrity,
    i.rooted,
    i.faults.map((f) => `${f.hardware}${f.models.length ? ` (${f.models.join(", ")})` : ""}: ${f.says}`).join("; "),
    i.withdrawn ? `${i.withdrawn.on}: ${i.withdrawn.says}` : null,
    i.withdrawn?.successor ?? null,
    i.files.map((f) => `${f.name}${f.sha256 ? ` sha256:${f.sha256}` : ""}`).join("; "),
    i.source,
    i.on,
  ]);
  return csvDownload("images.csv", HEADER, rows);
}
