export const recoveryPackagesReasons = {
  "recovery.missing": "A ROM needs a recovery that installs it",
  "recovery.too-old": "The recovery must be new enough for the ROM",
  "recovery.other-release": "A ROM's own recovery must be of the same release as the ROM",
  "recovery.no-partition": "A custom recovery needs a recovery partition",
  "downgrade.via-stock": "Going down a release follows the house's school",
  "rom.room": "A ROM, with its services add-on, must fit the system partition where the sizes are known",
  "storage.room": "Packages must fit the device's free storage where it is known",
  "services.after-start": "The services add-on goes on before the first start",
  "services.other-release": "The services add-on is of the ROM's release",
  "services.built-in": "A ROM with services takes no add-on",
  "services.inside": "Where the house wants the services inside, no add-on is installed",
} as const;
