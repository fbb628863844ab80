/**
 * A stable name made of a title: lower-case letters, digits and dashes, 60 characters at most.
 *
 * @example slugOf("Halvik Leaf 10") // "halvik-leaf-10"
 */
export function slugOf(title: string): string {
  return title
    .toLowerCase()
    .normalize("NFKD")
    .replace(/[^a-z0-9]+/g, "-")
    .replace(/^-|-$/g, "")
    .slice(0, 60)
    .replace(/-$/, "");
}
