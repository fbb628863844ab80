import { evidenceFolder, readEvidence } from "~/app/server/clearance/evidence";
import { db, dbFile, notFound } from "~/app/server/http/context";
import { findEvidence } from "~/store/evidence";
import type { Route } from "./+types/file";

/** A file of evidence as it was given. It is shown, never run: the browser may not guess another type or execute anything in it. */
export function loader({ params }: Route.LoaderArgs) {
  const evidence = findEvidence(db(), Number(params.id));
  const bytes = evidence && readEvidence(evidenceFolder(dbFile()), evidence);
  if (!evidence || !bytes) throw notFound("This file was taken away, or is not here");
  return new Response(new Uint8Array(bytes), {
    headers: {
      "content-type": evidence.type,
      "content-disposition": `inline; filename*=UTF-8''${encodeURIComponent(evidence.name)}`,
      "content-security-policy": "sandbox; default-src 'none'; img-src 'self'; style-src 'unsafe-inline'",
      "cache-control": "private, no-store",
    },
  });
}
