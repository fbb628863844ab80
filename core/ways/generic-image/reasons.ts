export const genericImageReasons = {
  "gsi.needs-vendor-interface": "A generic image needs the vendor interface",
  "gsi.needs-stock-base":
    "A generic image goes on the maker's own system, or on another generic image over a known stock base",
  "gsi.older-than-base": "A generic image is not older than the vendor part under it",
  "gsi.room": "The expanded image must fit the partition",
  "gsi.binder": "A generic image must speak the binder of the device's kernel, 32 or 64 bits",
  "gsi.slots": "A generic image must be built for the device's layout, with slots or without",
  "verification.missing": "A generic image needs the verification file of exactly the installed build",
  "verification.other-build": "A verification file belongs to one full build number",
  "product.not-removable": "Product is removed only where it is a logical partition and userspace fastboot is there",
} as const;
