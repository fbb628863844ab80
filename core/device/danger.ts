import { z } from "zod";

/** Why a device is set aside the moment it is seen. */
export const DangerKind = z.enum(["swollen", "hot", "wet", "glass", "lost"]);
export type DangerKind = z.infer<typeof DangerKind>;

export interface DangerInfo {
  readonly says: string;
  /** What to look for. */
  readonly sign: string;
  /** What to do, and what not; local rules come first. */
  readonly caution: string;
}

/** Common practice, no source: what is looked for at arrival. Opening devices is for trained people. */
export const DANGERS: Record<DangerKind, DangerInfo> = {
  swollen: {
    says: "Battery swollen",
    sign: "Back or screen bulges, the case does not close, it rocks on a flat table",
    caution:
      "Do not charge, do not press, do not open. Put it by itself on something that does not burn, away from other devices, and hand it to a battery collection point.",
  },
  hot: {
    says: "Hot",
    sign: "Warm or hot without being used, smells sweet or burnt, hisses",
    caution:
      "Do not charge, do not carry it about. Keep away and keep others away; if it smokes or burns, leave the room and call the fire service. When it is cold, hand it to a battery collection point.",
  },
  wet: {
    says: "Wet",
    sign: "Drops behind the glass or in the sockets, stains, rust",
    caution:
      "Do not charge, do not switch on, do not open. Isolate it and hand it to a battery collection point; drying is for trained people.",
  },
  glass: {
    says: "Broken glass",
    sign: "Splinters, open edges, glass that gives way",
    caution:
      "Gloves; tape over the glass so that nobody is cut. A cell may be pierced under it: do not charge and do not press. Repair is for trained people.",
  },
  lost: {
    says: "Reported lost or stolen",
    sign: "The register of lost devices knows it, or the owner says so",
    caution: "Stop: nothing is planned, changed or wiped. Set it aside and hand it over as local law says.",
  },
};
