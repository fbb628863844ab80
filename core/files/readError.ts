/** Why a file could not be read; stable, so that pages and tests can tell the cases apart. */
export type ReadProblem = "cut-short" | "damaged" | "too-large" | "not-this" | "not-supported" | "cancelled";

/** A reader's refusal: what is wrong with the file, in words. Readers throw nothing else. */
export class FileReadError extends Error {
  constructor(
    readonly problem: ReadProblem,
    message: string,
  ) {
    super(message);
  }
}
