import type { DeviceEnd } from "~/core/lane/station";
import { change, type Hand, query, type Store } from "./database";

export interface DeviceEndRow extends Hand {
  readonly result: DeviceEnd | "open";
  readonly reason: string;
}

const ofDevice = query<{ device: number }, DeviceEndRow>(`
  SELECT result, reason, at, by FROM device_end WHERE device = @device ORDER BY id
`);
const insert = change<{ device: number; result: string; reason: string } & Hand>(`
  INSERT INTO device_end (device, result, reason, at, by) VALUES (@device, @result, @reason, @at, @by)
`);

/** Where a device went that goes no further, oldest first; "open" took the one before back. */
export const deviceEnds = (store: Store, device: number) => ofDevice(store, { device });

export function appendDeviceEnd(
  store: Store,
  device: number,
  end: { readonly result: DeviceEnd | "open"; readonly reason: string },
  hand: Hand,
) {
  insert(store, { device, ...end, ...hand });
}
