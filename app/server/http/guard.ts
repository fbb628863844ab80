import type { MiddlewareFunction } from "react-router";
import { mayDo, OPEN_PATTERNS } from "~/core/access/roles";
import { hasAccounts } from "~/store/accounts";
import { asking } from "./asking";
import { db, guestAt } from "./context";
import { leadOn } from "./leadOn";
import { settleForm } from "./once";
import { refused } from "./refused";
import { turnToWrite, writeSoon } from "./turn";

/** Around every request: changes wait their turn without holding up anybody's reading, and how a form ended is kept. */
export const guard: MiddlewareFunction<Response> = async ({ request, pattern }, next) =>
  asking.run({ once: null, leadsTo: null }, async () => {
    // As in the table of routes, with the slash before it.
    letIn(request, `/${pattern.replace(/^\//, "")}`);
    if (request.method === "POST") await turnToWrite(db());
    const response = await next();
    const here = asking.getStore();
    // One transaction, also where no form is settled: it seals what was appended by single statements.
    if (request.method === "POST")
      void writeSoon(db(), () => {
        if (here?.once) settleForm(db(), here.once, response.status, here.leadsTo);
      });
    if (!response.headers.has("content-security-policy"))
      response.headers.set("content-security-policy", "default-src 'none'; frame-ancestors 'none'");
    return response;
  });

/**
 * Sees that whoever asks may do that with this page.
 *
 * @throws Response to sign in first, or 403 in words
 */
function letIn(request: Request, pattern: string) {
  if (OPEN_PATTERNS.includes(pattern)) return;
  const guest = guestAt(request);
  if (!guest && !hasAccounts(db()))
    throw refused(
      403,
      "Nobody can sign in yet: whoever runs the lane makes the first account with npm run account (docs/running.md)",
    );
  if (!guest) {
    const { pathname, search } = new URL(request.url);
    const back = request.method === "POST" ? "/" : `${pathname}${search}`;
    throw leadOn(`/sign-in?back=${encodeURIComponent(back)}`);
  }
  if (!mayDo(guest.role, request.method, pattern))
    throw refused(403, `This is not for the role “${guest.role}”. A coordinator can do it, or give another role`);
}
