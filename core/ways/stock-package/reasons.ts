export const stockPackageReasons = {
  "stock.not-whole": "A stock package is written only where it holds boot and system as files for their partitions",
  "stock.other-form":
    "A stock package is written the way it is packed for: parts, tars, rows, a card or the maker's script",
  "stock.other-region": "A stock package is of the device's own region",
  "stock.other-number": "A stock package is of the device's own model number, where the maker makes one for each",
  "firmware.fuse": "The fuse of the bootloader only counts up: a package carries the device's level or a higher one",
  "back.none": "Where the house asks for it, nothing is written without a way back to stock",
} as const;
