-- Several people: accounts, sessions, invitations; forms that are taken once; history that is closed on every side.

CREATE TABLE account (
  id       INTEGER PRIMARY KEY,
  name     TEXT NOT NULL COLLATE NOCASE UNIQUE,
  role     TEXT NOT NULL CHECK (role IN ('coordinator', 'bench', 'desk', 'looker-on')),
  -- Argon2id, in the PHC string format: never the password.
  password TEXT NOT NULL,
  closed   TEXT,
  at       TEXT NOT NULL
) STRICT;

-- Who made, changed or closed an account, and who showed a number that is hidden.
CREATE TABLE account_change (
  id   INTEGER PRIMARY KEY,
  name TEXT NOT NULL,
  what TEXT NOT NULL,
  at   TEXT NOT NULL,
  by   TEXT NOT NULL
) STRICT;

-- A browser that is signed in. What it holds is random; here lies its SHA-256 only.
CREATE TABLE session (
  id      INTEGER PRIMARY KEY,
  digest  TEXT NOT NULL UNIQUE,
  -- Without an account: a volunteer's own phone, let in for an evening.
  account INTEGER REFERENCES account (id),
  name    TEXT NOT NULL,
  role    TEXT NOT NULL,
  agent   TEXT NOT NULL DEFAULT '',
  begun   TEXT NOT NULL,
  seen    TEXT NOT NULL,
  expires TEXT NOT NULL,
  ended   TEXT
) STRICT;
CREATE INDEX session_account ON session (account);

CREATE TABLE invitation (
  digest  TEXT PRIMARY KEY,
  name    TEXT NOT NULL,
  role    TEXT NOT NULL,
  until   TEXT NOT NULL,
  expires TEXT NOT NULL,
  used    TEXT
) STRICT, WITHOUT ROWID;

-- Passwords that were wrong, for as long as they hold somebody up.
CREATE TABLE sign_in_failure (
  id      INTEGER PRIMARY KEY,
  name    TEXT NOT NULL COLLATE NOCASE,
  address TEXT NOT NULL,
  at      TEXT NOT NULL
) STRICT;
CREATE INDEX sign_in_failure_name ON sign_in_failure (name, at);
CREATE INDEX sign_in_failure_address ON sign_in_failure (address, at);

-- A script of a run reports back with a key of its own.
CREATE TABLE report_key (
  digest TEXT PRIMARY KEY,
  device INTEGER NOT NULL REFERENCES device (id),
  at     TEXT NOT NULL,
  by     TEXT NOT NULL
) STRICT, WITHOUT ROWID;
CREATE INDEX report_key_device ON report_key (device);

-- Numbers and names that somebody had shown to them.
CREATE TABLE shown_number (
  id     INTEGER PRIMARY KEY,
  device INTEGER NOT NULL REFERENCES device (id),
  what   TEXT NOT NULL,
  at     TEXT NOT NULL,
  by     TEXT NOT NULL
) STRICT;
CREATE INDEX shown_number_device ON shown_number (device, id);

-- Forms that were sent: the second one with the same mark does nothing.
CREATE TABLE form_seen (
  mark     TEXT PRIMARY KEY,
  at       TEXT NOT NULL,
  ended    INTEGER NOT NULL DEFAULT 0 CHECK (ended IN (0, 1)),
  leads_to TEXT
) STRICT, WITHOUT ROWID;
CREATE INDEX form_seen_at ON form_seen (at);

-- A running digest over the history: how far it reaches in each table, and SHA-256 over the one before and the rows between.
CREATE TABLE seal (
  id     INTEGER PRIMARY KEY,
  upto   TEXT NOT NULL CHECK (json_valid(upto)),
  digest TEXT NOT NULL CHECK (length(digest) = 64),
  at     TEXT NOT NULL
) STRICT;

