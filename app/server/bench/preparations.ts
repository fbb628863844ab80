import { z } from "zod";
import { placedDevices } from "~/app/server/planning/lane";
import { indexOf } from "~/app/server/planning/planning";
import { type DeviceToPrepare, type FilePlace, type Preparation, prepareFiles } from "~/core/runbook/preparation";
import type { Store } from "~/store/database";
import { acceptedWay, listBatches } from "~/store/devices";

/** What a preparation list is asked for. */
export const PrepareAsk = z.object({
  batch: z.string().catch(""),
  /** Devices with an accepted way only, or also those with a proposed one. */
  which: z.enum(["accepted", "all"]).catch("accepted"),
  place: z.enum(["computer", "stick", "card"]).catch("computer") satisfies z.ZodType<FilePlace>,
});
export type PrepareAsk = z.infer<typeof PrepareAsk>;

/** Reads what is asked for from an address; the first batch where none is named. */
export function readPrepareAsk(store: Store, request: Request): PrepareAsk & { readonly title: string } {
  const ask = PrepareAsk.parse(Object.fromEntries(new URL(request.url).searchParams));
  const batches = listBatches(store);
  const batch = batches.find((b) => b.id === ask.batch) ?? (ask.batch ? undefined : batches[0]);
  return { ...ask, batch: batch?.id ?? ask.batch, title: batch?.title ?? ask.batch };
}

/** The files of a batch's ways that are not done yet. */
export function preparationOf(store: Store, ask: PrepareAsk): Preparation & { readonly devices: number } {
  const index = indexOf(store);
  const devices = placedDevices(store, ask.batch).flatMap((d): DeviceToPrepare[] => {
    const accepted = acceptedWay(d.standing);
    const way = accepted ?? (ask.which === "all" ? d.plan.best : null);
    const open = d.station !== "records" && d.station !== "checkout" && d.station !== "aside";
    return way && d.model && open ? [{ tag: d.standing.tag, model: d.model, way }] : [];
  });
  return { ...prepareFiles(devices, (id) => index.images.get(id)?.image, ask.place), devices: devices.length };
}
