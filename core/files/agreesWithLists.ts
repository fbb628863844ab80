import type { Digests } from "./match";
import type { DigestLine } from "./report";

const baseName = (path: string) => path.replace(/^.*[\\/]/, "").toLowerCase();

/**
 * Whether digest lists agree with a file.
 *
 * @param lines lines of all lists that were dropped; a line without a name counts where it is the only one
 * @returns true where a line agrees, false where lines name it and none agrees, null where none names it or its digest is not made yet
 * @example agreesWithLists("boot.img", { md5: null, sha256: null, sha512: null }, []) // null
 */
export function agreesWithLists(name: string, digests: Digests, lines: readonly DigestLine[]): boolean | null {
  if (lines.some((l) => own(l, digests) === l.digest)) return true;
  const named = lines.filter((l) => l.file !== null && baseName(l.file) === baseName(name));
  const compared = named.filter((l) => own(l, digests) !== null);
  return compared.length ? false : null;
}

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
