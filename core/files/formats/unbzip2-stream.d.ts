/** The part of the package that works on bytes in memory; it ships without types. */
declare module "unbzip2-stream/lib/bzip2.js" {
  type Bits = (count: number) => number;
  const bzip2: {
    array(bytes: Uint8Array): Bits;
    /** Reads the file header; returns the block size in units of 100,000 bytes. */
    header(bits: Bits): number;
    /** Unpacks one block; returns the running checksum, or null after the last. */
    decompress(
      bits: Bits,
      put: (byte: number) => void,
      block: Int32Array,
      blockSize: number,
      crc: number | null,
    ): number | null;
  };
  export default bzip2;
}
