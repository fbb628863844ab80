import { writeEml } from "~/app/server/clearance/eml";
import { db, notFound } from "~/app/server/http/context";
import { findLetter } from "~/store/letters";
import { readPolicy } from "~/store/policy";
import type { Route } from "./+types/eml";

export async function loader({ params }: Route.LoaderArgs) {
  const letter = findLetter(db(), Number(params.id));
  if (!letter || letter.erased) throw notFound(`There is no letter ${params.id} to read any more`);
  const { policy } = readPolicy(db());
  const eml = await writeEml({
    from: { name: `${letter.by}, ${policy.organisation}`, address: policy.letterFrom },
    to: { name: letter.donor, address: letter.how === "outbox" ? letter.recipient : "" },
    subject: letter.subject,
    body: letter.body,
    at: letter.at,
    language: letter.language,
  });
  return new Response(new Uint8Array(eml), {
    headers: {
      "content-type": "message/rfc822",
      "content-disposition": `attachment; filename="letter-${letter.id}.eml"`,
    },
  });
}
