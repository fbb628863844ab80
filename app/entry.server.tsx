import { randomBytes } from "node:crypto";
import { Writable } from "node:stream";
import { renderToPipeableStream } from "react-dom/server";
import { type EntryContext, type HandleErrorFunction, isRouteErrorResponse, ServerRouter } from "react-router";
import { z } from "zod";
import { inWords } from "~/core/catalogue/inWords";
import { db } from "./server/http/context";
import { log } from "./server/http/log";
import { packed } from "./server/http/packed";
import { allDevices } from "./server/planning/planning";

// Forms that were filled in wrong are answered in our words, whatever schema they were held against.
z.config({ customError: inWords });

// Everything is planned once before the first request is let in: nobody waits for it, whichever process answers.
if (import.meta.env.PROD)
  try {
    allDevices(db());
  } catch (error) {
    log.error(error, "the devices could not be planned ahead");
  }

/** Pages hold no data that comes late: what is not rendered after this was forgotten, ms. */
const LATEST = 10_000;

/** Renders a page, with a policy that lets only its own scripts run (W3C Content Security Policy Level 3, nonce-source). */
export default function handleRequest(request: Request, status: number, headers: Headers, context: EntryContext) {
  const nonce = randomBytes(16).toString("base64");
  headers.set("content-type", "text/html; charset=utf-8");
  headers.set("cache-control", "no-store");
  headers.set("content-security-policy", policy(nonce));
  if (request.method === "HEAD") return new Response(null, { status, headers });
  return new Promise<Response>((resolve, reject) => {
    let code = status;
    const { pipe, abort } = renderToPipeableStream(<ServerRouter context={context} url={request.url} nonce={nonce} />, {
      nonce,
      onAllReady() {
        clearTimeout(timer);
        pipe(whole((page) => resolve(sent(page, request.headers.get("accept-encoding"), code, headers))));
      },
      onShellError: reject,
      onError(error) {
        code = 500;
        log.error(error, "a page could not be rendered");
      },
    });
    const timer = setTimeout(() => abort(), LATEST);
  });
}

/** Takes what React writes, which is many small pieces, and hands it on in one: each would be packed and sent by itself. */
function whole(done: (page: Buffer) => void) {
  const pieces: Uint8Array[] = [];
  return new Writable({
    // Nothing is gained by waiting: what is rendered is held until all of it is.
    highWaterMark: Number.MAX_SAFE_INTEGER,
    write(piece, _encoding, next) {
      pieces.push(piece);
      next();
    },
    final(next) {
      done(Buffer.concat(pieces));
      next();
    },
  });
}

/** The page as it goes out, packed if whoever asks can unpack it. */
function sent(page: Uint8Array, asked: string | null, status: number, headers: Headers) {
  const { bytes, encoding } = packed(page, asked);
  headers.append("vary", "accept-encoding");
  if (encoding) headers.set("content-encoding", encoding);
  return new Response(new Uint8Array(bytes), { status, headers });
}

const policy = (nonce: string) =>
  [
    "default-src 'none'",
    `script-src 'self' 'nonce-${nonce}' 'wasm-unsafe-eval'`,
    "style-src 'self'",
    // Charts and tables set their measures as attributes.
    "style-src-attr 'unsafe-inline'",
    "img-src 'self' data: blob:",
    "font-src 'self' data:",
    "connect-src 'self'",
    "worker-src 'self' blob:",
    "manifest-src 'self'",
    "base-uri 'none'",
    "form-action 'self'",
    "frame-ancestors 'none'",
  ].join("; ");

/** What went wrong on our side goes into the log; what was refused in words does not. */
export const handleError: HandleErrorFunction = (error, { request }) => {
  if (request.signal.aborted || isRouteErrorResponse(error)) return;
  log.error({ err: error, method: request.method }, "a request failed");
};
