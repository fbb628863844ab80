import { gunzipSync } from "node:zlib";
import { packed } from "./packed";

const PAGE = new TextEncoder().encode("<p>Thirty phones, one box.</p>".repeat(200));

/** RFC 9110, 12.5.3: what a header asks for, and what may be sent for it. */
test.each([
  ["gzip, deflate, br", "gzip"],
  ["deflate, GZIP", "gzip"],
  ["br;q=1, gzip;q=0.5", "gzip"],
  ["*", "gzip"],
  ["identity", null],
  ["deflate, zstd, br", null],
  ["gzip;q=0, br", null],
  ["*;q=0", null],
  ["", null],
  [null, null],
])("asked for %j, a page is sent as %j", (asked, encoding) => {
  const sent = packed(PAGE, asked);
  expect(sent.encoding).toBe(encoding);
  expect(Buffer.from(encoding ? gunzipSync(sent.bytes) : sent.bytes).equals(Buffer.from(PAGE))).toBe(true);
  if (encoding) expect(sent.bytes.length).toBeLessThan(PAGE.length / 4);
});

test("a page of a few lines is sent as it is", () => {
  expect(packed(PAGE.slice(0, 500), "gzip, br").encoding).toBeNull();
});

test.each([";;;,q=", "gzip;q=abc", "\u0000", "a".repeat(10_000)])(
  "a header that nobody would send does not break a page: %j",
  (asked) => {
    const { bytes, encoding } = packed(PAGE, asked);
    expect(Buffer.from(encoding ? gunzipSync(bytes) : bytes).equals(Buffer.from(PAGE))).toBe(true);
  },
);
