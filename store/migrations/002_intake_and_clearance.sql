-- Intake, identity and clearance in full: donors and letters, evidence, what was set aside, lists taken in and undone,
-- supported devices, the register, and an index to search devices by.

ALTER TABLE clearance_event ADD COLUMN detail TEXT NOT NULL DEFAULT '{}' CHECK (json_valid(detail));

-- An undone import keeps its devices as history: they are withdrawn, and their tags are free again.
CREATE TABLE import (
  id      INTEGER PRIMARY KEY,
  batch   TEXT NOT NULL REFERENCES batch (id),
  source  TEXT NOT NULL,
  file    TEXT NOT NULL,
  header  TEXT NOT NULL CHECK (json_valid(header)),
  mapping TEXT NOT NULL CHECK (json_valid(mapping)),
  -- Beginning of the tags that are given where the list has none.
  prefix  TEXT NOT NULL DEFAULT '',
  remarks TEXT NOT NULL DEFAULT '[]' CHECK (json_valid(remarks)),
  state   TEXT NOT NULL DEFAULT 'open' CHECK (state IN ('open', 'dropped')),
  version INTEGER NOT NULL DEFAULT 1,
  at      TEXT NOT NULL,
  by      TEXT NOT NULL
) STRICT;

CREATE TABLE import_row (
  import INTEGER NOT NULL REFERENCES import (id),
  line   INTEGER NOT NULL,
  cells  TEXT NOT NULL CHECK (json_valid(cells)),
  -- What a person said of the row: leave it out, or take it in although the device was here before.
  choice TEXT CHECK (choice IN ('leave', 'returning')),
  device INTEGER,
  PRIMARY KEY (import, line)
) STRICT, WITHOUT ROWID;

CREATE TABLE import_mapping (
  source  TEXT PRIMARY KEY COLLATE NOCASE,
  mapping TEXT NOT NULL CHECK (json_valid(mapping)),
  at      TEXT NOT NULL,
  by      TEXT NOT NULL
) STRICT;

ALTER TABLE device ADD COLUMN import INTEGER REFERENCES import (id);
ALTER TABLE device ADD COLUMN returns INTEGER REFERENCES device (id);
ALTER TABLE device ADD COLUMN withdrawn TEXT;
CREATE INDEX device_serial_any_case ON device (serial COLLATE NOCASE) WHERE serial IS NOT NULL;
CREATE INDEX device_imei ON device (imei) WHERE imei IS NOT NULL;
CREATE INDEX device_import ON device (import) WHERE import IS NOT NULL;
CREATE INDEX device_donor ON device (donor COLLATE NOCASE);

-- How to reach a donor. Erased some days after the last case has closed; the name on the device stays.
CREATE TABLE donor (
  name     TEXT PRIMARY KEY COLLATE NOCASE,
  email    TEXT NOT NULL DEFAULT '',
  phone    TEXT NOT NULL DEFAULT '',
  channel  TEXT NOT NULL DEFAULT 'email' CHECK (channel IN ('email', 'desk', 'phone', 'post')),
  language TEXT NOT NULL DEFAULT 'en',
  plain    INTEGER NOT NULL DEFAULT 0 CHECK (plain IN (0, 1)),
  erased   TEXT,
  version  INTEGER NOT NULL DEFAULT 1
) STRICT;

-- Who wrote a contact down, when, and what stood there before; that is erased together with the contact.
CREATE TABLE donor_change (
  id    INTEGER PRIMARY KEY,
  donor TEXT NOT NULL COLLATE NOCASE,
  was   TEXT CHECK (was IS NULL OR json_valid(was)),
  at    TEXT NOT NULL,
  by    TEXT NOT NULL
) STRICT;

CREATE TABLE letter (
  id        INTEGER PRIMARY KEY,
  donor     TEXT NOT NULL,
  kind      TEXT NOT NULL,
  how       TEXT NOT NULL CHECK (how IN ('outbox', 'copied', 'printed')),
  language  TEXT NOT NULL,
  recipient TEXT NOT NULL,
  subject   TEXT NOT NULL,
  body      TEXT NOT NULL,
  tags      TEXT NOT NULL CHECK (json_valid(tags)),
  erased    TEXT,
  at        TEXT NOT NULL,
  by        TEXT NOT NULL
) STRICT;

