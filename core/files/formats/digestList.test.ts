import { agreesWithLists } from "../agreesWithLists";
import { digestsOf } from "../digest";
import { bytesSource } from "../source";
import { decodeText, readDigestLine, readDigestList } from "./digestList";

describe("lists of digests", () => {
  const sum = "ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad";
  test.each([
    [`${sum}  abc.img`, { algorithm: "sha256", digest: sum, file: "abc.img" }],
    [`${sum} *my file.img`, { algorithm: "sha256", digest: sum, file: "my file.img" }],
    [`SHA256 (abc.img) = ${sum}`, { algorithm: "sha256", digest: sum, file: "abc.img" }],
    ["MD5 (a (b).img) = 900150983CD24FB0D6963F7D28E17F72", { algorithm: "md5", file: "a (b).img" }],
    ["900150983cd24fb0d6963f7d28e17f72  ./abc.img", { algorithm: "md5", file: "abc.img" }],
    ["a9993e364706816aba3e25717850c26c9cd0d89d  abc.img", { algorithm: "other" }],
    [`\\${sum}  a\\nb`, { file: "a\nb" }],
    [sum, { algorithm: "sha256", file: null }],
  ])("%s", (line, found) => expect(readDigestLine(line)).toMatchObject(found));

  // FIPS 180-4's own example "abc".
  const long =
    "ddaf35a193617abacc417349ae20413112e6fa4e89a97ea20a9eeee64b55d39a2192992a274fc1a836ba3c23a3feebbd454d4423643ce80e2a9ac94fa54ca49f";
  test.each([
    [`SHA2-256(abc.img)= ${sum}`, { algorithm: "sha256", digest: sum, file: "abc.img" }],
    [`SHA512(abc.img)= ${long}`, { algorithm: "sha512", digest: long, file: "abc.img" }],
    [`SHA2-512(a (b).img)= ${long}`, { algorithm: "sha512", file: "a (b).img" }],
    [`${long}  abc.img`, { algorithm: "sha512", digest: long, file: "abc.img" }],
    ["SHA1(abc.img)= a9993e364706816aba3e25717850c26c9cd0d89d", { algorithm: "other" }],
  ])("%s", (line, found) => expect(readDigestLine(line)).toMatchObject(found));

  // Shapes from memory: common practice, no source.
  test.each([
    [
      "certutil",
      `SHA256 hash of abc.img:\r\n${sum}\r\nCertUtil: -hashfile command completed successfully.\r\n`,
      "abc.img",
    ],
    [
      "certutil of an older Windows",
      `SHA256 hash of file abc.img:\n${sum.replace(/../g, "$& ")}\nCertUtil: done\n`,
      "abc.img",
    ],
    [
      "certutil in German",
      `SHA256-Hash von abc.img:\n${sum}\nCertUtil: -hashfile-Befehl wurde erfolgreich ausgeführt.\n`,
      "abc.img",
    ],
    [
      "Get-FileHash",
      `\r\nAlgorithm       Hash                 Path\r\n---------       ----                 ----\r\nSHA256          ${sum.toUpperCase()}       C:\\Users\\a b\\abc.img\r\n\r\n`,
      "C:\\Users\\a b\\abc.img",
    ],
    [
      "Get-FileHash, its path cut short",
      `Algorithm Hash Path\n--------- ---- ----\nSHA256 ${sum} C:\\Users\\som...\n`,
      null,
    ],
    [
      "Get-FileHash as a list, its digest broken",
      `Algorithm : SHA256\nHash      : ${sum.slice(0, 40)}\n            ${sum.slice(40)}\nPath      : C:\\abc.img\n`,
      "C:\\abc.img",
    ],
    [
      "signed",
      `-----BEGIN PGP SIGNED MESSAGE-----\nHash: SHA512\n\n${sum}  abc.img\n-----BEGIN PGP SIGNATURE-----\n\niQEz\n=abcd\n-----END PGP SIGNATURE-----\n`,
      "abc.img",
    ],
  ])("%s", (_what, text, file) => {
    expect(readDigestList(text)).toEqual([{ algorithm: "sha256", digest: sum, file }]);
  });

  test("a digest of another length than its name wants is no line; a redirected text is UTF-16", () => {
    expect(readDigestList(`SHA256 (abc.img) = ${sum.slice(0, 60)}`)).toBeNull();
    expect(readDigestList(`SHA512(abc.img)= ${sum}`)).toBeNull();
    expect(readDigestList(`SHA256 hash of abc.img:\n${sum.slice(2)}\n`)).toBeNull();
    const wide = Buffer.concat([Buffer.from([0xff, 0xfe]), Buffer.from(`${sum}  abc.img\r\n`, "utf16le")]);
    expect(readDigestList(decodeText(wide))).toEqual([{ algorithm: "sha256", digest: sum, file: "abc.img" }]);
  });

  test("SHA-512 is compared where it was made, and says nothing where it was not", async () => {
    const made = await digestsOf(bytesSource("abc.img", new TextEncoder().encode("abc")), { sha512: true });
    expect(made.sha512).toBe(long);
    const [line] = readDigestList(`${long}  abc.img`) ?? [];
    expect(agreesWithLists("abc.img", made, [line])).toBe("agrees");
    expect(agreesWithLists("abc.img", { ...made, sha512: "0".repeat(128) }, [line])).toBe("other");
    expect(agreesWithLists("abc.img", { sha256: sum, md5: null }, [line])).toBeNull();
  });

  test("a text with other lines is none", () => {
    expect(readDigestList(`# sums\n${sum}  a\n\n`)).toHaveLength(1);
    expect(readDigestList(`${sum}  a\nread me first\n`)).toBeNull();
    expect(readDigestLine("deadbeef  a")).toBeNull();
  });
});

// Vectors: FIPS 180-4 examples ("abc", two blocks) and RFC 1321, section A.5.
