import { readStandIn, type StandInLabel } from "~/core/files/standIn";
import { contentOf, note, type PhoneState } from "~/phone/state";

/** Installs an app by what its file says of itself. @returns what the package manager prints */
export function installLabelled(
  state: PhoneState,
  { component, api }: Pick<StandInLabel, "component" | "api">,
): string {
  if (!component) return "Failure [INSTALL_PARSE_FAILED_NOT_APK: Failed to parse]\n";
  if (api > (contentOf(state, "system")?.api ?? 0)) return "Failure [INSTALL_FAILED_OLDER_SDK]\n";
  const name = component.split("/")[0];
  state.packages.all[name] = { system: false, user: true, needed: false, component };
  note(state, `installed ${name}`);
  return "Success\n";
}

/** Installs the bytes of an app. @returns what the package manager prints */
export const installApp = (state: PhoneState, bytes: Uint8Array): string =>
  installLabelled(state, readStandIn(bytes)?.label ?? { api: 0 });

/** Takes an app as the client streams it, until it has as many bytes as were announced. */
export function streamedInstall(
  state: PhoneState,
  service: string,
  write: (data: Buffer) => void,
  done: () => void,
): ((data: Buffer) => void) | null {
  const size = /^exec:cmd package '?install'?\b.*'?-S'? '?(\d+)'?/.exec(service)?.[1];
  if (!size) return null;
  const parts: Buffer[] = [];
  let have = 0;
  return (data) => {
    parts.push(data);
    have += data.length;
    if (have < Number(size)) return;
    write(Buffer.from(installApp(state, Buffer.concat(parts).subarray(0, Number(size)))));
    done();
  };
}
