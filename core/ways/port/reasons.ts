export const portReasons = {
  "port.other-base":
    "A port needs exactly the maker's build that it names under it; another region's counts as another",
  "port.encrypted": "A port without a named base needs storage that is not encrypted",
  "port.other-way": "A port goes on as one: two packages queued; an ordinary ROM does not",
} as const;
