import { repairImei } from "~/core/device/repairImei";
import type { Store } from "~/store/database";
import { lineOfDevice } from "~/store/imports";

/** What a list had where an IMEI belongs, and that tells no device from another: a remark, never a number. */
export interface ListedImei {
  readonly text: string;
  /** Why it is none; null where it only says that nobody knew. */
  readonly says: string | null;
  /** Line of the list. */
  readonly line: number;
}

/** The remark that the list of a device leaves on it; null where it had nothing there, or a right number. */
export function listedImei(store: Store, device: number): ListedImei | null {
  const row = lineOfDevice(store, device);
  const text = row?.cells[row.mapping.indexOf("imei")]?.trim() ?? "";
  if (!row || text === "") return null;
  const read = repairImei(text);
  if (read.is === "imei") return null;
  return { text: text.slice(0, 60), says: read.is === "nothing" ? null : read.says, line: row.line };
}
