export const lockingReasons = {
  "relock.modified":
    "Only a device whose stock system was written whole and has started, in the same plan, is locked again",
  "relock.not-offered": "Locking again must be offered by the maker and wanted by the house",
} as const;
