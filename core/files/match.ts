import type { Image, ImageFile, ImageKind } from "~/core/catalogue/image";
import type { FileReport } from "./report";

/** What of an image a file is compared with. */
export type KnownImage = Pick<
  Image,
  | "id"
  | "kind"
  | "title"
  | "release"
  | "build"
  | "patch"
  | "models"
  | "cpu"
  | "generic"
  | "files"
  | "needs"
  | "withdrawn"
>;

/** Digests of a file; null while they are not made yet. */
export interface Digests {
  readonly sha256: string | null;
  readonly md5: string | null;
  /** Made only where a list asks for it. */
  readonly sha512?: string | null;
}

/** Which file of the catalogue a dropped one is. */
export interface Match {
  readonly image: string | null;
  readonly file: string | null;
  /**
   * `yes`: the digest says so. `no`: it says it is that file, and its digest is another. `unknown`: it looks like it, and
   * nothing is recorded to compare with; or nothing in the catalogue looks like it.
   */
  readonly is: "yes" | "no" | "unknown";
  readonly says: string;
}

const NO_MATCH: Match = { image: null, file: null, is: "unknown", says: "No image of the catalogue looks like this" };

/** Kinds of image that a kind of file can be. */
const KINDS: Partial<Record<FileReport["content"]["kind"], readonly ImageKind[]>> = {
  vbmeta: ["verification"],
  ota: ["official-update", "rom", "services", "firmware-pack"],
  factory: ["stock"],
  tar: ["stock"],
  sparse: ["gsi", "stock", "rom"],
  ext4: ["gsi", "stock", "rom"],
  erofs: ["gsi", "stock", "rom"],
  boot: ["recovery", "rom", "stock"],
};

/**
 * Finds the catalogue's file that a dropped file is: by its digest; else by what it says of itself; else by its name.
 *
 * @param codename code name of a model by its id
 * @example matchFile(report, digests, [], () => undefined).image // null …
 */
export function matchFile(
  report: FileReport,
  digests: Digests,
  images: readonly KnownImage[],
  codename: (model: string) => string | undefined,
): Match {
  const files = images.flatMap((image) => image.files.map((file) => ({ image, file })));
  const same = digests.sha256 === null ? [] : files.filter(({ file }) => file.sha256 === digests.sha256);
  if (same.length) {
    const { image, file } = same.find(({ file }) => file.name === report.name) ?? same[0];
    const others = same.length > 1 ? `, and ${same.length - 1} more with the same bytes` : "";
    return found(image, file, "yes", `Its digest is that of ${file.name} of ${image.title}${others}`);
  }
  const alike = byContent(report, files, codename) ?? byName(report, files);
  if (!alike) return NO_MATCH;
  const { image, file, why } = alike;
  if (file.sha256 === null)
    return found(image, file, "unknown", `${why}; the catalogue has no digest of it to compare with`);
  if (digests.sha256 === null) return found(image, file, "unknown", `${why}; its digest is not made yet`);
  if (!alike.sure)
    return found(
      image,
      file,
      "unknown",
      `${why}, but its bytes are another file's: another package of that build, or damaged`,
    );
  return found(
    image,
    file,
    "no",
    `${why}, but its digest is another: it is damaged, cut short or another version. Fetch it again`,
  );
}

const found = (image: KnownImage, file: ImageFile, is: Match["is"], says: string): Match => ({
  image: image.id,
  file: file.name,
  is,
  says,
});

interface Candidate {
  readonly image: KnownImage;
  readonly file: ImageFile;
}

/** `sure`: it can only be this file, so that another digest means damage or another version. */
type Alike = (Candidate & { readonly why: string; readonly sure: boolean }) | null;

function byContent(
  { told, content, name }: FileReport,
  files: readonly Candidate[],
  codename: (model: string) => string | undefined,
): Alike {
  const kinds = KINDS[content.kind];
  if (!kinds || !told.build) return null;
  const devices = new Set(told.devices);
  const fits = files.filter(
    ({ image, file }) =>
      kinds.includes(image.kind) &&
      image.build === told.build &&
      (devices.size === 0 || image.models.length === 0 || image.models.some((m) => devices.has(codename(m) ?? ""))) &&
      (file.partition === null || told.partition === null || file.partition === told.partition),
  );
  const named = fits.find(({ file }) => file.name === name);
  const best = named ?? (fits.length === 1 ? fits[0] : undefined);
  return best
    ? {
        ...best,
        why: `It says it is build ${told.build}, which is ${best.image.title}`,
        // A build comes in many packages, and in one verification file.
        sure: named !== undefined || content.kind === "vbmeta",
      }
    : null;
}

/** A name decides only where the catalogue has one file of that name: "boot.img" says nothing. */
function byName({ name }: FileReport, files: readonly Candidate[]): Alike {
  const base = name.replace(/^.*[\\/]/, "").replace(/ ?\(\d+\)(?=\.[^.]+$)/, "");
  const fits = files.filter(({ file }) => file.name.toLowerCase() === base.toLowerCase());
  return fits.length === 1
    ? { ...fits[0], why: `It is named like the file of ${fits[0].image.title}`, sure: true }
    : null;
}

/**
 * Compares a file's digests with one that was typed or copied, in any notation.
 *
 * @returns null when the text holds no digest that is made here (SHA-256 or MD5)
 * @example compareTyped("no digest", { md5: null, sha256: null, sha512: null }) // null
 */
export function compareTyped(text: string, digests: Digests): { readonly is: boolean; readonly says: string } | null {
  const find = (t: string) => /(?<![0-9a-f])([0-9a-f]{64}|[0-9a-f]{32})(?![0-9a-f])/i.exec(t)?.[1].toLowerCase();
  // Some pages write the digits in pairs with colons between them.
  const typed = find(text) ?? find(text.replaceAll(":", ""));
  if (!typed) return null;
  const kind = typed.length === 64 ? "SHA-256" : "MD5";
  const own = typed.length === 64 ? digests.sha256 : digests.md5;
  if (own === null) return { is: false, says: `The ${kind} of this file is not made yet` };
  return own === typed
    ? { is: true, says: `${kind} agrees` }
    : { is: false, says: `${kind} does not agree: the file is damaged, cut short or another version. Fetch it again` };
}
