import { readCsv } from "./table";

export interface KnownRow {
  readonly brand: string;
  readonly name: string;
  readonly device: string;
  readonly model: string;
}

/** Most devices of one list; the lists that go round have about 40,000. */
export const MAX_KNOWN_ROWS = 200_000;

const HEADERS: Record<keyof KnownRow, readonly string[]> = {
  brand: ["brand", "retail branding", "maker", "manufacturer"],
  name: ["name", "marketing name", "market name"],
  device: ["device", "code name", "codename"],
  model: ["model", "model number"],
};

/**
 * Reads a list of supported devices: brand, name, device (code name) and model (model number), in any order.
 *
 * Rows without a model and a code name tell nothing and are left out; the same device twice is one.
 *
 * @source the column names of the supported-devices lists that go round as CSV
 * @example readKnownDevices("brand,name,device,model\nA,B,c,D").ok // true
 */
export function readKnownDevices(
  text: string,
): { readonly ok: true; readonly devices: readonly KnownRow[] } | { readonly ok: false; readonly says: string } {
  const table = readCsv(text, MAX_KNOWN_ROWS);
  if (!table.ok) return table;
  const low = table.header.map((h) => h.toLowerCase().trim());
  const place = Object.fromEntries(
    Object.entries(HEADERS).map(([key, names]) => [key, low.findIndex((h) => names.includes(h))]),
  ) as Record<keyof KnownRow, number>;
  const missing = (["brand", "device", "model"] as const).filter((key) => place[key] < 0);
  if (missing.length)
    return {
      ok: false,
      says: `There is no column “${missing.join("”, “")}” in the first line (found: ${table.header.slice(0, 8).join(", ")}). The list has brand, name, device and model`,
    };
  const seen = new Set<string>();
  const devices: KnownRow[] = [];
  for (const { cells } of table.rows) {
    const cell = (key: keyof KnownRow) => (cells[place[key]] ?? "").trim().slice(0, 120);
    const row = { brand: cell("brand"), name: cell("name"), device: cell("device"), model: cell("model") };
    const key = `${row.brand}\n${row.name}\n${row.device}\n${row.model}`;
    if ((row.device === "" && row.model === "") || seen.has(key)) continue;
    seen.add(key);
    devices.push(row);
  }
  return devices.length > 0 ? { ok: true, devices } : { ok: false, says: "No row names a model number or a code name" };
}
