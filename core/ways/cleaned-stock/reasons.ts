export const cleanedStockReasons = {
  "packages.not-wanted": "A stock system is cleaned where the house wants it (policy)",
  "packages.kept": "No list takes a package away that must stay: telephony, alerts, settings, set-up and the like",
  "packages.other-build": "A list of packages goes only on the build it was made for",
  "packages.needs-stock": "Only the maker's own, running system is cleaned",
} as const;
