import fc from "fast-check";

const codePoint = fc.oneof(fc.integer({ min: 0, max: 0xd7ff }), fc.integer({ min: 0xe000, max: 0x10ffff }));

/** Text of any characters whatever. The package's own binary unit makes a table of all of them first, which takes a second. */
export const anyText = (maxLength: number) =>
  fc.array(codePoint, { maxLength }).map((points) => String.fromCodePoint(...points));
