/**
 * Headers of every answer: the browser guesses no types, shows the lane in no frame, and tells other sites nothing of its
 * addresses. Pages bring a policy of their own, with a nonce (app/entry.server.tsx); this one is for what is not a page.
 *
 * @source W3C Content Security Policy Level 3; WHATWG Fetch (nosniff); OWASP Secure Headers Project
 */
export const HEADERS: Readonly<Record<string, string>> = {
  "content-security-policy":
    "default-src 'none'; script-src 'self' 'wasm-unsafe-eval'; connect-src 'self'; base-uri 'none'; form-action 'none'; frame-ancestors 'none'",
  "cross-origin-opener-policy": "same-origin",
  "cross-origin-resource-policy": "same-origin",
  "permissions-policy": "camera=(self), geolocation=(), microphone=()",
  "referrer-policy": "same-origin",
  "x-content-type-options": "nosniff",
  "x-frame-options": "DENY",
};
