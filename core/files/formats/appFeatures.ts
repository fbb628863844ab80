/** A feature of the hardware that an app's manifest names. */
export interface Feature {
  readonly name: string;
  readonly required: boolean;
}

const HARDWARE = "android.hardware.";
/** Up to this target a location permission asks for its source too. */
const SOURCES_UP_TO = 20;

/**
 * Features that a permission asks for by itself, where the app does not say otherwise.
 *
 * @source Android developer documentation, `<uses-feature>`, "Permissions that imply feature requirements"; `aapt dump badging`
 */
const IMPLIED: readonly (readonly [feature: string, permissions: readonly string[]])[] = [
  ["bluetooth", ["BLUETOOTH", "BLUETOOTH_ADMIN"]],
  ["camera", ["CAMERA"]],
  [
    "location",
    [
      "ACCESS_FINE_LOCATION",
      "ACCESS_COARSE_LOCATION",
      "ACCESS_MOCK_LOCATION",
      "ACCESS_LOCATION_EXTRA_COMMANDS",
      "INSTALL_LOCATION_PROVIDER",
    ],
  ],
  ["microphone", ["RECORD_AUDIO"]],
  [
    "telephony",
    [
      "CALL_PHONE",
      "CALL_PRIVILEGED",
      "MODIFY_PHONE_STATE",
      "PROCESS_OUTGOING_CALLS",
      "READ_SMS",
      "RECEIVE_MMS",
      "RECEIVE_SMS",
      "RECEIVE_WAP_PUSH",
      "SEND_SMS",
      "WRITE_APN_SETTINGS",
      "WRITE_SMS",
    ],
  ],
  ["wifi", ["ACCESS_WIFI_STATE", "CHANGE_WIFI_STATE", "CHANGE_WIFI_MULTICAST_STATE"]],
];
const IMPLIED_EARLY: typeof IMPLIED = [
  ["location.gps", ["ACCESS_FINE_LOCATION"]],
  ["location.network", ["ACCESS_COARSE_LOCATION"]],
];

/**
 * Features that can't be there without another one.
 *
 * @source `aapt dump badging`
 */
const PART_OF: readonly (readonly [feature: string, whole: string])[] = [
  ["camera.autofocus", "camera"],
  ["camera.flash", "camera"],
  ["location.gps", "location"],
  ["location.network", "location"],
  ["touchscreen.multitouch.distinct", "touchscreen.multitouch"],
  ["touchscreen.multitouch", "touchscreen"],
];

/**
 * What an app asks of the hardware: what it names, and what follows from that and from its permissions.
 *
 * @param named features that stand by themselves
 * @param groups features of each group: one of the groups is enough
 * @param target the API level that the app was made for
 * @example featuresOf([], [], ["android.permission.CAMERA"], 33) // [{ name: "android.hardware.camera", required: true }]
 */
export function featuresOf(
  named: readonly Feature[],
  groups: readonly (readonly Feature[])[],
  permissions: readonly string[],
  target: number,
): Feature[] {
  const all = [...named, ...inEvery(groups)];
  const isSaid = (name: string) => all.some((f) => f.name === name);
  const add = (feature: string) => {
    const name = HARDWARE + feature;
    if (!isSaid(name)) all.push({ name, required: true });
  };
  const asks = (permission: string) => permissions.includes(`android.permission.${permission}`);
  for (const [feature, by] of target <= SOURCES_UP_TO ? [...IMPLIED, ...IMPLIED_EARLY] : IMPLIED)
    if (by.some(asks)) add(feature);
  for (const [part, whole] of PART_OF)
    if (all.some((f) => f.required && f.name === HARDWARE + part)) {
      // Also where the app says that it can do without: its part it can't.
      const at = all.findIndex((f) => f.name === HARDWARE + whole);
      if (at >= 0) all[at] = { name: HARDWARE + whole, required: true };
      else add(whole);
    }
  return all;
}

/** Features of the groups; one that only some groups ask for is not required. */
function inEvery(groups: readonly (readonly Feature[])[]): Feature[] {
  const names = new Set(groups.flatMap((g) => g.map((f) => f.name)));
  return [...names].map((name) => ({
    name,
    required: groups.every((g) => g.some((f) => f.name === name && f.required)),
  }));
}
