export const stockPackageReasons = {
  "stock.not-whole": "A stock package is written only where it holds boot and system as files for their partitions",
  "back.none": "Where the house asks for it, nothing is written without a way back to stock",
} as const;
