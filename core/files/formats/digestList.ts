import { type DigestLine, type Finding, TELLS_NOTHING } from "../report";

type Algorithm = DigestLine["algorithm"];

const BY_LENGTH: Record<number, Algorithm> = { 32: "md5", 64: "sha256", 128: "sha512" };
const LENGTHS = [32, 40, 56, 64, 96, 128];
const kindOf = (digest: string): Algorithm => BY_LENGTH[digest.length] ?? "other";

/** "SHA256", "SHA-256", OpenSSL 3's "SHA2-256": one of ours, or another. */
const named = (name: string): Algorithm =>
  (({ SHA256: "sha256", SHA2256: "sha256", SHA512: "sha512", SHA2512: "sha512", MD5: "md5" })[
    name.toUpperCase().replaceAll(/[^A-Z0-9]/g, "")
  ] as Algorithm | undefined) ?? "other";

const HEX: Record<Algorithm, number> = { sha256: 64, md5: 32, sha512: 128, other: 0 };
/** A line whose digest has not the length its name wants is damaged, not another kind. */
const fits = (algorithm: Algorithm, digest: string) =>
  algorithm === "other" ? LENGTHS.includes(digest.length) : digest.length === HEX[algorithm];

/** GNU tools put a backslash before a line whose name holds a backslash or a line break, and escape them. */
const plainName = (name: string) =>
  name.replaceAll(/\\([\\nr])/g, (_, c) => (c === "n" ? "\n" : c === "r" ? "\r" : "\\"));

/**
 * Reads one line of a digest list: digest and name, digest and `*name`, `SHA256 (name) = digest`, OpenSSL's
 * `SHA2-256(name)= digest`; or a digest alone.
 *
 * @source GNU coreutils manual, "md5sum invocation" (output mode, `--tag`); BSD `md5(1)`; OpenSSL manual, `openssl-dgst`
 * @returns null when the line is none
 */
