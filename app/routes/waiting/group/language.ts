import { Language } from "~/core/clearance/signOut";

/** The language that an address asks a letter in; English where it asks for none that we write. */
export const languageOf = (request: Request): Language =>
  Language.catch("en").parse(new URL(request.url).searchParams.get("language"));
