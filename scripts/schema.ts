import fs from "node:fs";
import { packSchema } from "~/core/catalogue/packSchema";
import { schoolsDoc } from "~/core/policy/schoolsDoc";

/** Writes the published schema of catalogue packs where it is kept; a test says when it is out of date. */
fs.writeFileSync("docs/catalogue.schema.json", `${JSON.stringify(packSchema(), null, 2)}\n`);
fs.writeFileSync("docs/schools.md", schoolsDoc());
