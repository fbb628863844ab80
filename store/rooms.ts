import { PartitionRoom } from "~/core/android/room";
import { change, type Hand, queryOne, type Store } from "./database";

const add = change<{ device: number; doc: string | null } & Hand>(`
  INSERT INTO device_room (device, doc, at, by)
  VALUES (@device, @doc, @at, @by)
`);

const newest = queryOne<{ device: number }, { doc: string | null } & Hand>(`
  SELECT doc, at, by
  FROM   device_room
  WHERE  device = @device
  ORDER  BY id DESC
  LIMIT  1
`);

/** Keeps a device's partitions as they were read. */
export function appendRoom(store: Store, device: number, room: PartitionRoom, hand: Hand) {
  add(store, { device, doc: JSON.stringify(PartitionRoom.parse(room)), ...hand });
}

/** The partitions as they were read last; null when they never were. */
export function newestRoom(store: Store, device: number): (Hand & { readonly room: PartitionRoom }) | null {
  const row = newest(store, { device });
  return row?.doc ? { room: PartitionRoom.parse(JSON.parse(row.doc)), at: row.at, by: row.by } : null;
}

/** Takes the last reading back; the one before does not stand again: it is read anew. */
export function takeRoomBack(store: Store, device: number, hand: Hand) {
  add(store, { device, doc: null, ...hand });
}
