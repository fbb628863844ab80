import { change, queryOne, type Store } from "./database";

const one = queryOne<{ key: string }, { value: string }>(`SELECT value FROM setting WHERE key = @key`);
const put = change<{ key: string; value: string }>(`
  INSERT INTO setting (key, value) VALUES (@key, @value)
  ON CONFLICT (key) DO UPDATE SET value = excluded.value
`);

/** What the installation remembers about itself, beside its policy. */
export const readSetting = (store: Store, key: string): string | null => one(store, { key })?.value ?? null;
export const writeSetting = (store: Store, key: string, value: string) => put(store, { key, value });
