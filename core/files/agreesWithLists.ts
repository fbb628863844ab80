import type { Digests } from "./match";
import type { DigestLine } from "./report";

const baseName = (path: string) => path.replace(/^.*[\\/]/, "").toLowerCase();

/** What digest lists say of a file; "both" where lines for the same path say different things, and one of them agrees. */
export type ListsSay = "agrees" | "other" | "both" | null;

/**
 * Whether digest lists agree with a file.
 *
 * Files of one name in different folders of a list are different files: a line that agrees is enough for them.
 *
 * @param lines lines of all lists that were dropped; a line without a name counts where it is the only one
 * @returns "other" where lines name it and none agrees, null where none names it or its digest is not made yet
 * @example agreesWithLists("boot.img", { md5: null, sha256: null, sha512: null }, []) // null
 */
export function agreesWithLists(name: string, digests: Digests, lines: readonly DigestLine[]): ListsSay {
  const compared = lines.filter((l) => own(l, digests) !== null);
  const agreeing = compared.filter((l) => own(l, digests) === l.digest);
  const others = compared.filter((l) => l.file !== null && own(l, digests) !== l.digest);
  if (agreeing.length === 0) return others.some((l) => baseName(l.file ?? "") === baseName(name)) ? "other" : null;
  const paths = new Set(agreeing.map((l) => l.file && wholePath(l.file)));
  return others.some((l) => paths.has(wholePath(l.file ?? ""))) ? "both" : "agrees";
}

const wholePath = (path: string) =>
  path
    .replaceAll("\\", "/")
    .replace(/^(\.?\/)+/, "")
    .toLowerCase();

const own = (line: DigestLine, digests: Digests) =>
  line.algorithm === "other" ? null : (digests[line.algorithm] ?? null);

/**
 * A digest list that `sha256sum -c` accepts.
 *
 * @param entries digest and path with forward slashes
 * @source GNU coreutils manual, "sha2 utilities": a name with a backslash or line break is escaped, its line begins with `\`
 * @example writeDigestList([{ sha256: "ab", path: "boot.img" }]) // "ab  boot.img\n"
 */
export function writeDigestList(entries: readonly { readonly sha256: string; readonly path: string }[]): string {
  return entries
    .map(({ sha256, path }) => {
      const escaped = path.replaceAll("\\", "\\\\").replaceAll("\n", "\\n").replaceAll("\r", "\\r");
      return `${escaped === path ? "" : "\\"}${sha256}  ${escaped}\n`;
    })
    .join("");
}
