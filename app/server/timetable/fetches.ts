import type { FileRef, Runbook } from "~/core/runbook/step";
import type { Fetch } from "~/core/schedule/eveningWork";
import type { Store } from "~/store/database";
import { newestSeen } from "~/store/filesSeen";

const BITS_PER_BYTE = 8;
const MEGABIT = 1e6;

/** Files that devices want and nobody has looked at here yet, with what the line takes for each. */
export class Fetches {
  private readonly seen;
  private readonly wanted = new Map<string, Fetch>();

  /** @param line what the line into the house carries, Mbit/s; null: files come from elsewhere, and nothing is waited for */
  constructor(
    store: Store,
    private readonly line: number | null,
  ) {
    this.seen = newestSeen(store);
  }

  /** The files of a sheet that are not at hand: those of the way, and those of its way back. @returns their names */
  of({ files, backFiles }: Pick<Runbook, "files" | "backFiles">): string[] {
    if (this.line === null) return [];
    return [...files, ...backFiles].flatMap((file) => {
      const name = nameOf(file);
      if (file.bytes === 0 || this.seen.get(name)?.verdict === "yes") return [];
      const seconds = (file.bytes * BITS_PER_BYTE) / ((this.line as number) * MEGABIT);
      this.wanted.set(name, { file: name, minutes: Math.max(1, Math.ceil(seconds / 60)) });
      return [name];
    });
  }

  all(): Fetch[] {
    return [...this.wanted.values()];
  }
}

const nameOf = ({ image, name }: FileRef) => `${image}/${name}`;
