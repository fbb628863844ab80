export const unlockingReasons = {
  "bootloader.unlocked": "An unlocked bootloader is not unlocked again",
  "unlock.impossible": "The maker must let the bootloader be unlocked",
  "unlock.permission": "Unlocking is allowed in the developer options before anything wipes the device",
  "unlock.waiting": "The maker's waiting time must be over",
} as const;
