import { writeEml } from "~/app/server/clearance/eml";
import { letterTo } from "~/app/server/division/letter";
import { openPromiseTo } from "~/app/server/division/promises";
import { now as houseNow } from "~/app/server/http/clock";
import { db, notFound, personOf } from "~/app/server/http/context";
import { findGroup } from "~/store/evenings";
import type { Route } from "./+types/letterEml";
import { languageOf } from "./language";

/** The letter to a group as a file that a mail program opens as a draft. */
export async function loader({ params, request }: Route.LoaderArgs) {
  const group = findGroup(db(), Number(params.id));
  if (!group) throw notFound("There is no such group. Look at Groups");
  const at = houseNow(db());
  const language = languageOf(request);
  const promise = openPromiseTo(db(), group, at);
  const letter = letterTo(db(), group, promise, personOf(request), language);
  if ("nothing" in letter) throw notFound(letter.nothing);
  const eml = await writeEml({
    from: { name: `${personOf(request)}, ${letter.organisation}`, address: letter.from },
    to: { name: group.name, address: letter.to },
    subject: letter.subject,
    body: letter.body,
    at: at.toISOString(),
    language,
  });
  return new Response(new Uint8Array(eml), {
    headers: {
      "content-type": "message/rfc822",
      "content-disposition": `attachment; filename="letter-group-${group.id}.eml"`,
    },
  });
}
