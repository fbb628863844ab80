import { log } from "~/app/server/http/log";

const begun = new Set<string>();

/**
 * Does something again and again while the process that keeps the house runs; begun once, whoever asks for it. What takes
 * longer than the time between is not begun a second time meanwhile.
 *
 * @param broken what is written down where it fails; it is tried again all the same
 * @returns does it now; null where it goes on already, or another process keeps the house
 */
export function keepDoing(seconds: number, broken: string, does: () => unknown): (() => Promise<void>) | null {
  if (begun.has(broken) || process.env.UPSHIFT_KEEPER === "") return null;
  begun.add(broken);
  let busy = false;
  const look = async () => {
    if (busy) return;
    busy = true;
    try {
      await does();
    } catch (error) {
      log.error(error, broken);
    } finally {
      busy = false;
    }
  };
  setInterval(look, seconds * 1000).unref();
  return look;
}
