import { Fields } from "../fields";
import { FileReadError } from "../readError";
import { type Finding, TELLS_NOTHING } from "../report";
import { readAll, type Source } from "../source";

const MAGIC = 0xd7b7ab1e;

export const isDtbo = (head: Uint8Array): boolean =>
  head.length >= 4 && new DataView(head.buffer, head.byteOffset).getUint32(0, false) === MAGIC;

/**
 * Tells a device-tree overlay image.
 *
 * @source AOSP "Device tree overlays", `dt_table_header`: big endian, total size at 4, entries at 16
 */
export async function readDtbo(source: Source): Promise<Finding> {
  const h = new Fields(await readAll(source, 0, 32, "the overlay table"), false, "the overlay table");
  const [total, entries] = [h.u32(4), h.u32(16)];
  if (entries > 10_000) throw new FileReadError("damaged", "The overlay table says impossible numbers");
  return {
    says: `Device-tree overlays (dtbo) with ${entries} ${entries === 1 ? "entry" : "entries"}. They must come from the same build as the boot image.`,
    whole:
      total <= source.size
        ? { is: "yes", says: "The file is as long as its table says" }
        : { is: "no", says: `The table says ${total} bytes, the file has ${source.size}: it was cut short` },
    expanded: null,
    told: { ...TELLS_NOTHING, partition: "dtbo" },
    content: { kind: "dtbo", entries },
  };
}
