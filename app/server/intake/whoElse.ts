import type { Earlier } from "~/core/lists/deviceList";
import type { Store } from "~/store/database";
import type { Standing } from "~/store/devices";
import { earlierByImei, earlierBySerial } from "~/store/imports";

/** Numbers as they are given to a device; null or not there: none is given. */
export interface GivenNumbers {
  readonly serial?: string | null;
  readonly imei?: string | null;
}

const NAMES = { serial: "serial number", imei: "IMEI" } as const;

/** What other device a number belongs to: one that is here is a mistake, one that has left makes this one a returning device. */
export type WhoElse =
  | { readonly is: "nobody" }
  | { readonly is: "here"; readonly which: keyof GivenNumbers; readonly says: string }
  | { readonly is: "left"; readonly earlier: Earlier };

/**
 * Looks for another device with one of the numbers, wherever they come from: scan, form or read-out. Rows of a list are judged
 * together, in `core/lists`.
 *
 * @param self the device they are given to, where it is here already
 */
export function whoElseHas(store: Store, given: GivenNumbers, self: Pick<Standing, "id"> | null): WhoElse {
  let left: Earlier | null = null;
  for (const which of ["serial", "imei"] as const) {
    const number = given[which];
    if (!number) continue;
    const earlier = which === "imei" ? earlierByImei(store, number) : earlierBySerial(store, number);
    if (!earlier || earlier.device === self?.id) continue;
    if (!earlier.left)
      return {
        is: "here",
        which,
        says: `This ${NAMES[which]} belongs to ${earlier.tag}, which is here: look at its label before you go on`,
      };
    left ??= earlier;
  }
  return left ? { is: "left", earlier: left } : { is: "nobody" };
}
