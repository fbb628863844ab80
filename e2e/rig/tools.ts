import { execFileSync } from "node:child_process";
import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { bytesSource, type Source } from "~/core/files/source";

/** A folder for one test's files, taken away when it is done. */
export class Workshop {
  readonly folder = fs.mkdtempSync(path.join(os.tmpdir(), "upshift-files-"));

  /** Full path of a file in it. */
  at = (name: string) => path.join(this.folder, name);

  write(name: string, bytes: Uint8Array | string): string {
    fs.mkdirSync(path.dirname(this.at(name)), { recursive: true });
    fs.writeFileSync(this.at(name), bytes);
    return this.at(name);
  }

  /** Runs a public program in the folder; its standard output. */
  run(program: string, ...words: string[]): string {
    return execFileSync(program, words, {
      cwd: this.folder,
      encoding: "utf8",
      stdio: ["ignore", "pipe", "pipe"],
      maxBuffer: 64 * 1_048_576,
      // Programs that make file systems lie where only root looks by itself.
      env: { ...process.env, PATH: `${process.env.PATH}:/usr/sbin:/sbin` },
    });
  }

  bytes = (name: string): Uint8Array => new Uint8Array(fs.readFileSync(this.at(name)));
  source = (name: string): Source => bytesSource(path.basename(name), this.bytes(name));

  done() {
    fs.rmSync(this.folder, { recursive: true, force: true });
  }
}

/** Numbers that look random and are the same on every machine. */
export function noise(length: number, seed = 1): Uint8Array {
  const out = new Uint8Array(length);
  let x = seed * 2_654_435_761;
  for (let i = 0; i < length; i++) {
    x ^= x << 13;
    x ^= x >>> 17;
    x ^= x << 5;
    out[i] = x;
  }
  return out;
}

/**
 * A source over a file on disk, read by ranges.
 *
 * @returns the source, and a way to close it
 */
export function diskSource(file: string): Source & { close(): void } {
  const handle = fs.openSync(file, "r");
  return {
    name: path.basename(file),
    size: fs.fstatSync(handle).size,
    async read(from, length) {
      const bytes = new Uint8Array(length);
      return bytes.subarray(0, fs.readSync(handle, bytes, 0, length, from));
    },
    close: () => fs.closeSync(handle),
  };
}
