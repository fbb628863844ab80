import os from "node:os";
import { z } from "zod";

const names = z
  .string()
  .default("")
  .transform((text) => text.split(/[\s,]+/).filter(Boolean));
const whole = (least: number, most: number) => z.coerce.number().int().min(least).max(most);

/** What an operator may set, in the environment. Empty means: as if it were not there. */
const Env = z.object({
  HOST: z.string().default("127.0.0.1"),
  PORT: whole(0, 65_535).default(4310),
  /** Names under which the lane is reached, beside the address it is bound to. */
  UPSHIFT_HOSTS: names,
  /** Proxies whose forwarded headers are believed: addresses or ranges. */
  UPSHIFT_PROXIES: names,
  UPSHIFT_TLS_CERT: z.string().optional(),
  UPSHIFT_TLS_KEY: z.string().optional(),
  /** Folder for a backup of every day, and how many are kept. */
  UPSHIFT_BACKUPS: z.string().optional(),
  UPSHIFT_BACKUPS_KEPT: whole(1, 1000).default(14),
  /** Processes that answer; one is enough for a workshop, two use two cores. */
  UPSHIFT_PROCESSES: whole(1, 16).default(Math.min(2, os.availableParallelism())),
});

export type ServeSettings = z.infer<typeof Env>;

/**
 * Reads the operator's settings.
 *
 * @returns the settings, or one sentence for each that is wrong
 */
export function readSettings(env: Readonly<Record<string, string | undefined>>): ServeSettings | string[] {
  const given = Object.fromEntries(Object.entries(env).filter(([, value]) => value !== undefined && value !== ""));
  const read = Env.safeParse(given);
  if (!read.success) return read.error.issues.map((i) => `${i.path.join(".")}: ${i.message}`);
  if (Boolean(read.data.UPSHIFT_TLS_CERT) !== Boolean(read.data.UPSHIFT_TLS_KEY))
    return ["UPSHIFT_TLS_CERT and UPSHIFT_TLS_KEY go together: name both files, or neither"];
  return read.data;
}

const LOOPBACK = /^(localhost|127(\.\d{1,3}){3}|::1)$/i;

/** Whether only this computer reaches the lane: bound to loopback, and nobody forwards to it. */
export const isAlone = (settings: ServeSettings): boolean =>
  LOOPBACK.test(settings.HOST) && settings.UPSHIFT_PROXIES.length === 0 && settings.UPSHIFT_HOSTS.length === 0;

/** Host names, in lower case without port, under which requests are answered. */
export function ownNames(settings: ServeSettings): ReadonlySet<string> {
  const bound = settings.HOST.toLowerCase();
  const everywhere = bound === "0.0.0.0" || bound === "::";
  const addresses = Object.values(os.networkInterfaces())
    .flat()
    .map((face) => face?.address.toLowerCase() ?? "");
  const machine = os.hostname().toLowerCase();
  return new Set([
    ...(LOOPBACK.test(bound) || everywhere ? ["localhost", "127.0.0.1", "::1"] : []),
    ...(everywhere ? [...addresses, machine, `${machine}.local`] : [bound]),
    ...settings.UPSHIFT_HOSTS.map((name) => name.toLowerCase()),
  ]);
}
