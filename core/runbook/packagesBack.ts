import { PRELUDE } from "./scriptPrelude";
import { fileTag, type ReportKey, shellQuote, tagLines } from "./writeScript";

export interface PackagesBackRequest {
  readonly tag: string;
  readonly serial: string | null;
  /** Packages to put back, by name. */
  readonly names: readonly string[];
  /** Key with which it tells the lane. */
  readonly key?: ReportKey | null;
}

/**
 * Writes the script that puts packages back, and tells the lane what the device lists afterwards.
 *
 * @source `cmd package install-existing`: Android's package manager, as its own help tells
 * @throws RangeError where there is nothing to put back
 * @example writePackagesBack({ tag: "TH-001", serial: "RTSN1", names: ["org.example.app"] }).startsWith("#!/bin/sh") // true
 */
export function writePackagesBack({ tag, serial, names, key = null }: PackagesBackRequest): string {
  if (names.length === 0) throw new RangeError("There is nothing to put back");
  const safeTag = fileTag(tag);
  return [
    "#!/bin/sh",
    `# Puts ${names.length} packages of device ${safeTag} back.`,
    ...tagLines(tag, key),
    PRELUDE,
    "lane=$LANE; LANE=",
    "",
    `step 1 2 packages.back 'Put the packages back'`,
    "see device 60 'Debugging must be on, and this computer allowed'",
    ...(serial ? [`want_prop ro.serialno ${shellQuote(serial)} 'serial number' 60 'This is another device'`] : []),
    ...names.map((name) => `try 120 $ADB shell cmd package install-existing ${shellQuote(name)} </dev/null`),
    "done_step",
    `step 2 2 packages.list 'What is there now?'`,
    "packages 60",
    "missing=0",
    ...names.map(
      (name) =>
        `has_package ${shellQuote(name)} || { missing=$((missing + 1)); printf 'Still missing: %s\\n' ${shellQuote(name)}; }`,
    ),
    "done_step",
    `[ -z "$lane" ] || { printf '%s\\n' "$PACKAGES" | sed 's/^/package:/' >"$OUT"; curl -sSf -m 10 -o /dev/null -X POST -H 'content-type: text/plain' -H "x-lane-key: $LANE_KEY" --data-binary @"$OUT" "\${lane%/}/devices/$TAG_ADDRESS/packages-seen" ||`,
    `  printf 'The lane did not answer: paste what “adb shell pm list packages” says on the page of packages.\\n'; }`,
    `[ "$missing" -eq 0 ] || { printf '%s could not be put back: a factory reset brings all back.\\n' "$missing" >&2; exit 1; }`,
    `printf '\\nAll ${names.length} are back.\\n'`,
    "",
  ].join("\n");
}
