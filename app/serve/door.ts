import type { IncomingHttpHeaders } from "node:http";

/** Why a request is not let in: status and words. */
export interface Refusal {
  readonly status: number;
  readonly says: string;
}

const refuse = (status: number, says: string): Refusal => ({ status, says });

/** Longest address that is read, characters. */
const MAX_ADDRESS = 4096;

export interface Knock {
  readonly method: string;
  /** Path and query, as they stand in the request. */
  readonly url: string;
  readonly headers: IncomingHttpHeaders;
}

/** The name in a Host header, in lower case, without port and brackets; null when it is none. */
function hostName(host: string): string | null {
  const found = /^(?:\[([0-9a-f:.]+)\]|([a-z0-9._-]+))(?::\d{1,5})?$/i.exec(host);
  return found ? (found[1] ?? found[2]).toLowerCase() : null;
}

/**
 * Looks at a request before anything is read of its body: is it meant for this lane, by a method and an address that exist
 * here, and does what it wants to change come from one of the lane's own pages?
 *
 * A browser names the page a form was sent from (Origin, or at least Referer); other sites' pages can't forge either. What
 * names neither is refused, but for the reports of bench scripts, which carry a key of their own.
 *
 * @param own names under which the lane is reached
 * @returns null when it may come in
 * @source RFC 9110 (methods, Host), RFC 6454 and the Fetch standard (Origin), OWASP Cross-Site Request Forgery Prevention
 *   Cheat Sheet, "Verifying origin with standard headers"
 */
export function refusalAtDoor({ method, url, headers }: Knock, own: ReadonlySet<string>): Refusal | null {
  const host = headers.host ?? "";
  const name = hostName(host);
  if (name === null || !own.has(name))
    return refuse(
      421,
      "This lane is not reached under that name. Whoever runs it can add the name to UPSHIFT_HOSTS; see docs/running.md",
    );
  if (!["GET", "HEAD", "POST"].includes(method))
    return refuse(405, `Pages are read with GET and changed with POST, not ${method}`);
  if (url.length > MAX_ADDRESS) return refuse(414, `The address is longer than ${MAX_ADDRESS} characters`);
  if (!isReadable(url)) return refuse(400, "The address holds something that is no text. Check the link");
  if (method !== "POST") return null;
  if (isReport(url)) return null;
  const from = headers.origin ?? headers.referer;
  if (from === undefined)
    return refuse(
      403,
      "A change has to come from one of the lane's own pages: this request does not say where it comes from",
    );
  if (hostOf(from) !== host.toLowerCase())
    return refuse(403, "A change has to come from one of the lane's own pages, and this one comes from another site");
  return null;
}

/** Whether an address is where scripts report: they name no page, but a key. */
const isReport = (url: string): boolean => /^\/devices\/[^/?]+\/(report|packages-seen)(\.data)?(\?|$)/.test(url);

function isReadable(url: string): boolean {
  if (!url.startsWith("/")) return false;
  try {
    // biome-ignore lint/suspicious/noControlCharactersInRegex: these are what is looked for.
    return !/[\0-\x1f\x7f]/.test(decodeURIComponent(url.replaceAll("+", " ")));
  } catch {
    return false;
  }
}

function hostOf(address: string): string | null {
  try {
    return new URL(address).host.toLowerCase();
  } catch {
    return null;
  }
}
