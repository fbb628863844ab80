import { z } from "zod";
import { Pack } from "./catalogue";

/** What a pack may name as its schema. */
export const PACK_SCHEMA_ID = "urn:upshift-lane:catalogue:1";

/**
 * The published JSON Schema (draft 2020-12) of packs, made of the one Zod schema there is. What it can't say (a ROM tells how
 * it is installed, names point at entries) is checked when a pack is brought in.
 *
 * @example packSchema().title // "Upshift Lane catalogue pack"
 */
export function packSchema(): object {
  return {
    $id: PACK_SCHEMA_ID,
    title: "Upshift Lane catalogue pack",
    description:
      "Models, images, needs and pairs of images that do not work together; a part of a catalogue or all of it.",
    ...z.toJSONSchema(Pack, { io: "input" }),
  };
}
