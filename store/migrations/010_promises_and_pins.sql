-- What was promised to a group, the pieces of work that somebody put where they are, and what a division aims at.

-- So many devices by that day, with the chance that stood beside it when it was given. It is never changed: what came of it is told by the records.
CREATE TABLE promise (
  id     INTEGER PRIMARY KEY,
  grp    INTEGER NOT NULL REFERENCES waiting_group (id),
  count  INTEGER NOT NULL CHECK (count BETWEEN 1 AND 500),
  day    TEXT NOT NULL,
  chance REAL NOT NULL CHECK (chance BETWEEN 0 AND 1),
  -- Day by which it was sure nine times in ten; null where none was known.
  sure   TEXT,
  at     TEXT NOT NULL,
  by     TEXT NOT NULL
) STRICT;
CREATE TRIGGER promise_kept BEFORE UPDATE ON promise BEGIN SELECT RAISE(ABORT, 'history is appended, never changed'); END;
CREATE TRIGGER promise_stays BEFORE DELETE ON promise BEGIN SELECT RAISE(ABORT, 'history is appended, never deleted'); END;
CREATE TRIGGER promise_once BEFORE INSERT ON promise WHEN EXISTS (SELECT 1 FROM promise WHERE id = NEW.id) BEGIN SELECT RAISE(ABORT, 'history is appended, never replaced'); END;

-- The devices on which it rested: while it stands, a division leaves them where they are.
CREATE TABLE promise_device (
  id      INTEGER PRIMARY KEY,
  promise INTEGER NOT NULL REFERENCES promise (id),
  device  INTEGER NOT NULL REFERENCES device (id),
  UNIQUE (promise, device)
) STRICT;
CREATE TRIGGER promise_device_kept BEFORE UPDATE ON promise_device BEGIN SELECT RAISE(ABORT, 'history is appended, never changed'); END;
CREATE TRIGGER promise_device_stays BEFORE DELETE ON promise_device BEGIN SELECT RAISE(ABORT, 'history is appended, never deleted'); END;
CREATE TRIGGER promise_device_once BEFORE INSERT ON promise_device WHEN EXISTS (SELECT 1 FROM promise_device WHERE id = NEW.id) BEGIN SELECT RAISE(ABORT, 'history is appended, never replaced'); END;

-- A promise that was taken back, with what the group was told.
CREATE TABLE promise_back (
  id      INTEGER PRIMARY KEY,
  promise INTEGER NOT NULL UNIQUE REFERENCES promise (id),
  reason  TEXT NOT NULL,
  at      TEXT NOT NULL,
  by      TEXT NOT NULL
) STRICT;
CREATE TRIGGER promise_back_kept BEFORE UPDATE ON promise_back BEGIN SELECT RAISE(ABORT, 'history is appended, never changed'); END;
CREATE TRIGGER promise_back_stays BEFORE DELETE ON promise_back BEGIN SELECT RAISE(ABORT, 'history is appended, never deleted'); END;
CREATE TRIGGER promise_back_once BEFORE INSERT ON promise_back WHEN EXISTS (SELECT 1 FROM promise_back WHERE id = NEW.id) BEGIN SELECT RAISE(ABORT, 'history is appended, never replaced'); END;

-- A piece of work that somebody gave to hands, a bench and a time; the newest of device and piece counts, an empty volunteer frees it.
CREATE TABLE piece_pin (
  id        INTEGER PRIMARY KEY,
  device    INTEGER NOT NULL REFERENCES device (id),
  -- Step of the sheet at which the piece ends; -1: the look at the end.
  ends      INTEGER NOT NULL,
  volunteer TEXT NOT NULL,
  bench     TEXT NOT NULL,
  -- On the house's own clock, YYYY-MM-DDTHH:MM.
  start     TEXT NOT NULL,
  at        TEXT NOT NULL,
  by        TEXT NOT NULL
) STRICT;
CREATE INDEX piece_pin_device ON piece_pin (device, ends, id);
CREATE TRIGGER piece_pin_kept BEFORE UPDATE ON piece_pin BEGIN SELECT RAISE(ABORT, 'history is appended, never changed'); END;
CREATE TRIGGER piece_pin_stays BEFORE DELETE ON piece_pin BEGIN SELECT RAISE(ABORT, 'history is appended, never deleted'); END;
CREATE TRIGGER piece_pin_once BEFORE INSERT ON piece_pin WHEN EXISTS (SELECT 1 FROM piece_pin WHERE id = NEW.id) BEGIN SELECT RAISE(ABORT, 'history is appended, never replaced'); END;

-- What a division aims at, in which order, how sure; the newest counts.
CREATE TABLE division_aims (
  id  INTEGER PRIMARY KEY,
  doc TEXT NOT NULL CHECK (json_valid(doc)),
  at  TEXT NOT NULL,
  by  TEXT NOT NULL
) STRICT;
CREATE TRIGGER division_aims_kept BEFORE UPDATE ON division_aims BEGIN SELECT RAISE(ABORT, 'history is appended, never changed'); END;
CREATE TRIGGER division_aims_stays BEFORE DELETE ON division_aims BEGIN SELECT RAISE(ABORT, 'history is appended, never deleted'); END;
CREATE TRIGGER division_aims_once BEFORE INSERT ON division_aims WHEN EXISTS (SELECT 1 FROM division_aims WHERE id = NEW.id) BEGIN SELECT RAISE(ABORT, 'history is appended, never replaced'); END;

CREATE TRIGGER promise_in AFTER INSERT ON promise BEGIN UPDATE revision SET n = n + 1 WHERE topic = 'evenings'; END;
CREATE TRIGGER promise_back_in AFTER INSERT ON promise_back BEGIN UPDATE revision SET n = n + 1 WHERE topic = 'evenings'; END;
CREATE TRIGGER piece_pin_in AFTER INSERT ON piece_pin BEGIN UPDATE revision SET n = n + 1 WHERE topic = 'evenings'; END;
CREATE TRIGGER division_aims_in AFTER INSERT ON division_aims BEGIN UPDATE revision SET n = n + 1 WHERE topic = 'evenings'; END;
