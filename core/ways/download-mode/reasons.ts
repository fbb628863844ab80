export const downloadModeReasons = {
  "download.not-recorded":
    "Nothing is planned in download mode before the model's record says its flasher, keys and fuse",
  "download.no-slot": "The flasher's edition must have a slot for each file",
  "download.no-verification":
    "In download mode a recovery goes on together with a patched verification file, or the device does not start it",
  "download.other-build": "The verification file beside the recovery belongs to exactly the installed build",
  "download.wipe-edition": "A donated device takes the wiping edition of the region part",
} as const;
