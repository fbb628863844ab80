-- Benches: where a device is treated, and what stands there.

CREATE TABLE bench (
  id       INTEGER PRIMARY KEY,
  name     TEXT NOT NULL COLLATE NOCASE UNIQUE,
  host     TEXT NOT NULL CHECK (host IN ('computer', 'second-phone', 'none')),
  -- Devices that lie there at once, and those of them that hang on a lead or a charger.
  places   INTEGER NOT NULL CHECK (places BETWEEN 1 AND 200),
  leads    INTEGER NOT NULL CHECK (leads BETWEEN 0 AND 200),
  chargers INTEGER NOT NULL CHECK (chargers BETWEEN 0 AND 200),
  closed   INTEGER NOT NULL DEFAULT 0 CHECK (closed IN (0, 1)),
  version  INTEGER NOT NULL DEFAULT 1
) STRICT;

CREATE TABLE bench_change (
  id    INTEGER PRIMARY KEY,
  bench INTEGER NOT NULL REFERENCES bench (id),
  doc   TEXT NOT NULL CHECK (json_valid(doc)),
  at    TEXT NOT NULL,
  by    TEXT NOT NULL
) STRICT;
CREATE TRIGGER bench_change_kept BEFORE UPDATE ON bench_change BEGIN SELECT RAISE(ABORT, 'history is appended, never changed'); END;
CREATE TRIGGER bench_change_stays BEFORE DELETE ON bench_change BEGIN SELECT RAISE(ABORT, 'history is appended, never deleted'); END;
CREATE TRIGGER bench_change_once BEFORE INSERT ON bench_change WHEN EXISTS (SELECT 1 FROM bench_change WHERE id = NEW.id) BEGIN SELECT RAISE(ABORT, 'history is appended, never replaced'); END;

-- The bench a run was begun at: its sheet is written for what stands there.
CREATE TABLE run_bench (
  id    INTEGER PRIMARY KEY,
  run   INTEGER NOT NULL UNIQUE REFERENCES run (id),
  bench INTEGER NOT NULL REFERENCES bench (id),
  at    TEXT NOT NULL,
  by    TEXT NOT NULL
) STRICT;
CREATE TRIGGER run_bench_kept BEFORE UPDATE ON run_bench BEGIN SELECT RAISE(ABORT, 'runs is appended, never changed'); END;
CREATE TRIGGER run_bench_stays BEFORE DELETE ON run_bench BEGIN SELECT RAISE(ABORT, 'runs is appended, never deleted'); END;
CREATE TRIGGER run_bench_once BEFORE INSERT ON run_bench WHEN EXISTS (SELECT 1 FROM run_bench WHERE id = NEW.id) BEGIN SELECT RAISE(ABORT, 'runs is appended, never replaced'); END;

-- What benches there are bears on every plan.
CREATE TRIGGER bench_in AFTER INSERT ON bench BEGIN UPDATE revision SET n = n + 1 WHERE topic = 'policy'; END;
CREATE TRIGGER bench_on AFTER UPDATE ON bench BEGIN UPDATE revision SET n = n + 1 WHERE topic = 'policy'; END;

-- The need of all rows of a list that name none themselves.
ALTER TABLE import ADD COLUMN need TEXT;
