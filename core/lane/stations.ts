/** The stations of the lane, in the order of the work. */
export const STATIONS = ["intake", "clearance", "match", "bench", "checkout", "records"] as const;
export type Station = (typeof STATIONS)[number];

export const STATION_NAMES: Record<Station, string> = {
  intake: "Intake",
  clearance: "Clearance",
  match: "Match",
  bench: "Bench",
  checkout: "Checkout",
  records: "Records",
};
