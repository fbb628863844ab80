import { IdentityCopy } from "~/core/runbook/identityCopy";

const FIELD = /^copy\.([a-z0-9_-]+)\.file$/;

/** What the bench page says was saved of the device itself; fields that were left empty are no copy. @returns what is wrong in words otherwise */
export function readCopies(form: FormData): readonly IdentityCopy[] | string {
  const copies: IdentityCopy[] = [];
  for (const key of form.keys()) {
    const partition = FIELD.exec(key)?.[1];
    if (!partition) continue;
    const field = (name: string) => String(form.get(`copy.${partition}.${name}`) ?? "").trim();
    const [file, bytes, sha256] = [field("file"), field("bytes"), field("sha256").toLowerCase()];
    if (file === "" && bytes === "" && sha256 === "") continue;
    const read = IdentityCopy.safeParse({ partition, file, bytes: /^\d+$/.test(bytes) ? Number(bytes) : null, sha256 });
    if (!read.success) {
      const at = String(read.error.issues[0].path[0]);
      const says = { file: read.error.issues[0].message, bytes: "a whole number above 0, as ls -l shows it" }[at];
      return `${partition}: ${says ?? read.error.issues[0].message}`;
    }
    copies.push(read.data);
  }
  return copies;
}
