/** Ages of open cases, in days since the state was entered. */
export const AGES = [
  { name: "up to 7 days", to: 7 },
  { name: "8 to 14 days", to: 14 },
  { name: "15 to 30 days", to: 30 },
  { name: "longer", to: Number.POSITIVE_INFINITY },
] as const;
