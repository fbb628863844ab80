import fs from "node:fs";
import path from "node:path";
import { DeviceLine } from "./deviceLine";
import { type AskedDump, type AskedRows, type FlasherPlace, fileIn, type Ran } from "./run";

/** Opens the port and finds a board in its loader. @returns words where there is none */
async function loaderAt(place: FlasherPlace): Promise<DeviceLine | string> {
  const line = await DeviceLine.open(place);
  if (typeof line === "string") return line;
  const hello = await line.ask({ do: "hello" });
  if (hello.ok && hello.mode === "loader") return line;
  line.close();
  return "no loader device was found";
}

const failed = (lines: readonly string[], why: string): Ran => ({
  ok: false,
  lines: [...lines, `Refused: ${why}`, "download FAILED"],
});

/**
 * Writes the ticked rows, in the order of the table, after the board has taken the list. Nothing is guessed: a ticked row
 * without a file ends it before anything is written.
 */
export async function runRows(asked: AskedRows, place: FlasherPlace): Promise<Ran> {
  const lines: string[] = [];
  const ticked = asked.rows.filter((r) => r.on);
  const files: { row: string; bytes: Buffer }[] = [];
  for (const { row, file } of ticked) {
    const own = file?.startsWith("kept:");
    const folder = own ? place.kept : place.files;
    const full = file && folder ? fileIn(folder, own ? file.slice(5) : file) : null;
    if (!full) return failed(lines, `row ${row} is ticked and has no file${file ? ` (${file} is not there)` : ""}`);
    files.push({ row, bytes: fs.readFileSync(full) });
  }
  if (files.length === 0) return failed(lines, "no row is ticked");
  const line = await loaderAt(place);
  if (typeof line === "string") return failed(lines, line);
  try {
    const list = await line.ask({ do: "list", list: asked.list });
    if (!list.ok) return failed(lines, list.says ?? "the list can't be read");
    for (const { row, bytes } of files) {
      const answer = await line.write(row, bytes);
      if (!answer.ok) return failed(lines, `${row}: ${answer.says ?? "no reason given"}`);
      lines.push(`${row}: written`);
    }
    return { ok: true, lines: [...lines, "download OK"] };
  } catch (error) {
    return failed(lines, (error as Error).message);
  } finally {
    line.close();
  }
}

/** Dumps every row but user data, and the list, into the folder of what is kept. */
export async function runDump({ prefix }: AskedDump, place: FlasherPlace): Promise<Ran> {
  const lines: string[] = [];
  if (!place.kept) return failed(lines, "no folder for dumps was named: start it with --kept DIR");
  const line = await loaderAt(place);
  if (typeof line === "string") return failed(lines, line);
  try {
    const { rows } = await line.ask({ do: "rows" });
    const wanted = ["parameter", ...(rows ?? []).filter((r) => r !== "userdata")];
    fs.mkdirSync(place.kept, { recursive: true });
    for (const row of wanted) {
      const answer = await line.ask({ do: "read", partition: row });
      if (!answer.ok || answer.data === undefined) return failed(lines, `${row}: ${answer.says ?? "no reason given"}`);
      const bytes = Buffer.from(answer.data, "base64");
      fs.writeFileSync(path.join(place.kept, `${prefix}-${row}.img`), bytes, { flag: "wx" });
      lines.push(`${row}: ${bytes.length} bytes`);
    }
    return { ok: true, lines: [...lines, `${wanted.length - 1} images and the partition list dumped`] };
  } catch (error) {
    return failed(lines, (error as Error).message);
  } finally {
    line.close();
  }
}
