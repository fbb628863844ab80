import { readPartitionList } from "~/core/files/formats/partitionList";

const SECTOR = 512;
/** Rows that stand before the partitions, at places of their own. */
const BEFORE = ["loader", "parameter"];

/** What keeps a board's partition list from being used: it can't be read, its rows overlap, or pass the end of the flash. */
export function boardListProblems(text: string, sectors: number | null): string[] {
  const list = readPartitionList(text);
  if (!list) return ["It holds no partition list: it has to name mtdparts=…(name),…"];
  if (list.unit !== "sectors") return ["It is no board's list: the line with FIRMWARE is missing"];
  const problems = list.problems.filter((p) => !p.includes("belong to nobody"));
  if (list.more.length > 0)
    problems.push(`It names a second flash, ${list.more[0].device}: a board is written by the list of one`);
  const flash = sectors === null ? null : sectors * SECTOR;
  const past = flash === null ? undefined : list.rows.find((r) => r.from + (r.bytes ?? 0) > flash || r.from >= flash);
  if (past && flash !== null)
    problems.push(`${past.name} passes the end of the flash (${flash.toLocaleString("en")} bytes)`);
  for (const name of ["boot", "system", "userdata"])
    if (!list.rows.some((r) => r.name === name)) problems.push(`A row ${name} is missing`);
  return problems;
}

/**
 * Names of a board's partitions in the order of its list, user data among them.
 *
 * @example boardPartitions("FIRMWARE_VER:1\nCMDLINE:mtdparts=nand0:0x2000@0x2000(boot),-@0x4000(userdata)") // ["boot", "userdata"]
 */
export const boardPartitions = (text: string): readonly string[] =>
  (readPartitionList(text)?.rows ?? []).map((r) => r.name).filter((n) => !BEFORE.includes(n));

/**
 * What is kept of a board: every partition but user data, and the list itself.
 *
 * @example dumpedParts("FIRMWARE_VER:1\nCMDLINE:mtdparts=nand0:0x2000@0x2000(boot),-@0x4000(userdata)") // ["parameter", "boot"]
 */
export const dumpedParts = (text: string): readonly string[] => [
  "parameter",
  ...boardPartitions(text).filter((n) => n !== "userdata"),
];

/**
 * Bytes of what is kept of a board, by partition; what takes the rest of the flash has none.
 *
 * @example partitionBytes("FIRMWARE_VER:1\nCMDLINE:mtdparts=nand0:0x2000@0x2000(boot),-@0x4000(userdata)") // { boot: 4194304 }
 */
export const partitionBytes = (text: string): Readonly<Record<string, number>> => {
  const kept = dumpedParts(text);
  return Object.fromEntries(
    (readPartitionList(text)?.rows ?? []).flatMap(({ name, bytes }) =>
      bytes !== null && kept.includes(name) && name !== "parameter" ? [[name, bytes]] : [],
    ),
  );
};
