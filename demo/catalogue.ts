import { createHash } from "node:crypto";
import fs from "node:fs";
import path from "node:path";
import { type Catalogue, checkReferences, type Pack, readPack } from "~/core/catalogue/catalogue";
import type { Image } from "~/core/catalogue/image";
import { standInBytes } from "~/core/files/standIn";

/** Folder of the scenario's data files; the project's root is where the commands are run. */
export const DEMO_DATA = path.resolve("demo/data");

/**
 * The demo catalogue, with the digests of its stand-in files filled in.
 *
 * @throws Error when the data file breaks the schema, with each place
 */
export function demoCatalogue(): Pack {
  const read = readPack(fs.readFileSync(path.join(DEMO_DATA, "catalogue.json"), "utf8"));
  const problems = read.ok ? checkReferences(read.pack) : read.problems;
  if (!read.ok || problems.length) throw new Error(problems.map((p) => `${p.at}: ${p.says}`).join("\n"));
  const codename = codenames(read.pack);
  return { ...read.pack, images: read.pack.images.map((image) => withDigests(image, codename)) };
}

/** The line behind a tar. */
export const md5Hex = (bytes: Uint8Array) => createHash("md5").update(bytes).digest("hex");

type Codename = (model: string) => string | undefined;

export function codenames(catalogue: Pick<Catalogue, "models">): Codename {
  const byId = new Map(catalogue.models.map((m) => [m.id, m.codename]));
  return (id) => byId.get(id);
}

function withDigests(image: Image, codename: Codename): Image {
  return {
    ...image,
    files: image.files.map((file) => ({
      ...file,
      sha256: createHash("sha256")
        .update(standInBytes(image, file.name, codename, md5Hex))
        .digest("hex"),
    })),
  };
}

/**
 * Writes the stand-in files of all images: one folder per image.
 *
 * @returns number of files written
 */
export function writeStandIns(catalogue: Catalogue, folder: string): number {
  const codename = codenames(catalogue);
  let count = 0;
  for (const image of catalogue.images) {
    fs.mkdirSync(path.join(folder, image.id), { recursive: true });
    for (const file of image.files) {
      fs.writeFileSync(path.join(folder, image.id, file.name), standInBytes(image, file.name, codename, md5Hex));
      count++;
    }
  }
  return count;
}