-- History that had no guard yet.
CREATE TRIGGER policy_change_kept BEFORE UPDATE ON policy_change BEGIN SELECT RAISE(ABORT, 'history is appended, never changed'); END;
CREATE TRIGGER policy_change_stays BEFORE DELETE ON policy_change BEGIN SELECT RAISE(ABORT, 'history is appended, never deleted'); END;
CREATE TRIGGER device_change_kept BEFORE UPDATE ON device_change BEGIN SELECT RAISE(ABORT, 'history is appended, never changed'); END;
CREATE TRIGGER device_change_stays BEFORE DELETE ON device_change BEGIN SELECT RAISE(ABORT, 'history is appended, never deleted'); END;
CREATE TRIGGER letter_template_change_kept BEFORE UPDATE ON letter_template_change BEGIN SELECT RAISE(ABORT, 'history is appended, never changed'); END;
CREATE TRIGGER letter_template_change_stays BEFORE DELETE ON letter_template_change BEGIN SELECT RAISE(ABORT, 'history is appended, never deleted'); END;
CREATE TRIGGER account_change_kept BEFORE UPDATE ON account_change BEGIN SELECT RAISE(ABORT, 'history is appended, never changed'); END;
CREATE TRIGGER account_change_stays BEFORE DELETE ON account_change BEGIN SELECT RAISE(ABORT, 'history is appended, never deleted'); END;
CREATE TRIGGER shown_number_kept BEFORE UPDATE ON shown_number BEGIN SELECT RAISE(ABORT, 'what was shown is appended, never changed'); END;
CREATE TRIGGER shown_number_stays BEFORE DELETE ON shown_number BEGIN SELECT RAISE(ABORT, 'what was shown is appended, never deleted'); END;
CREATE TRIGGER seal_kept BEFORE UPDATE ON seal BEGIN SELECT RAISE(ABORT, 'seals is appended, never changed'); END;
CREATE TRIGGER seal_stays BEFORE DELETE ON seal BEGIN SELECT RAISE(ABORT, 'seals is appended, never deleted'); END;
CREATE TRIGGER donor_change_kept BEFORE UPDATE ON donor_change
WHEN NEW.was IS NOT NULL OR NEW.id <> OLD.id OR NEW.donor <> OLD.donor OR NEW.at <> OLD.at OR NEW.by <> OLD.by
BEGIN SELECT RAISE(ABORT, 'history is appended; only what stood there may be erased'); END;
CREATE TRIGGER donor_change_stays BEFORE DELETE ON donor_change BEGIN SELECT RAISE(ABORT, 'history is appended, never deleted'); END;

-- What erases changes what it erases, and nothing else.
DROP TRIGGER letter_kept;
CREATE TRIGGER letter_kept BEFORE UPDATE ON letter
WHEN NEW.erased IS NULL OR NEW.recipient <> '' OR NEW.body <> '' OR NEW.id <> OLD.id OR NEW.donor <> OLD.donor OR NEW.kind <> OLD.kind
  OR NEW.how <> OLD.how OR NEW.language <> OLD.language OR NEW.subject <> OLD.subject OR NEW.tags <> OLD.tags OR NEW.at <> OLD.at
  OR NEW.by <> OLD.by OR (OLD.erased IS NOT NULL AND NEW.erased <> OLD.erased)
BEGIN SELECT RAISE(ABORT, 'letters are appended; only address and text may be erased'); END;
DROP TRIGGER evidence_kept;
CREATE TRIGGER evidence_kept BEFORE UPDATE ON evidence
WHEN NEW.removed IS NULL OR NEW.id <> OLD.id OR NEW.digest <> OLD.digest OR NEW.device <> OLD.device OR NEW.name <> OLD.name
  OR NEW.type <> OLD.type OR NEW.bytes <> OLD.bytes OR NEW.at <> OLD.at OR NEW.by <> OLD.by
  OR (OLD.removed IS NOT NULL AND NEW.removed <> OLD.removed)
BEGIN SELECT RAISE(ABORT, 'evidence is appended; it may only be marked as removed'); END;

