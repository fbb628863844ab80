import { z } from "zod";
import { IsoDate, Slug } from "~/core/catalogue/common";

/** People who wait for devices: what they need, how many, by when. */
export const WaitingGroup = z
  .strictObject({
    name: z.string().trim().min(1, "Give the group a name").max(80),
    need: Slug,
    /** Devices they asked for. */
    wanted: z.coerce.number().int().min(1, "At least 1 device").max(500),
    /** Fewer than this are of no use to them. */
    least: z.coerce.number().int().min(1, "At least 1 device").max(500),
    by: IsoDate,
    /** Twice as much counts twice as much when there is not enough for all. */
    weight: z.coerce.number().min(0.1, "From 0.1 to 10").max(10, "From 0.1 to 10").default(1),
    /** Devices beyond what they asked for that they take too, so that one that fails is made good. */
    spares: z.coerce.number().int().min(0).max(100).default(0),
    /** They would rather have devices of one model. */
    alike: z.boolean().default(false),
    contact: z.string().trim().max(120).default(""),
    note: z.string().trim().max(1000).default(""),
  })
  .refine(({ least, wanted }) => least <= wanted, {
    path: ["least"],
    message: "The least useful number can't be above what they asked for",
  });
export type WaitingGroup = z.infer<typeof WaitingGroup>;