export function readDigestLine(line: string): DigestLine | null {
  const text = line.trim();
  const tagged = /^(\\?)([A-Za-z0-9/-]{3,12})\s*\((.+)\)\s*=\s*([0-9a-fA-F]{32,128})$/.exec(text);
  if (tagged) {
    const digest = tagged[4].toLowerCase();
    const algorithm = named(tagged[2]);
    if (!fits(algorithm, digest)) return null;
    const name = tagged[1] ? plainName(tagged[3]) : tagged[3];
    return { algorithm, digest, file: name.slice(0, 400) };
  }
  const plain = /^(\\?)([0-9a-fA-F]{32,128})(?:[ \t]+\*?(.+))?$/.exec(text);
  if (!plain || !LENGTHS.includes(plain[2].length)) return null;
  const digest = plain[2].toLowerCase();
  const name = plain[3] ? (plain[1] ? plainName(plain[3]) : plain[3]).replace(/^\.\//, "").slice(0, 400) : null;
  return { algorithm: kindOf(digest), digest, file: name };
}

/**
 * What `certutil -hashfile` prints: a line that ends with a colon and names file and kind, the digest (older Windows: with blanks
 * between the bytes), and a line of its own at the end. The words around it are the system's language.
 *
 * Common practice, no source: the shape is from memory.
 */
function readCertutil(lines: readonly string[]): DigestLine[] | null {
  const found: DigestLine[] = [];
  for (let i = 0; i < lines.length; i++) {
    const head = /^(SHA-?\d{1,3}|MD5)\b(.*):$/i.exec(lines[i]);
    if (!head) {
      if (/^CertUtil:/i.test(lines[i])) continue;
      return null;
    }
    const digest = (lines[++i] ?? "").replaceAll(/\s/g, "").toLowerCase();
    const algorithm = named(head[1]);
    if (!/^[0-9a-f]+$/.test(digest) || !fits(algorithm, digest)) return null;
    // "hash of NAME", "hash of file NAME", "-Hash von NAME": the name is the last word that looks like one.
    const file = /(?:^|\s)(\S+)$/.exec(head[2].trim())?.[1] ?? null;
    found.push({ algorithm, digest, file: file?.slice(0, 400) ?? null });
  }
  return found.length ? found : null;
}

/** What PowerShell's `Get-FileHash` prints: a table under ruled heads, or `Hash : …` in a list. Common practice, no source. */
function readGetFileHash(lines: readonly string[]): DigestLine[] | null {
  const found: DigestLine[] = [];
  if (/^Algorithm\s+Hash\s+Path$/i.test(lines[0] ?? "")) {
    for (const line of lines.slice(1)) {
      if (/^[-\s]+$/.test(line)) continue;
      const row = /^([A-Za-z0-9]+)\s+([0-9A-Fa-f]{32,128})(?:\s+(.+))?$/.exec(line);
      if (!row || !fits(named(row[1]), row[2])) return null;
      // A path that the window cut short names nothing.
      const file = row[3] && !/(\.\.\.|…)$/.test(row[3]) ? row[3].slice(0, 400) : null;
      found.push({ algorithm: named(row[1]), digest: row[2].toLowerCase(), file });
    }
    return found.length ? found : null;
  }
  let now: { algorithm?: string; hash?: string; path?: string } = {};
  let last: keyof typeof now | null = null;
  const close = () => {
    const algorithm = named(now.algorithm ?? "");
    if (!now.hash || !/^[0-9a-f]+$/i.test(now.hash) || !fits(algorithm, now.hash)) return false;
    found.push({ algorithm, digest: now.hash.toLowerCase(), file: now.path?.slice(0, 400) ?? null });
    now = {};
    return true;
  };
  for (const line of lines) {
    const pair = /^(Algorithm|Hash|Path)\s*:\s*(.*)$/i.exec(line);
    if (pair) {
      const key = pair[1].toLowerCase() as keyof typeof now;
      if (key === "algorithm" && now.algorithm !== undefined && !close()) return null;
      now[key] = pair[2].trim();
      last = key;
      // A narrow window breaks the digest over two lines.
    } else if (last === "hash" && /^[0-9A-Fa-f]+$/.test(line)) now.hash += line;
    else if (last === "path") now.path += line;
    else return null;
  }
  return now.algorithm !== undefined && close() ? found : null;
}

/**
 * The text inside an OpenPGP clear-signed one; the text itself where it is none.
 *
 * @source RFC 9580, section 7, "Cleartext Signature Framework": headers up to an empty line, dash-escaped lines, then the signature
 */
function unsigned(text: string): { readonly text: string; readonly signed: boolean } {
  const found =
    /-----BEGIN PGP SIGNED MESSAGE-----\r?\n(?:[^\r\n]+\r?\n)*\r?\n([\s\S]*?)\r?\n?-----BEGIN PGP SIGNATURE-----/.exec(
      text,
    );
  return found ? { text: found[1].replaceAll(/^- /gm, ""), signed: true } : { text, signed: false };
}

/** The lines of a digest list, in any of the notations known here; null when the text has other lines too, beside comments. */
export function readDigestList(text: string): DigestLine[] | null {
  const lines = unsigned(text.replace(/^\uFEFF/, ""))
    .text.split(/\r\n|\r|\n/)
    .map((l) => l.trim())
    .filter((l) => l && !l.startsWith("#"));
  if (lines.length === 0 || lines.length > 5000) return null;
  const read = lines.map(readDigestLine);
  if (read.every((l) => l !== null)) return read as DigestLine[];
  return readCertutil(lines) ?? readGetFileHash(lines);
}

/** A text as it was written: UTF-16 where it begins with that mark (PowerShell's redirection), else UTF-8. */
export function decodeText(bytes: Uint8Array): string {
  const mark =
    bytes[0] === 0xff && bytes[1] === 0xfe ? "utf-16le" : bytes[0] === 0xfe && bytes[1] === 0xff ? "utf-16be" : "utf-8";
  return new TextDecoder(mark).decode(bytes);
}

const WORDS: Record<Algorithm, string> = {
  sha256: "SHA-256",
  sha512: "SHA-512",
  md5: "MD5",
  other: "another kind, which is not compared",
};

/** What a text is when it is a list of digests, with what each kind is compared with; null when it is none. */
export function tellDigestList(text: string): Finding | null {
  const lines = readDigestList(text);
  if (!lines) return null;
  const kinds = [...new Set(lines.map((l) => l.algorithm))];
  const { signed } = unsigned(text);
  return {
    says: `Digest list with ${lines.length} ${lines.length === 1 ? "line" : "lines"} (${kinds.map((k) => WORDS[k]).join(", ")}). The files dropped with it are compared with it.${signed ? " It is signed; the signature is not checked here." : ""}`,
    whole: { is: "unknown", says: "A text carries no digest of its own" },
    expanded: null,
    told: TELLS_NOTHING,
    content: { kind: "digest-list", lines },
  };
}
