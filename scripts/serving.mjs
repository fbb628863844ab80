/**
 * How the application is started. Planning makes many short-lived states: a larger young generation keeps the collector out of
 * the way; a bound for the old one lets it look earlier what is not needed any more (a process that reaches it is replaced).
 */
export const SERVE = ["--max-semi-space-size=8", "--max-old-space-size=768", "build/serve/serve.mjs"];
