import { exhibitFolder, readExhibit } from "~/app/server/clearance/exhibits";
import { db, notFound } from "~/app/server/http/context";
import { dbFile } from "~/app/server/http/dbFile";
import { findExhibit } from "~/store/exhibits";
import type { Route } from "./+types/file";

/** A photo or paper as it was given. It is shown, never run: the browser may not guess another type or execute anything in it. */
export function loader({ params }: Route.LoaderArgs) {
  const exhibit = findExhibit(db(), Number(params.id));
  const bytes = exhibit && readExhibit(exhibitFolder(dbFile()), exhibit);
  if (!exhibit || !bytes) throw notFound("This file was taken away, or is not here");
  return new Response(new Uint8Array(bytes), {
    headers: {
      "content-type": exhibit.type,
      "content-disposition": `inline; filename*=UTF-8''${encodeURIComponent(exhibit.name)}`,
      "content-security-policy": "sandbox; default-src 'none'; img-src 'self'; style-src 'unsafe-inline'",
      "cache-control": "private, no-store",
    },
  });
}
