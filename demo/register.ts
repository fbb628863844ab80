import fs from "node:fs";
import path from "node:path";
import { z } from "zod";
import { DEMO_DATA } from "./catalogue";

const Lost = z.array(z.strictObject({ number: z.string(), reference: z.string(), reported: z.iso.date().optional() }));

/** What the stand-in of the register holds as lost: one device that is known to be, and one that nobody knows of yet. */
export const demoLost = () => Lost.parse(JSON.parse(fs.readFileSync(path.join(DEMO_DATA, "register.json"), "utf8")));
