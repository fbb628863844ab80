/**
 * Packages of the platform without which a device does not start, can't be set up, called or warned: no list takes them away.
 *
 * @source package names of the Android Open Source Project, from memory; that they stay is common practice, no source
 */
export const PLATFORM_KEPT: ReadonlyMap<string, string> = new Map([
  ["android", "the platform itself"],
  ["com.android.systemui", "status bar and lock screen"],
  ["com.android.settings", "settings"],
  ["com.android.shell", "what the client talks to"],
  ["com.android.phone", "telephony"],
  ["com.android.server.telecom", "telephony"],
  ["com.android.providers.telephony", "telephony"],
  ["com.android.carrierconfig", "telephony"],
  ["com.android.stk", "SIM toolkit"],
  ["com.android.cellbroadcastreceiver", "emergency alerts"],
  ["com.android.emergency", "emergency information"],
  ["com.android.packageinstaller", "the package installer"],
  ["com.android.permissioncontroller", "permissions"],
  ["com.android.defcontainer", "the package installer"],
  ["com.android.webview", "web view"],
  ["com.android.provision", "set-up"],
  ["com.android.providers.settings", "settings"],
  ["com.android.providers.media", "storage"],
  ["com.android.providers.contacts", "contacts"],
  ["com.android.providers.downloads", "storage"],
  ["com.android.externalstorage", "storage"],
  ["com.android.keychain", "keys and certificates"],
  ["com.android.certinstaller", "keys and certificates"],
  ["com.android.bluetooth", "Bluetooth"],
  ["com.android.networkstack", "the network"],
  ["com.android.captiveportallogin", "the network"],
]);

/** What a list would take away though it must stay: each with what it is. */
export function keptAmong(names: readonly string[]): readonly { readonly name: string; readonly is: string }[] {
  return names.flatMap((name) => {
    const is = PLATFORM_KEPT.get(name);
    return is ? [{ name, is }] : [];
  });
}
