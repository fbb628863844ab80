-- The first lane: batches, devices, what is known of them, clearance, decisions, bench runs, checkout; the catalogue.
-- What happened is appended and never changed; triggers say so. Rows that people edit carry a version.

CREATE TABLE revision (
  topic TEXT PRIMARY KEY,
  n     INTEGER NOT NULL DEFAULT 0
) STRICT;
INSERT INTO revision (topic) VALUES ('catalogue'), ('policy'), ('lane');

CREATE TABLE model (
  id      TEXT PRIMARY KEY,
  doc     TEXT NOT NULL CHECK (json_valid(doc)),
  version INTEGER NOT NULL DEFAULT 1
) STRICT;

CREATE TABLE image (
  id      TEXT PRIMARY KEY,
  doc     TEXT NOT NULL CHECK (json_valid(doc)),
  version INTEGER NOT NULL DEFAULT 1
) STRICT;

CREATE TABLE need (
  id      TEXT PRIMARY KEY,
  doc     TEXT NOT NULL CHECK (json_valid(doc)),
  version INTEGER NOT NULL DEFAULT 1
) STRICT;

CREATE TABLE incompatible (
  a   TEXT NOT NULL REFERENCES image (id) DEFERRABLE INITIALLY DEFERRED,
  b   TEXT NOT NULL REFERENCES image (id) DEFERRABLE INITIALLY DEFERRED,
  doc TEXT NOT NULL CHECK (json_valid(doc)),
  PRIMARY KEY (a, b)
) STRICT;

CREATE TABLE catalogue_change (
  id    INTEGER PRIMARY KEY,
  kind  TEXT NOT NULL CHECK (kind IN ('model', 'image', 'need', 'incompatible')),
  entry TEXT NOT NULL,
  doc   TEXT,
  at    TEXT NOT NULL,
  by    TEXT NOT NULL
) STRICT;

CREATE TABLE policy (
  id      INTEGER PRIMARY KEY CHECK (id = 1),
  doc     TEXT NOT NULL CHECK (json_valid(doc)),
  version INTEGER NOT NULL DEFAULT 1
) STRICT;

CREATE TABLE policy_change (
  id  INTEGER PRIMARY KEY,
  doc TEXT NOT NULL CHECK (json_valid(doc)),
  at  TEXT NOT NULL,
  by  TEXT NOT NULL
) STRICT;

CREATE TABLE batch (
  id       TEXT PRIMARY KEY,
  title    TEXT NOT NULL,
  received TEXT NOT NULL,
  note     TEXT NOT NULL DEFAULT ''
) STRICT;

CREATE TABLE device (
  id       INTEGER PRIMARY KEY,
  batch    TEXT NOT NULL REFERENCES batch (id),
  tag      TEXT NOT NULL COLLATE NOCASE UNIQUE,
  serial   TEXT,
  imei     TEXT,
  donor    TEXT NOT NULL DEFAULT '',
  need     TEXT REFERENCES need (id) DEFERRABLE INITIALLY DEFERRED,
  at       TEXT NOT NULL,
  version  INTEGER NOT NULL DEFAULT 1,
  -- Raised by triggers with everything that bears on the device's plan.
  revision INTEGER NOT NULL DEFAULT 1
) STRICT;
CREATE INDEX device_batch ON device (batch, tag);
CREATE INDEX device_serial ON device (serial) WHERE serial IS NOT NULL;

-- Earlier states of a device's own row, written before each edit.
CREATE TABLE device_change (
  id     INTEGER PRIMARY KEY,
  device INTEGER NOT NULL REFERENCES device (id),
  was    TEXT NOT NULL CHECK (json_valid(was)),
  at     TEXT NOT NULL,
  by     TEXT NOT NULL
) STRICT;

CREATE TABLE fact (
  id     INTEGER PRIMARY KEY,
  device INTEGER NOT NULL REFERENCES device (id),
  key    TEXT NOT NULL,
  value  TEXT NOT NULL CHECK (json_valid(value)),
  source TEXT NOT NULL CHECK (source IN ('model-default', 'import', 'typed', 'run', 'read')),
  at     TEXT NOT NULL,
  by     TEXT NOT NULL
) STRICT;
CREATE INDEX fact_device ON fact (device, id);

CREATE TABLE clearance_event (
  id       INTEGER PRIMARY KEY,
  device   INTEGER NOT NULL REFERENCES device (id),
  event    TEXT NOT NULL,
  state    TEXT NOT NULL,
  evidence TEXT NOT NULL DEFAULT '',
  at       TEXT NOT NULL,
  by       TEXT NOT NULL
) STRICT;
CREATE INDEX clearance_device ON clearance_event (device, id);

-- A decision without a way takes the one before it back.
CREATE TABLE decision (
  id       INTEGER PRIMARY KEY,
  device   INTEGER NOT NULL REFERENCES device (id),
  way      TEXT CHECK (way IS NULL OR json_valid(way)),
  proposed TEXT,
  reason   TEXT NOT NULL DEFAULT '',
  at       TEXT NOT NULL,
  by       TEXT NOT NULL
) STRICT;
CREATE INDEX decision_device ON decision (device, id);

