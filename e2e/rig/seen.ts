import { expect } from "@playwright/test";
import { recognise } from "~/core/files/recognise";
import type { FileContent, FileKind } from "~/core/files/report";
import type { Workshop } from "./tools";

/** What the lane tells of a file in the workshop, which must be of the kind given. */
export async function seenAs<K extends FileKind>(shop: Workshop, name: string, kind: K) {
  const report = await recognise(shop.source(name));
  expect(report.content.kind, report.says).toBe(kind);
  return { ...report, content: report.content as Extract<FileContent, { kind: K }> };
}
