import type { Workshop } from "./tools";

/** The platform's own resources, which `aapt` needs to know its attributes by. */
const FRAMEWORK = "/usr/share/android-framework-res/framework-res.apk";

export interface AppToMake {
  readonly package: string;
  readonly label: string;
  /** A level, or a preview's code name. */
  readonly minApi: number | string | null;
  /** As `minApi`. */
  readonly targetApi?: number | string;
  readonly abis?: readonly string[];
  /** Lines of the manifest beside `uses-sdk`. */
  readonly asks?: readonly string[];
  readonly split?: string;
}

/** Makes an app package with the platform's own tool; returns its file name in the workshop. */
export function makeApk(shop: Workshop, app: AppToMake): string {
  const folder = `${app.package}${app.split ? `-${app.split}` : ""}`;
  const sdk = [
    app.minApi === null ? "" : `android:minSdkVersion="${app.minApi}"`,
    app.targetApi ? `android:targetSdkVersion="${app.targetApi}"` : "",
  ].join(" ");
  shop.write(
    `${folder}/AndroidManifest.xml`,
    `<?xml version="1.0" encoding="utf-8"?>
<manifest xmlns:android="http://schemas.android.com/apk/res/android" package="${app.package}" ${app.split ? `split="${app.split}"` : ""}
  android:versionCode="42" android:versionName="1.4">
  ${sdk.trim() ? `<uses-sdk ${sdk}/>` : ""}
  ${(app.asks ?? []).join("\n  ")}
  <application ${app.split ? "" : 'android:label="@string/app"'}><activity android:name=".Main"/></application>
</manifest>`,
  );
  shop.write(`${folder}/res/values/s.xml`, `<resources><string name="app">${app.label}</string></resources>`);
  shop.write(`${folder}/res/values-de/s.xml`, `<resources><string name="app">${app.label} (de)</string></resources>`);
  const out = `${folder}.apk`;
  const manifest = `${folder}/AndroidManifest.xml`;
  shop.run("aapt", "package", "-f", "-M", manifest, "-S", `${folder}/res`, "-I", FRAMEWORK, "-F", out);
  for (const abi of app.abis ?? []) {
    const library = `lib/${abi}/libapp.so`;
    shop.write(library, "code");
    shop.run("aapt", "add", out, library);
  }
  return out;
}

/** What `aapt dump badging` says of a package. */
export function badging(shop: Workshop, file: string) {
  const said = shop.run("aapt", "dump", "badging", file);
  const one = (pattern: RegExp) => pattern.exec(said)?.[1] ?? null;
  const quoted = (line: string | null) => [...(line ?? "").matchAll(/'([^']*)'/g)].map((m) => m[1]);
  const all = (pattern: RegExp) => [...said.matchAll(pattern)].map((m) => m[1]);
  const implied = all(/^uses-implied-permission: name='([^']*)'/gm);
  return {
    package: one(/^package: name='([^']*)'/m),
    versionCode: Number(one(/versionCode='(\d+)'/)),
    minApi: Number(one(/^sdkVersion:'(\d+)'/m) ?? 1),
    targetApi: Number(one(/^targetSdkVersion:'(\d+)'/m) ?? 0) || null,
    label: one(/^application-label:'([^']*)'/m),
    abis: [...quoted(one(/^native-code: (.*)$/m)), ...quoted(one(/^alt-native-code: (.*)$/m))].sort(),
    permissions: all(/^uses-permission: name='([^']*)'/gm).filter((p) => !implied.includes(p)),
  };
}
