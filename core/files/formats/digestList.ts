import { type DigestLine, type Finding, TELLS_NOTHING } from "../report";

const KIND: Record<number, DigestLine["algorithm"]> = { 32: "md5", 64: "sha256" };
const kindOf = (digest: string) => KIND[digest.length] ?? "other";

/** GNU tools put a backslash before a line whose name holds a backslash or a line break, and escape them. */
const plainName = (name: string) =>
  name.replaceAll(/\\([\\nr])/g, (_, c) => (c === "n" ? "\n" : c === "r" ? "\r" : "\\"));

/**
 * Reads one line of a digest list, in any of three notations: digest and name, digest and `*name`, or `SHA256 (name) = digest`;
 * or a digest alone.
 *
 * @source GNU coreutils manual, "md5sum invocation" (output mode, `--tag`); BSD `md5(1)`
 * @returns null when the line is none
 */
export function readDigestLine(line: string): DigestLine | null {
  const text = line.trim();
  const tagged = /^(\\?)([A-Za-z0-9/-]{3,12})\s*\((.+)\)\s*=\s*([0-9a-fA-F]{32,128})$/.exec(text);
  if (tagged) {
    const digest = tagged[4].toLowerCase();
    const algorithm = { SHA256: "sha256", "SHA-256": "sha256", MD5: "md5" }[tagged[2].toUpperCase()] as
      | DigestLine["algorithm"]
      | undefined;
    const name = tagged[1] ? plainName(tagged[3]) : tagged[3];
    return { algorithm: algorithm ?? "other", digest, file: name.slice(0, 400) };
  }
  const plain = /^(\\?)([0-9a-fA-F]{32,128})(?:[ \t]+\*?(.+))?$/.exec(text);
  if (!plain || ![32, 40, 56, 64, 96, 128].includes(plain[2].length)) return null;
  const digest = plain[2].toLowerCase();
  const name = plain[3] ? (plain[1] ? plainName(plain[3]) : plain[3]).replace(/^\.\//, "").slice(0, 400) : null;
  return { algorithm: kindOf(digest), digest, file: name };
}

/** The lines of a digest list; null when the text has other lines too, beside comments. */
export function readDigestList(text: string): DigestLine[] | null {
  const lines = text
    .replace(/^\uFEFF/, "")
    .split(/\r\n|\r|\n/)
    .map((l) => l.trim())
    .filter((l) => l && !l.startsWith("#"));
  if (lines.length === 0 || lines.length > 5000) return null;
  const read = lines.map(readDigestLine);
  return read.every((l) => l !== null) ? (read as DigestLine[]) : null;
}

export function tellDigestList(text: string): Finding | null {
  const lines = readDigestList(text);
  if (!lines) return null;
  const kinds = [...new Set(lines.map((l) => l.algorithm))];
  return {
    says: `Digest list with ${lines.length} ${lines.length === 1 ? "line" : "lines"} (${kinds.map((k) => ({ sha256: "SHA-256", md5: "MD5", other: "another kind" })[k]).join(", ")}). The files dropped with it are compared with it.`,
    whole: { is: "unknown", says: "A text carries no digest of its own" },
    expanded: null,
    told: TELLS_NOTHING,
    content: { kind: "digest-list", lines },
  };
}