CREATE INDEX letter_donor ON letter (donor COLLATE NOCASE, id);

CREATE TABLE letter_template (
  id      TEXT PRIMARY KEY,
  doc     TEXT NOT NULL CHECK (json_valid(doc)),
  version INTEGER NOT NULL DEFAULT 1
) STRICT;

CREATE TABLE letter_template_change (
  id       INTEGER PRIMARY KEY,
  template TEXT NOT NULL,
  -- NULL: back to the one that ships.
  doc      TEXT CHECK (doc IS NULL OR json_valid(doc)),
  at       TEXT NOT NULL,
  by       TEXT NOT NULL
) STRICT;

-- Photos and papers of a case. The file lies beside the database under its digest.
CREATE TABLE evidence (
  id      INTEGER PRIMARY KEY,
  device  INTEGER NOT NULL REFERENCES device (id),
  digest  TEXT NOT NULL,
  name    TEXT NOT NULL,
  type    TEXT NOT NULL,
  bytes   INTEGER NOT NULL,
  removed TEXT,
  at      TEXT NOT NULL,
  by      TEXT NOT NULL
) STRICT;
CREATE INDEX evidence_device ON evidence (device, id);
CREATE INDEX evidence_digest ON evidence (digest);

CREATE TABLE set_aside (
  id     INTEGER PRIMARY KEY,
  device INTEGER NOT NULL REFERENCES device (id),
  kind   TEXT NOT NULL,
  state  TEXT NOT NULL CHECK (state IN ('aside', 'back')),
  note   TEXT NOT NULL DEFAULT '',
  at     TEXT NOT NULL,
  by     TEXT NOT NULL
) STRICT;
CREATE INDEX set_aside_device ON set_aside (device, id);

-- Facts that were taken back: they stay in the history and count for nothing.
CREATE TABLE fact_undone (
  fact INTEGER PRIMARY KEY REFERENCES fact (id),
  at   TEXT NOT NULL,
  by   TEXT NOT NULL
) STRICT;

-- What was scanned at the table, and what stood there before: each entry can be undone.
CREATE TABLE scan (
  id     INTEGER PRIMARY KEY,
  device INTEGER NOT NULL REFERENCES device (id),
  what   TEXT NOT NULL CHECK (what IN ('device', 'imei', 'serial')),
  text   TEXT NOT NULL,
  was    TEXT,
  undone TEXT,
  at     TEXT NOT NULL,
  by     TEXT NOT NULL
) STRICT;
CREATE INDEX scan_device ON scan (device);

-- What is asked of the register of lost devices, and what it said.
CREATE TABLE register_check (
  id       INTEGER PRIMARY KEY,
  device   INTEGER NOT NULL REFERENCES device (id),
  state    TEXT NOT NULL CHECK (state IN ('waiting', 'clear', 'hit', 'given-up')),
  attempts INTEGER NOT NULL DEFAULT 0,
  next_at  TEXT NOT NULL,
  says     TEXT NOT NULL DEFAULT '',
  at       TEXT NOT NULL
) STRICT;
CREATE INDEX register_waiting ON register_check (state, next_at);
CREATE INDEX register_device ON register_check (device, id);

CREATE TABLE setting (
  key   TEXT PRIMARY KEY,
  value TEXT NOT NULL
) STRICT;

CREATE TABLE known_list (
  id   INTEGER PRIMARY KEY CHECK (id = 1),
  file TEXT NOT NULL,
  rows INTEGER NOT NULL,
  at   TEXT NOT NULL,
  by   TEXT NOT NULL
) STRICT;

-- The users' own list of supported devices: found by any part of three letters or more.
CREATE VIRTUAL TABLE known_device USING fts5 (brand, name, device, model, tokenize = 'trigram');

-- Devices by part of the tag, serial number, IMEI, donor, model number or name.
CREATE VIRTUAL TABLE device_search USING fts5 (tag, serial, imei, donor, model, tokenize = 'trigram');
INSERT INTO device_search (rowid, tag, serial, imei, donor, model)
SELECT d.id, d.tag, coalesce(d.serial, ''), coalesce(d.imei, ''), d.donor,
       coalesce((SELECT group_concat(json_extract(value, '$'), ' ') FROM fact
                 WHERE device = d.id AND key IN ('model.number', 'model.name')), '')