CREATE TABLE run (
  id       INTEGER PRIMARY KEY,
  device   INTEGER NOT NULL REFERENCES device (id),
  decision INTEGER NOT NULL REFERENCES decision (id),
  runbook  TEXT NOT NULL CHECK (json_valid(runbook)),
  steps    INTEGER NOT NULL,
  at       TEXT NOT NULL,
  by       TEXT NOT NULL
) STRICT;
CREATE INDEX run_device ON run (device, id);

CREATE TABLE run_step (
  id      INTEGER PRIMARY KEY,
  run     INTEGER NOT NULL REFERENCES run (id),
  place   INTEGER NOT NULL,
  code    TEXT NOT NULL,
  outcome TEXT NOT NULL CHECK (outcome IN ('begun', 'done', 'wrong', 'again', 'undone')),
  note    TEXT NOT NULL DEFAULT '',
  at      TEXT NOT NULL,
  by      TEXT NOT NULL
) STRICT;
CREATE INDEX run_step_run ON run_step (run, id);

CREATE TABLE checkout_entry (
  id       INTEGER PRIMARY KEY,
  device   INTEGER NOT NULL REFERENCES device (id),
  run      INTEGER NOT NULL REFERENCES run (id),
  item     TEXT NOT NULL,
  measured TEXT NOT NULL,
  result   TEXT NOT NULL CHECK (result IN ('ok', 'not-ok', 'not-tried')),
  at       TEXT NOT NULL,
  by       TEXT NOT NULL
) STRICT;
CREATE INDEX checkout_run ON checkout_entry (run, id);

CREATE TABLE checkout_end (
  id     INTEGER PRIMARY KEY,
  device INTEGER NOT NULL REFERENCES device (id),
  run    INTEGER NOT NULL REFERENCES run (id),
  result TEXT NOT NULL CHECK (result IN ('done', 'back')),
  note   TEXT NOT NULL DEFAULT '',
  at     TEXT NOT NULL,
  by     TEXT NOT NULL
) STRICT;
CREATE INDEX checkout_end_run ON checkout_end (run, id);

-- Append only.
CREATE TRIGGER fact_kept BEFORE UPDATE ON fact BEGIN SELECT RAISE(ABORT, 'facts are appended, never changed'); END;
CREATE TRIGGER fact_stays BEFORE DELETE ON fact BEGIN SELECT RAISE(ABORT, 'facts are appended, never deleted'); END;
CREATE TRIGGER clearance_kept BEFORE UPDATE ON clearance_event BEGIN SELECT RAISE(ABORT, 'clearance is appended, never changed'); END;
CREATE TRIGGER clearance_stays BEFORE DELETE ON clearance_event BEGIN SELECT RAISE(ABORT, 'clearance is appended, never deleted'); END;
CREATE TRIGGER decision_kept BEFORE UPDATE ON decision BEGIN SELECT RAISE(ABORT, 'decisions are appended, never changed'); END;
CREATE TRIGGER decision_stays BEFORE DELETE ON decision BEGIN SELECT RAISE(ABORT, 'decisions are appended, never deleted'); END;
CREATE TRIGGER run_kept BEFORE UPDATE ON run BEGIN SELECT RAISE(ABORT, 'runs are appended, never changed'); END;
CREATE TRIGGER run_stays BEFORE DELETE ON run BEGIN SELECT RAISE(ABORT, 'runs are appended, never deleted'); END;
CREATE TRIGGER run_step_kept BEFORE UPDATE ON run_step BEGIN SELECT RAISE(ABORT, 'run steps are appended, never changed'); END;
CREATE TRIGGER run_step_stays BEFORE DELETE ON run_step BEGIN SELECT RAISE(ABORT, 'run steps are appended, never deleted'); END;
CREATE TRIGGER checkout_kept BEFORE UPDATE ON checkout_entry BEGIN SELECT RAISE(ABORT, 'checks are appended, never changed'); END;
CREATE TRIGGER checkout_stays BEFORE DELETE ON checkout_entry BEGIN SELECT RAISE(ABORT, 'checks are appended, never deleted'); END;
CREATE TRIGGER checkout_end_kept BEFORE UPDATE ON checkout_end BEGIN SELECT RAISE(ABORT, 'checkouts are appended, never changed'); END;
CREATE TRIGGER checkout_end_stays BEFORE DELETE ON checkout_end BEGIN SELECT RAISE(ABORT, 'checkouts are appended, never deleted'); END;
CREATE TRIGGER catalogue_change_kept BEFORE UPDATE ON catalogue_change BEGIN SELECT RAISE(ABORT, 'history is appended, never changed'); END;
CREATE TRIGGER catalogue_change_stays BEFORE DELETE ON catalogue_change BEGIN SELECT RAISE(ABORT, 'history is appended, never deleted'); END;

