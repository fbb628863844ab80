import { z } from "zod";

/**
 * A package name as Android takes it: two or more segments of letters, digits and underscores, each beginning with a letter.
 *
 * @source Android developer documentation, "Set the application ID": the same rules; 223 characters at most, as the package parser has it
 */
export const PackageName = z
  .string()
  .max(223)
  .regex(
    /^[A-Za-z][A-Za-z0-9_]*(\.[A-Za-z][A-Za-z0-9_]*)+$/,
    "This is not a package name; write it like com.example.player",
  );

/** A part of a package, as commands take it: `package/.Part` or `package/whole.name.Part`. */
export const ComponentName = z
  .string()
  .max(400)
  .regex(
    /^[A-Za-z][A-Za-z0-9_]*(\.[A-Za-z][A-Za-z0-9_]*)+\/\.?[A-Za-z][A-Za-z0-9_.]*$/,
    "Write it as the package, a slash and the part, like com.example.home/.Main",
  );

/**
 * Package names out of the answer of `pm list packages`, with or without paths, in their order and each once.
 *
 * @example readPackageNames("package:com.example.notes\npackage:com.example.mail") // ["com.example.notes", "com.example.mail"]
 */
export function readPackageNames(text: string): string[] {
  const names = new Set<string>();
  for (const line of text.split(/\r?\n/)) {
    // With -f the path comes first and may hold signs of equality itself: the name stands behind the last one.
    // What follows a name after a blank (its installer, its number) is another column; anything else is no name at all.
    const found = /^package:(?:\S*=)?([A-Za-z][\w.]*)(?=\s|$)/.exec(line.trim());
    if (found) names.add(found[1]);
  }
  return [...names];
}
