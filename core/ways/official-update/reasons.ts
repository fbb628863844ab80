export const officialUpdateReasons = {
  "update.needs-stock": "Official updates go only on the maker's own, running system",
  "update.wrong-base": "An official update goes only on the releases it names",
} as const;
