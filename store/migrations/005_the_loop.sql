-- The loop: what bench and device said comes back into the plan.

-- The step of a run that made a fact: taken back with it.
ALTER TABLE fact ADD COLUMN run_step INTEGER REFERENCES run_step (id);
CREATE INDEX fact_run_step ON fact (run_step) WHERE run_step IS NOT NULL;

-- The facts an accepted way rests on, as they were when it was accepted.
ALTER TABLE decision ADD COLUMN rests TEXT CHECK (rests IS NULL OR json_valid(rests));

-- How a run ended other than at its last step, and what was seen.
CREATE TABLE run_end (
  id     INTEGER PRIMARY KEY,
  device INTEGER NOT NULL REFERENCES device (id),
  run    INTEGER NOT NULL REFERENCES run (id),
  result TEXT NOT NULL CHECK (result IN ('starts', 'does-not-start', 'dead', 'lock')),
  place  INTEGER NOT NULL,
  seen   TEXT NOT NULL,
  at     TEXT NOT NULL,
  by     TEXT NOT NULL
) STRICT;
CREATE INDEX run_end_run ON run_end (run, id);

-- What a bench script reported, line by line, as it came.
CREATE TABLE run_report (
  id      INTEGER PRIMARY KEY,
  run     INTEGER NOT NULL REFERENCES run (id),
  session TEXT NOT NULL,
  seq     INTEGER NOT NULL,
  place   INTEGER NOT NULL,
  event   TEXT NOT NULL CHECK (event IN ('begun', 'done', 'failed')),
  "exit"  INTEGER,
  "values" TEXT NOT NULL DEFAULT '{}' CHECK (json_valid("values")),
  tail    TEXT NOT NULL DEFAULT '',
  at      TEXT NOT NULL,
  by      TEXT NOT NULL,
  UNIQUE (run, session, seq)
) STRICT;
CREATE INDEX run_report_run ON run_report (run, id);

-- Where a device that goes no further went: parts, recycling, back to its donor. "open" takes it back.
CREATE TABLE device_end (
  id     INTEGER PRIMARY KEY,
  device INTEGER NOT NULL REFERENCES device (id),
  result TEXT NOT NULL CHECK (result IN ('parts', 'recycling', 'donor', 'open')),
  reason TEXT NOT NULL DEFAULT '',
  at     TEXT NOT NULL,
  by     TEXT NOT NULL
) STRICT;
CREATE INDEX device_end_device ON device_end (device, id);

CREATE TRIGGER run_end_kept BEFORE UPDATE ON run_end BEGIN SELECT RAISE(ABORT, 'ends are appended, never changed'); END;
CREATE TRIGGER run_end_stays BEFORE DELETE ON run_end BEGIN SELECT RAISE(ABORT, 'ends are appended, never deleted'); END;
CREATE TRIGGER run_report_kept BEFORE UPDATE ON run_report BEGIN SELECT RAISE(ABORT, 'reports are appended, never changed'); END;
CREATE TRIGGER run_report_stays BEFORE DELETE ON run_report BEGIN SELECT RAISE(ABORT, 'reports are appended, never deleted'); END;
CREATE TRIGGER device_end_kept BEFORE UPDATE ON device_end BEGIN SELECT RAISE(ABORT, 'ends are appended, never changed'); END;
CREATE TRIGGER device_end_stays BEFORE DELETE ON device_end BEGIN SELECT RAISE(ABORT, 'ends are appended, never deleted'); END;
CREATE TRIGGER lane_run_end_insert AFTER INSERT ON run_end BEGIN UPDATE revision SET n = n + 1 WHERE topic = 'lane'; END;
CREATE TRIGGER lane_device_end_insert AFTER INSERT ON device_end BEGIN UPDATE revision SET n = n + 1 WHERE topic = 'lane'; END;
CREATE TRIGGER device_end_moves AFTER INSERT ON device_end BEGIN UPDATE device SET revision = revision + 1 WHERE id = NEW.device; END;

-- What the bench taught moves with every run that ended: kept plans rest on it.
INSERT INTO revision (topic) VALUES ('experience');
CREATE TRIGGER experience_run_end AFTER INSERT ON run_end BEGIN UPDATE revision SET n = n + 1 WHERE topic = 'experience'; END;
CREATE TRIGGER experience_checkout AFTER INSERT ON checkout_end BEGIN UPDATE revision SET n = n + 1 WHERE topic = 'experience'; END;

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
       (SELECT CASE result WHEN 'open' THEN NULL ELSE result END FROM device_end WHERE device = d.id ORDER BY id DESC LIMIT 1) AS ended,
       (SELECT id FROM decision WHERE device = d.id ORDER BY id DESC LIMIT 1)                                    AS decision,
       (SELECT way FROM decision WHERE device = d.id ORDER BY id DESC LIMIT 1)                                   AS way,
       (SELECT rests FROM decision WHERE device = d.id ORDER BY id DESC LIMIT 1)                                 AS rests,
       (SELECT id FROM run WHERE device = d.id ORDER BY id DESC LIMIT 1)                                         AS run
FROM   device d
WHERE  d.withdrawn IS NULL;
