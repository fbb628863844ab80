import { AOSP_ADB, harmless, inOperation, look, normal, type Pattern, stop } from "../pattern";

const source = AOSP_ADB;
const RECALLED = "wording of AOSP adb, from memory";

/** What the adb client and Android's package manager print. */
export const ADB: readonly Pattern[] = [
  {
    id: "adb.daemon",
    line: /^\* daemon /i,
    means: normal("The client starts its own helper"),
    source,
    examples: ["* daemon not running; starting now at tcp:5037", "* daemon started successfully"],
  },
  {
    id: "adb.unauthorised",
    line: /device unauthorized|still authorizing|failed to authenticate/i,
    means: look(
      "The device has not allowed this computer",
      "Look at its screen and allow; else toggle debugging, revoke authorisations, replug",
    ),
    source,
    examples: ["error: device unauthorized.", "adb: error: failed to get feature set: device unauthorized."],
  },
  {
    id: "adb.unauthorised-hints",
    line: /ADB_VENDOR_KEYS|^try 'adb kill-server'|^otherwise check for a confirmation/i,
    means: normal("The client's own hints about allowing this computer"),
    source,
    examples: [
      "This adb server's $ADB_VENDOR_KEYS is not set",
      "Otherwise check for a confirmation dialog on your device.",
    ],
  },
  {
    id: "adb.offline",
    line: /error: .*(device offline|closed$|protocol fault|connection reset)/i,
    means: look("The connection broke off", "Replug; wait until the device is listed again; repeat this step"),
    source,
    examples: ["error: device offline", "error: closed"],
  },
  {
    id: "adb.nobody",
    line: /no devices\/emulators found|^(adb: )?error: .*device '?[^']*'? not found|^(adb: )?(failed|cannot) (to )?connect to/i,
    means: look(
      "The client does not see the device",
      "Debugging on? Original lead, a USB 2 port; on Windows the driver",
    ),
    source,
    examples: [
      "error: no devices/emulators found",
      "error: device '127.0.0.1:1' not found",
      "failed to connect to '127.0.0.1:1': Connection refused",
    ],
  },
  {
    id: "adb.more-than-one",
    line: /more than one device/i,
    means: stop("Two devices are plugged in: the command could reach the wrong one", "Unplug the other one"),
    source: RECALLED,
    examples: ["error: more than one device/emulator"],
  },
  {
    id: "adb.pushed",
    line: /\d+ files? (pushed|pulled)\b/i,
    means: normal("The file was copied"),
    success: true,
    source,
    examples: [
      "/files/a.zip: 1 file pushed, 0 skipped. 30.1 MB/s (1024 bytes in 0.001s)",
      "/dev/block/by-name/persist: 1 file pulled, 0 skipped.",
    ],
  },
  {
    id: "adb.not-copied",
    line: /adb: error: (failed to copy|cannot stat|failed to stat|remote object|cannot create)|^adb: (failed to stat|cannot stat|error: cannot)/i,
    means: look(
      "The file was not copied",
      "Storage can't be read in the recovery: bring it on a stick, or format data, restart into recovery and copy again. A file that is not there: look into the folder",
    ),
    source,
    examples: [
      "adb: error: failed to copy '/dev/block/by-name/x' to '/tmp/x': remote Permission denied",
      "adb: error: cannot stat 'nothing.zip': No such file or directory",
    ],
  },
  {
    id: "adb.transferred",
    line: /total xfer: *(0\.9\d|1\.\d+)x/i,
    // Captured: the client says it also where the recovery refused the package.
    means: normal("The whole package was sent. Whether it was installed stands on the device: status 0"),
    source,
    examples: ["Total xfer: 1.00x"],
    not: ["Total xfer: 0.01x"],
  },
  {
    id: "adb.cut-short",
    line: /total xfer: *0\.[0-8]\d*x/i,
    means: look(
      "Only a part of the package was taken",
      "Look at the device: it says why. Then choose “apply from adb” again",
    ),
    source: RECALLED,
    examples: ["Total xfer: 0.01x"],
  },
  {
    id: "adb.serving",
    line: /^serving: /i,
    means: normal("The counter ends near 47 %: that is success"),
    source,
    examples: ["serving: '/files/rom.zip'  (~47%)"],
  },
  {
    id: "adb.dropped-at-end",
    line: /adb: failed to read command: (success|no error|undefined error: 0)/i,
    means: harmless(
      "The recovery hangs up at the end. Whether the package was installed stands on the device: status 0",
    ),
    source: RECALLED,
    examples: ["adb: failed to read command: Success"],
  },
  {
    id: "adb.older-method",
    line: /^adb: trying pre-KitKat sideload method/i,
    means: normal("The client tries an older way too"),
    source,
    examples: ["adb: trying pre-KitKat sideload method..."],
  },
  {
    id: "adb.sideload-refused",
    line: /adb: (sideload connection failed|failed to read command|pre-KitKat sideload connection failed)/i,
    means: look(
      "The recovery did not take the package",
      "Look what it says on its screen; choose “apply from adb” again",
    ),
    source,
    examples: ["adb: sideload connection failed: closed", "adb: failed to read command: Connection reset by peer"],
  },
  {
    id: "adb.installing",
    line: /^performing (streamed|push|incremental) install/i,
    means: normal("The app is on its way"),
    source,
    examples: ["Performing Streamed Install"],
  },
  {
    id: "pm.success",
    line: /^success$/i,
    means: normal("Done"),
    success: true,
    source,
    examples: ["Success"],
  },
  {
    id: "pm.system-package",
    line: /failure \[delete_failed_internal_error\]/i,
    means: look("A package of the system can't go for all", "Take it from the first user: pm uninstall --user 0"),
    unless: [
      {
        where: inOperation("clean-stock"),
        means: harmless("A package of the system: it is taken from the first user instead"),
      },
    ],
    source,
    examples: ["Failure [DELETE_FAILED_INTERNAL_ERROR]"],
  },
  {
    id: "pm.not-there",
    line: /failure \[not installed for \d+\]/i,
    means: harmless("It is gone already"),
    source,
    examples: ["Failure [not installed for 0]"],
  },
  {
    id: "pm.older-sdk",
    line: /install_failed_older_sdk/i,
    means: stop("The app needs a newer Android than this", "Take another app for this list"),
    source,
    examples: ["adb: failed to install /files/a.apk: Failure [INSTALL_FAILED_OLDER_SDK]"],
  },
  {
    id: "pm.refused",
    line: /failure \[|adb: failed to install|^adb: filename doesn't end/i,
    means: look("The package manager refused", "Note the word in brackets; nothing was changed"),
    source,
    examples: ["adb: failed to install /files/a.apk: Failure [INSTALL_PARSE_FAILED_NOT_APK: Failed to parse]"],
  },
  {
    id: "pm.component",
    line: /^unknown input method|^error: failed to set .* as home/i,
    means: look(
      "Android does not know this screen or keyboard",
      "Install it first; then again. Nothing goes before it is default",
    ),
    source: "wording of the simulated phone, after Android's",
    examples: ["Unknown input method example.keys/.Keys cannot be enabled for user #0"],
  },
  {
    id: "pm.list",
    line: /^package:|^package \S+ installed for user/i,
    means: normal("A package of the device"),
    source,
    examples: ["package:com.android.settings", "Package com.example.player installed for user: 0"],
  },
];
