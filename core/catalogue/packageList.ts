import { z } from "zod";
import { ComponentName, PackageName } from "./packageName";

/** What a stock package is to a device, where taking it away needs something in its place. */
export const PackageRole = z.enum(["home", "keyboard"]);
export type PackageRole = z.infer<typeof PackageRole>;

export const ROLE_WORDS: Record<PackageRole, string> = { home: "home screen", keyboard: "keyboard" };

const says = z.string().trim().min(2).max(200);

/** An app that is put in before its forerunner goes. */
const Replacement = z.strictObject({
  /** Its file, among the files of the list. */
  file: z.string().min(1).max(80),
  component: ComponentName,
});
export type Replacement = z.infer<typeof Replacement>;

/**
 * Which packages of one stock build may go, which stay, and what is put in their place: names only, never patterns.
 */
export const PackageList = z
  .strictObject({
    remove: z
      .array(
        z.strictObject({
          name: PackageName,
          /** What it is, for people. */
          is: says,
          role: PackageRole.nullable().default(null),
          /** By whom and when it was tried; null where nobody has. */
          tried: z.string().trim().min(3).max(200).nullable().default(null),
        }),
      )
      .min(1, "A list names at least one package that goes")
      .max(400),
    keep: z
      .array(z.strictObject({ name: PackageName, is: says }))
      .max(400)
      .default([]),
    home: Replacement.nullable().default(null),
    keyboard: Replacement.nullable().default(null),
  })
  .superRefine((list, ctx) => {
    const seen = new Map<string, string>();
    for (const part of ["remove", "keep"] as const)
      for (const [i, { name }] of list[part].entries()) {
        const before = seen.get(name);
        if (before)
          ctx.addIssue({
            code: "custom",
            path: [part, i, "name"],
            message:
              before === part
                ? `${name} stands in this list twice`
                : `${name} can't both go and stay: take it out of one list`,
          });
        seen.set(name, part);
      }
    for (const role of PackageRole.options) {
      const i = list.remove.findIndex((p) => p.role === role);
      if (i >= 0 && !list[role])
        ctx.addIssue({
          code: "custom",
          path: ["remove", i, "role"],
          message: `${list.remove[i].name} is the ${ROLE_WORDS[role]}: name the one that is put in before it goes`,
        });
    }
  });
export type PackageList = z.infer<typeof PackageList>;