-- What a plan was made from: kept plans are thrown away when these move.
CREATE TRIGGER fact_moves AFTER INSERT ON fact BEGIN UPDATE device SET revision = revision + 1 WHERE id = NEW.device; END;
CREATE TRIGGER clearance_moves AFTER INSERT ON clearance_event BEGIN UPDATE device SET revision = revision + 1 WHERE id = NEW.device; END;
CREATE TRIGGER need_moves AFTER UPDATE OF need ON device WHEN OLD.need IS NOT NEW.need BEGIN UPDATE device SET revision = revision + 1 WHERE id = NEW.id; END;
CREATE TRIGGER model_in AFTER INSERT ON model BEGIN UPDATE revision SET n = n + 1 WHERE topic = 'catalogue'; END;
CREATE TRIGGER model_on AFTER UPDATE ON model BEGIN UPDATE revision SET n = n + 1 WHERE topic = 'catalogue'; END;
CREATE TRIGGER model_out AFTER DELETE ON model BEGIN UPDATE revision SET n = n + 1 WHERE topic = 'catalogue'; END;
CREATE TRIGGER image_in AFTER INSERT ON image BEGIN UPDATE revision SET n = n + 1 WHERE topic = 'catalogue'; END;
CREATE TRIGGER image_on AFTER UPDATE ON image BEGIN UPDATE revision SET n = n + 1 WHERE topic = 'catalogue'; END;
CREATE TRIGGER image_out AFTER DELETE ON image BEGIN UPDATE revision SET n = n + 1 WHERE topic = 'catalogue'; END;
CREATE TRIGGER need_in AFTER INSERT ON need BEGIN UPDATE revision SET n = n + 1 WHERE topic = 'catalogue'; END;
CREATE TRIGGER need_on AFTER UPDATE ON need BEGIN UPDATE revision SET n = n + 1 WHERE topic = 'catalogue'; END;
CREATE TRIGGER need_out AFTER DELETE ON need BEGIN UPDATE revision SET n = n + 1 WHERE topic = 'catalogue'; END;
CREATE TRIGGER incompatible_in AFTER INSERT ON incompatible BEGIN UPDATE revision SET n = n + 1 WHERE topic = 'catalogue'; END;
CREATE TRIGGER incompatible_out AFTER DELETE ON incompatible BEGIN UPDATE revision SET n = n + 1 WHERE topic = 'catalogue'; END;
CREATE TRIGGER policy_in AFTER INSERT ON policy BEGIN UPDATE revision SET n = n + 1 WHERE topic = 'policy'; END;
CREATE TRIGGER policy_on AFTER UPDATE ON policy BEGIN UPDATE revision SET n = n + 1 WHERE topic = 'policy'; END;

-- Where devices stand moves with everything that is written about them.
CREATE TRIGGER lane_device_insert AFTER INSERT ON device BEGIN UPDATE revision SET n = n + 1 WHERE topic = 'lane'; END;
CREATE TRIGGER lane_device_update AFTER UPDATE ON device BEGIN UPDATE revision SET n = n + 1 WHERE topic = 'lane'; END;
CREATE TRIGGER lane_fact_insert AFTER INSERT ON fact BEGIN UPDATE revision SET n = n + 1 WHERE topic = 'lane'; END;
CREATE TRIGGER lane_clearance_event_insert AFTER INSERT ON clearance_event BEGIN UPDATE revision SET n = n + 1 WHERE topic = 'lane'; END;
CREATE TRIGGER lane_decision_insert AFTER INSERT ON decision BEGIN UPDATE revision SET n = n + 1 WHERE topic = 'lane'; END;
CREATE TRIGGER lane_run_insert AFTER INSERT ON run BEGIN UPDATE revision SET n = n + 1 WHERE topic = 'lane'; END;
CREATE TRIGGER lane_run_step_insert AFTER INSERT ON run_step BEGIN UPDATE revision SET n = n + 1 WHERE topic = 'lane'; END;
CREATE TRIGGER lane_checkout_end_insert AFTER INSERT ON checkout_end BEGIN UPDATE revision SET n = n + 1 WHERE topic = 'lane'; END;

-- Where each device stands, as far as the tables know it; identity is judged in core.
CREATE VIEW device_standing AS
SELECT d.id,
       d.batch,
       d.tag,
       d.serial,
       d.imei,
       d.donor,
       d.need,
       d.version,
       d.revision,
       coalesce((SELECT state FROM clearance_event WHERE device = d.id ORDER BY id DESC LIMIT 1), 'not-looked-at') AS clearance,
       (SELECT id FROM decision WHERE device = d.id ORDER BY id DESC LIMIT 1)                                    AS decision,
       (SELECT way FROM decision WHERE device = d.id ORDER BY id DESC LIMIT 1)                                   AS way,
       (SELECT id FROM run WHERE device = d.id ORDER BY id DESC LIMIT 1)                                         AS run
FROM   device d;
