import { SCHOOL_KEYS, SCHOOLS, sideWords } from "./schools";

/**
 * The schools as a page of the docs: question, sides, default, why.
 *
 * @example schoolsDoc().startsWith("# Schools") // true
 */
export function schoolsDoc(): string {
  const rows = SCHOOL_KEYS.map((key) => {
    const { question, sides, default: usual, why } = SCHOOLS[key];
    return `| ${question} | ${sides.map((s) => s.says).join(" · ")} | ${sideWords(key, usual)} | ${why} |`;
  });
  return [
    "# Schools: where practitioners disagree",
    "",
    "Written by `npm run schema` from `core/policy/schools.ts`. Each is a choice of the house (House policy); plans, sheets and this page read the same",
    "list. Defaults are common practice, no source.",
    "",
    "| question | sides | default | why |",
    "|---|---|---|---|",
    ...rows,
    "",
  ].join("\n");
}
