-- A device that somebody put on a charger, where; the newest of a device counts, until its battery is read again.
CREATE TABLE charging (
  id     INTEGER PRIMARY KEY,
  device INTEGER NOT NULL REFERENCES device (id),
  -- Empty where nobody wrote down at which bench.
  bench  TEXT NOT NULL,
  at     TEXT NOT NULL,
  by     TEXT NOT NULL
) STRICT;
CREATE INDEX charging_device ON charging (device, id);
CREATE TRIGGER charging_kept BEFORE UPDATE ON charging BEGIN SELECT RAISE(ABORT, 'history is appended, never changed'); END;
CREATE TRIGGER charging_stays BEFORE DELETE ON charging BEGIN SELECT RAISE(ABORT, 'history is appended, never deleted'); END;
CREATE TRIGGER charging_once BEFORE INSERT ON charging WHEN EXISTS (SELECT 1 FROM charging WHERE id = NEW.id) BEGIN SELECT RAISE(ABORT, 'history is appended, never replaced'); END;
CREATE TRIGGER charging_in AFTER INSERT ON charging BEGIN UPDATE revision SET n = n + 1 WHERE topic = 'evenings'; END;