FROM   device d;
-- Devices of a list are put into the index together when the whole list is in: see store/imports.ts.
CREATE TRIGGER search_in AFTER INSERT ON device WHEN NEW.import IS NULL BEGIN
  INSERT INTO device_search (rowid, tag, serial, imei, donor, model)
  VALUES (NEW.id, NEW.tag, coalesce(NEW.serial, ''), coalesce(NEW.imei, ''), NEW.donor, '');
END;
CREATE TRIGGER search_on AFTER UPDATE OF tag, serial, imei, donor ON device BEGIN
  UPDATE device_search
  SET    tag = NEW.tag, serial = coalesce(NEW.serial, ''), imei = coalesce(NEW.imei, ''), donor = NEW.donor
  WHERE  rowid = NEW.id;
END;
CREATE TRIGGER search_model AFTER INSERT ON fact WHEN NEW.key IN ('model.number', 'model.name') BEGIN
  UPDATE device_search SET model = model || ' ' || json_extract(NEW.value, '$') WHERE rowid = NEW.device;
END;

CREATE TRIGGER fact_undone_kept BEFORE UPDATE ON fact_undone BEGIN SELECT RAISE(ABORT, 'what was taken back is appended, never changed'); END;
CREATE TRIGGER fact_undone_stays BEFORE DELETE ON fact_undone BEGIN SELECT RAISE(ABORT, 'what was taken back is appended, never deleted'); END;
CREATE TRIGGER fact_undone_moves AFTER INSERT ON fact_undone BEGIN
  UPDATE device SET revision = revision + 1 WHERE id = (SELECT device FROM fact WHERE id = NEW.fact);
END;

-- Append only; letters and evidence lose what is personal when their time has come, and nothing else.
CREATE TRIGGER set_aside_kept BEFORE UPDATE ON set_aside BEGIN SELECT RAISE(ABORT, 'what was set aside is appended, never changed'); END;
CREATE TRIGGER set_aside_stays BEFORE DELETE ON set_aside BEGIN SELECT RAISE(ABORT, 'what was set aside is appended, never deleted'); END;
CREATE TRIGGER letter_kept BEFORE UPDATE ON letter
WHEN NEW.erased IS NULL OR NEW.recipient <> '' OR NEW.body <> '' OR NEW.donor <> OLD.donor OR NEW.at <> OLD.at OR NEW.tags <> OLD.tags
BEGIN SELECT RAISE(ABORT, 'letters are appended; only address and text may be erased'); END;
CREATE TRIGGER letter_stays BEFORE DELETE ON letter BEGIN SELECT RAISE(ABORT, 'letters are appended, never deleted'); END;
CREATE TRIGGER evidence_kept BEFORE UPDATE ON evidence
WHEN NEW.removed IS NULL OR NEW.digest <> OLD.digest OR NEW.device <> OLD.device
BEGIN SELECT RAISE(ABORT, 'evidence is appended; it may only be marked as removed'); END;
CREATE TRIGGER evidence_stays BEFORE DELETE ON evidence BEGIN SELECT RAISE(ABORT, 'evidence is appended, never deleted'); END;

CREATE TRIGGER set_aside_moves AFTER INSERT ON set_aside BEGIN UPDATE device SET revision = revision + 1 WHERE id = NEW.device; END;

DROP VIEW device_standing;
CREATE VIEW device_standing AS
SELECT d.id,
       d.batch,
       d.tag,
       d.serial,
       d.imei,
       d.donor,
       d.need,
       d.returns,
       d.version,
       d.revision,
       coalesce((SELECT state FROM clearance_event WHERE device = d.id ORDER BY id DESC LIMIT 1), 'not-looked-at') AS clearance,
       (SELECT CASE state WHEN 'aside' THEN kind END FROM set_aside WHERE device = d.id ORDER BY id DESC LIMIT 1) AS aside,
       (SELECT id FROM decision WHERE device = d.id ORDER BY id DESC LIMIT 1)                                    AS decision,
       (SELECT way FROM decision WHERE device = d.id ORDER BY id DESC LIMIT 1)                                   AS way,
       (SELECT id FROM run WHERE device = d.id ORDER BY id DESC LIMIT 1)                                         AS run
FROM   device d
WHERE  d.withdrawn IS NULL;