-- Replacing is deleting by another name: it runs past the triggers above, so the number of a row is taken once.
CREATE TRIGGER catalogue_change_once BEFORE INSERT ON catalogue_change WHEN EXISTS (SELECT 1 FROM catalogue_change WHERE id = NEW.id) BEGIN SELECT RAISE(ABORT, 'history is appended, never replaced'); END;
CREATE TRIGGER policy_change_once BEFORE INSERT ON policy_change WHEN EXISTS (SELECT 1 FROM policy_change WHERE id = NEW.id) BEGIN SELECT RAISE(ABORT, 'history is appended, never replaced'); END;
CREATE TRIGGER device_change_once BEFORE INSERT ON device_change WHEN EXISTS (SELECT 1 FROM device_change WHERE id = NEW.id) BEGIN SELECT RAISE(ABORT, 'history is appended, never replaced'); END;
CREATE TRIGGER fact_once BEFORE INSERT ON fact WHEN EXISTS (SELECT 1 FROM fact WHERE id = NEW.id) BEGIN SELECT RAISE(ABORT, 'facts is appended, never replaced'); END;
CREATE TRIGGER clearance_event_once BEFORE INSERT ON clearance_event WHEN EXISTS (SELECT 1 FROM clearance_event WHERE id = NEW.id) BEGIN SELECT RAISE(ABORT, 'clearance is appended, never replaced'); END;
CREATE TRIGGER decision_once BEFORE INSERT ON decision WHEN EXISTS (SELECT 1 FROM decision WHERE id = NEW.id) BEGIN SELECT RAISE(ABORT, 'decisions is appended, never replaced'); END;
CREATE TRIGGER run_once BEFORE INSERT ON run WHEN EXISTS (SELECT 1 FROM run WHERE id = NEW.id) BEGIN SELECT RAISE(ABORT, 'runs is appended, never replaced'); END;
CREATE TRIGGER run_step_once BEFORE INSERT ON run_step WHEN EXISTS (SELECT 1 FROM run_step WHERE id = NEW.id) BEGIN SELECT RAISE(ABORT, 'run steps is appended, never replaced'); END;
CREATE TRIGGER checkout_entry_once BEFORE INSERT ON checkout_entry WHEN EXISTS (SELECT 1 FROM checkout_entry WHERE id = NEW.id) BEGIN SELECT RAISE(ABORT, 'checks is appended, never replaced'); END;
CREATE TRIGGER checkout_end_once BEFORE INSERT ON checkout_end WHEN EXISTS (SELECT 1 FROM checkout_end WHERE id = NEW.id) BEGIN SELECT RAISE(ABORT, 'checkouts is appended, never replaced'); END;
CREATE TRIGGER donor_change_once BEFORE INSERT ON donor_change WHEN EXISTS (SELECT 1 FROM donor_change WHERE id = NEW.id) BEGIN SELECT RAISE(ABORT, 'history is appended, never replaced'); END;
CREATE TRIGGER letter_once BEFORE INSERT ON letter WHEN EXISTS (SELECT 1 FROM letter WHERE id = NEW.id) BEGIN SELECT RAISE(ABORT, 'letters is appended, never replaced'); END;
CREATE TRIGGER letter_template_change_once BEFORE INSERT ON letter_template_change WHEN EXISTS (SELECT 1 FROM letter_template_change WHERE id = NEW.id) BEGIN SELECT RAISE(ABORT, 'history is appended, never replaced'); END;
CREATE TRIGGER evidence_once BEFORE INSERT ON evidence WHEN EXISTS (SELECT 1 FROM evidence WHERE id = NEW.id) BEGIN SELECT RAISE(ABORT, 'evidence is appended, never replaced'); END;
CREATE TRIGGER set_aside_once BEFORE INSERT ON set_aside WHEN EXISTS (SELECT 1 FROM set_aside WHERE id = NEW.id) BEGIN SELECT RAISE(ABORT, 'what was set aside is appended, never replaced'); END;
CREATE TRIGGER fact_undone_once BEFORE INSERT ON fact_undone WHEN EXISTS (SELECT 1 FROM fact_undone WHERE fact = NEW.fact) BEGIN SELECT RAISE(ABORT, 'what was taken back is appended, never replaced'); END;
CREATE TRIGGER file_seen_once BEFORE INSERT ON file_seen WHEN EXISTS (SELECT 1 FROM file_seen WHERE id = NEW.id) BEGIN SELECT RAISE(ABORT, 'what was seen is appended, never replaced'); END;
CREATE TRIGGER device_room_once BEFORE INSERT ON device_room WHEN EXISTS (SELECT 1 FROM device_room WHERE id = NEW.id) BEGIN SELECT RAISE(ABORT, 'what was read is appended, never replaced'); END;
CREATE TRIGGER pack_take_once BEFORE INSERT ON pack_take WHEN EXISTS (SELECT 1 FROM pack_take WHERE id = NEW.id) BEGIN SELECT RAISE(ABORT, 'what was taken in is appended, never replaced'); END;
CREATE TRIGGER pack_undo_once BEFORE INSERT ON pack_undo WHEN EXISTS (SELECT 1 FROM pack_undo WHERE take = NEW.take) BEGIN SELECT RAISE(ABORT, 'what was undone is appended, never replaced'); END;
CREATE TRIGGER pack_said_once BEFORE INSERT ON pack_said WHEN EXISTS (SELECT 1 FROM pack_said WHERE id = NEW.id) BEGIN SELECT RAISE(ABORT, 'what a pack said is appended, never replaced'); END;
CREATE TRIGGER run_end_once BEFORE INSERT ON run_end WHEN EXISTS (SELECT 1 FROM run_end WHERE id = NEW.id) BEGIN SELECT RAISE(ABORT, 'ends is appended, never replaced'); END;
CREATE TRIGGER run_report_once BEFORE INSERT ON run_report WHEN EXISTS (SELECT 1 FROM run_report WHERE id = NEW.id) BEGIN SELECT RAISE(ABORT, 'reports is appended, never replaced'); END;
CREATE TRIGGER device_end_once BEFORE INSERT ON device_end WHEN EXISTS (SELECT 1 FROM device_end WHERE id = NEW.id) BEGIN SELECT RAISE(ABORT, 'ends is appended, never replaced'); END;
CREATE TRIGGER identity_copy_once BEFORE INSERT ON identity_copy WHEN EXISTS (SELECT 1 FROM identity_copy WHERE id = NEW.id) BEGIN SELECT RAISE(ABORT, 'copies is appended, never replaced'); END;
CREATE TRIGGER package_seen_once BEFORE INSERT ON package_seen WHEN EXISTS (SELECT 1 FROM package_seen WHERE id = NEW.id) BEGIN SELECT RAISE(ABORT, 'what was seen is appended, never replaced'); END;
CREATE TRIGGER account_change_once BEFORE INSERT ON account_change WHEN EXISTS (SELECT 1 FROM account_change WHERE id = NEW.id) BEGIN SELECT RAISE(ABORT, 'history is appended, never replaced'); END;
CREATE TRIGGER shown_number_once BEFORE INSERT ON shown_number WHEN EXISTS (SELECT 1 FROM shown_number WHERE id = NEW.id) BEGIN SELECT RAISE(ABORT, 'what was shown is appended, never replaced'); END;
CREATE TRIGGER seal_once BEFORE INSERT ON seal WHEN EXISTS (SELECT 1 FROM seal WHERE id = NEW.id) BEGIN SELECT RAISE(ABORT, 'seals is appended, never replaced'); END;
CREATE TRIGGER run_report_told_once BEFORE INSERT ON run_report
WHEN EXISTS (SELECT 1 FROM run_report WHERE run = NEW.run AND session = NEW.session AND seq = NEW.seq)
BEGIN SELECT RAISE(ABORT, 'reports are appended, never replaced'); END;
CREATE TRIGGER pack_once BEFORE INSERT ON pack WHEN EXISTS (SELECT 1 FROM pack WHERE id = NEW.id) BEGIN SELECT RAISE(ABORT, 'a pack is never changed'); END;

