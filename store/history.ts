/**
 * Tables that are only ever appended to, with the columns that never change: what may be erased (a donor's address, the
 * text of a letter, that evidence was taken away) is left out, so that erasing breaks no seal.
 */
export const HISTORY = {
  catalogue_change: ["id", "kind", "entry", "doc", "at", "by", "take"],
  policy_change: ["id", "doc", "at", "by"],
  device_change: ["id", "device", "was", "at", "by"],
  fact: ["id", "device", "key", "value", "source", "at", "by", "run_step"],
  taken_back: ["id", "kind", "row", "at", "by"],
  clearance_event: ["id", "device", "event", "state", "evidence", "at", "by", "detail"],
  decision: ["id", "device", "way", "proposed", "reason", "at", "by", "rests"],
  run: ["id", "device", "decision", "runbook", "steps", "at", "by"],
  run_step: ["id", "run", "place", "code", "outcome", "note", "at", "by"],
  run_report: ["id", "run", "session", "seq", "place", "event", "exit", "values", "tail", "at", "by"],
  run_end: ["id", "device", "run", "result", "place", "seen", "at", "by"],
  checkout_entry: ["id", "device", "run", "item", "measured", "result", "at", "by"],
  checkout_end: ["id", "device", "run", "result", "note", "at", "by"],
  device_end: ["id", "device", "result", "reason", "at", "by"],
  donor_change: ["id", "donor", "at", "by"],
  letter: ["id", "donor", "kind", "how", "language", "subject", "tags", "at", "by"],
  letter_template_change: ["id", "template", "doc", "at", "by"],
  evidence: ["id", "device", "digest", "name", "type", "bytes", "at", "by"],
  set_aside: ["id", "device", "kind", "state", "note", "at", "by"],
  file_seen: ["id", "name", "size", "sha256", "md5", "image", "file", "verdict", "says", "at", "by"],
  device_room: ["id", "device", "doc", "at", "by"],
  pack_take: ["id", "pack", "at", "by"],
  pack_said: ["id", "take", "kind", "entry", "doc"],
  identity_copy: ["id", "device", "run", "partition", "file", "bytes", "sha256", "at", "by"],
  package_seen: ["id", "device", "list", "name", "outcome", "at", "by"],
  bench_change: ["id", "bench", "doc", "at", "by"],
  run_bench: ["id", "run", "bench", "at", "by"],
  evening_change: ["id", "kind", "row", "doc", "at", "by"],
  pin: ["id", "device", "grp", "kind", "at", "by"],
  division: ["id", "doc", "at", "by"],
  division_device: ["id", "division", "device", "grp", "way", "chance", "was_need"],
  division_back: ["id", "division", "at", "by"],
  promise: ["id", "grp", "count", "day", "chance", "sure", "at", "by"],
  promise_device: ["id", "promise", "device"],
  promise_back: ["id", "promise", "reason", "at", "by"],
  piece_pin: ["id", "device", "ends", "volunteer", "bench", "start", "at", "by"],
  division_aims: ["id", "doc", "at", "by"],
  charging: ["id", "device", "bench", "at", "by"],
  account_change: ["id", "name", "what", "at", "by"],
  shown_number: ["id", "device", "what", "at", "by"],
} as const satisfies Record<string, readonly string[]>;

export type HistoryTable = keyof typeof HISTORY;
export const HISTORY_TABLES = Object.keys(HISTORY) as HistoryTable[];