-- What was taken back goes by the number of what it takes back: here it stands in the order in which that happened.
CREATE TABLE taken_back (
  id   INTEGER PRIMARY KEY,
  kind TEXT NOT NULL CHECK (kind IN ('fact', 'pack')),
  row  INTEGER NOT NULL,
  at   TEXT NOT NULL,
  by   TEXT NOT NULL,
  UNIQUE (kind, row)
) STRICT;
INSERT INTO taken_back (kind, row, at, by) SELECT 'fact', fact, at, by FROM fact_undone ORDER BY at, fact;
INSERT INTO taken_back (kind, row, at, by) SELECT 'pack', take, at, by FROM pack_undo ORDER BY at, take;
CREATE TRIGGER fact_undone_noted AFTER INSERT ON fact_undone BEGIN
  INSERT INTO taken_back (kind, row, at, by) VALUES ('fact', NEW.fact, NEW.at, NEW.by);
END;
CREATE TRIGGER pack_undo_noted AFTER INSERT ON pack_undo BEGIN
  INSERT INTO taken_back (kind, row, at, by) VALUES ('pack', NEW.take, NEW.at, NEW.by);
END;
CREATE TRIGGER taken_back_kept BEFORE UPDATE ON taken_back BEGIN SELECT RAISE(ABORT, 'what was taken back is appended, never changed'); END;
CREATE TRIGGER taken_back_stays BEFORE DELETE ON taken_back BEGIN SELECT RAISE(ABORT, 'what was taken back is appended, never deleted'); END;
CREATE TRIGGER taken_back_once BEFORE INSERT ON taken_back WHEN EXISTS (SELECT 1 FROM taken_back WHERE id = NEW.id OR (kind = NEW.kind AND row = NEW.row)) BEGIN SELECT RAISE(ABORT, 'what was taken back is appended, never replaced'); END;

-- A list as it came, so that it can be read anew with another sheet, separator or heading; and how it was read.
CREATE TABLE import_source (
  import INTEGER PRIMARY KEY REFERENCES import (id),
  bytes  BLOB NOT NULL,
  found  TEXT NOT NULL CHECK (json_valid(found))
) STRICT;

-- Serial numbers in the one form in which they are compared (core/device/serial.ts).
UPDATE device SET serial = replace(replace(replace(replace(replace(serial, ' ', ''), '-', ''), '.', ''), '/', ''), ':', '')
WHERE  serial GLOB '*[ ./:-]*';
