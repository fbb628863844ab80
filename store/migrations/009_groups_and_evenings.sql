-- Who waits, who comes on which evening, and how the devices were divided.

CREATE TABLE waiting_group (
  id      INTEGER PRIMARY KEY,
  name    TEXT NOT NULL COLLATE NOCASE UNIQUE,
  need    TEXT NOT NULL REFERENCES need (id) DEFERRABLE INITIALLY DEFERRED,
  wanted  INTEGER NOT NULL CHECK (wanted BETWEEN 1 AND 500),
  least   INTEGER NOT NULL CHECK (least BETWEEN 1 AND wanted),
  by      TEXT NOT NULL,
  weight  REAL NOT NULL CHECK (weight BETWEEN 0.1 AND 10),
  spares  INTEGER NOT NULL CHECK (spares BETWEEN 0 AND 100),
  alike   INTEGER NOT NULL CHECK (alike IN (0, 1)),
  contact TEXT NOT NULL DEFAULT '',
  note    TEXT NOT NULL DEFAULT '',
  closed  INTEGER NOT NULL DEFAULT 0 CHECK (closed IN (0, 1)),
  version INTEGER NOT NULL DEFAULT 1
) STRICT;

CREATE TABLE volunteer (
  id      INTEGER PRIMARY KEY,
  name    TEXT NOT NULL COLLATE NOCASE UNIQUE,
  -- Ways they may do, as a list; an empty one: every way.
  ways    TEXT NOT NULL CHECK (json_valid(ways)),
  -- Devices they can mind at once.
  minds   INTEGER NOT NULL CHECK (minds BETWEEN 1 AND 20),
  -- Days of the week on which they come (MO…SU), a list; an empty one: every evening that is held.
  days    TEXT NOT NULL CHECK (json_valid(days)),
  -- Evenings they can't come, a list of days.
  away    TEXT NOT NULL CHECK (json_valid(away)),
  closed  INTEGER NOT NULL DEFAULT 0 CHECK (closed IN (0, 1)),
  version INTEGER NOT NULL DEFAULT 1
) STRICT;

-- When the house is open: repeating rules (RFC 5545) and days on which it is not.
CREATE TABLE opening (
  id      INTEGER PRIMARY KEY CHECK (id = 1),
  doc     TEXT NOT NULL CHECK (json_valid(doc)),
  version INTEGER NOT NULL DEFAULT 1
) STRICT;
INSERT INTO opening (id, doc) VALUES (1, '{"hours":[],"closed":[]}');

-- Every state that a group, a volunteer or the opening hours were given.
CREATE TABLE evening_change (
  id   INTEGER PRIMARY KEY,
  kind TEXT NOT NULL CHECK (kind IN ('group', 'volunteer', 'opening')),
  row  INTEGER NOT NULL,
  doc  TEXT NOT NULL CHECK (json_valid(doc)),
  at   TEXT NOT NULL,
  by   TEXT NOT NULL
) STRICT;
CREATE TRIGGER evening_change_kept BEFORE UPDATE ON evening_change BEGIN SELECT RAISE(ABORT, 'history is appended, never changed'); END;
CREATE TRIGGER evening_change_stays BEFORE DELETE ON evening_change BEGIN SELECT RAISE(ABORT, 'history is appended, never deleted'); END;
CREATE TRIGGER evening_change_once BEFORE INSERT ON evening_change WHEN EXISTS (SELECT 1 FROM evening_change WHERE id = NEW.id) BEGIN SELECT RAISE(ABORT, 'history is appended, never replaced'); END;

-- This one goes there, never goes there, or is free again: the newest of device and group counts.
CREATE TABLE pin (
  id     INTEGER PRIMARY KEY,
  device INTEGER NOT NULL REFERENCES device (id),
  grp    INTEGER NOT NULL REFERENCES waiting_group (id),
  kind   TEXT NOT NULL CHECK (kind IN ('there', 'never', 'free')),
  at     TEXT NOT NULL,
  by     TEXT NOT NULL
) STRICT;
CREATE INDEX pin_device ON pin (device, grp, id);
CREATE TRIGGER pin_kept BEFORE UPDATE ON pin BEGIN SELECT RAISE(ABORT, 'history is appended, never changed'); END;
CREATE TRIGGER pin_stays BEFORE DELETE ON pin BEGIN SELECT RAISE(ABORT, 'history is appended, never deleted'); END;
CREATE TRIGGER pin_once BEFORE INSERT ON pin WHEN EXISTS (SELECT 1 FROM pin WHERE id = NEW.id) BEGIN SELECT RAISE(ABORT, 'history is appended, never replaced'); END;

-- The division that is being worked out, or looked at before it is accepted: one for the house, written over.
CREATE TABLE division_draft (
  id      INTEGER PRIMARY KEY CHECK (id = 1),
  state   TEXT NOT NULL CHECK (state IN ('running', 'done', 'stopped', 'failed')),
  doc     TEXT NOT NULL CHECK (json_valid(doc)),
  version INTEGER NOT NULL,
  at      TEXT NOT NULL,
  by      TEXT NOT NULL
) STRICT;

-- A division that was accepted, with what was reached and proven.
CREATE TABLE division (
  id  INTEGER PRIMARY KEY,
  doc TEXT NOT NULL CHECK (json_valid(doc)),
  at  TEXT NOT NULL,
  by  TEXT NOT NULL
) STRICT;
CREATE TRIGGER division_kept BEFORE UPDATE ON division BEGIN SELECT RAISE(ABORT, 'history is appended, never changed'); END;
CREATE TRIGGER division_stays BEFORE DELETE ON division BEGIN SELECT RAISE(ABORT, 'history is appended, never deleted'); END;
CREATE TRIGGER division_once BEFORE INSERT ON division WHEN EXISTS (SELECT 1 FROM division WHERE id = NEW.id) BEGIN SELECT RAISE(ABORT, 'history is appended, never replaced'); END;

-- Where each device went by it, and the need it had before.
CREATE TABLE division_device (
  id       INTEGER PRIMARY KEY,
  division INTEGER NOT NULL REFERENCES division (id),
  device   INTEGER NOT NULL REFERENCES device (id),
  grp      INTEGER NOT NULL REFERENCES waiting_group (id),
  way      TEXT NOT NULL,
  chance   REAL NOT NULL,
  was_need TEXT,
  UNIQUE (division, device)
) STRICT;
CREATE TRIGGER division_device_kept BEFORE UPDATE ON division_device BEGIN SELECT RAISE(ABORT, 'history is appended, never changed'); END;
CREATE TRIGGER division_device_stays BEFORE DELETE ON division_device BEGIN SELECT RAISE(ABORT, 'history is appended, never deleted'); END;
CREATE TRIGGER division_device_once BEFORE INSERT ON division_device WHEN EXISTS (SELECT 1 FROM division_device WHERE id = NEW.id) BEGIN SELECT RAISE(ABORT, 'history is appended, never replaced'); END;

-- A division that was taken back.
CREATE TABLE division_back (
  id       INTEGER PRIMARY KEY,
  division INTEGER NOT NULL UNIQUE REFERENCES division (id),
  at       TEXT NOT NULL,
  by       TEXT NOT NULL
) STRICT;
CREATE TRIGGER division_back_kept BEFORE UPDATE ON division_back BEGIN SELECT RAISE(ABORT, 'history is appended, never changed'); END;
CREATE TRIGGER division_back_stays BEFORE DELETE ON division_back BEGIN SELECT RAISE(ABORT, 'history is appended, never deleted'); END;
CREATE TRIGGER division_back_once BEFORE INSERT ON division_back WHEN EXISTS (SELECT 1 FROM division_back WHERE id = NEW.id) BEGIN SELECT RAISE(ABORT, 'history is appended, never replaced'); END;

-- The timetable of the evenings as it stands: one for the house, worked out anew when something happens.
CREATE TABLE timetable (
  id      INTEGER PRIMARY KEY CHECK (id = 1),
  state   TEXT NOT NULL CHECK (state IN ('running', 'done', 'stopped', 'failed')),
  doc     TEXT NOT NULL CHECK (json_valid(doc)),
  version INTEGER NOT NULL,
  at      TEXT NOT NULL,
  by      TEXT NOT NULL
) STRICT;

INSERT INTO revision (topic) VALUES ('evenings');
CREATE TRIGGER waiting_group_in AFTER INSERT ON waiting_group BEGIN UPDATE revision SET n = n + 1 WHERE topic = 'evenings'; END;
CREATE TRIGGER waiting_group_on AFTER UPDATE ON waiting_group BEGIN UPDATE revision SET n = n + 1 WHERE topic = 'evenings'; END;
CREATE TRIGGER volunteer_in AFTER INSERT ON volunteer BEGIN UPDATE revision SET n = n + 1 WHERE topic = 'evenings'; END;
CREATE TRIGGER volunteer_on AFTER UPDATE ON volunteer BEGIN UPDATE revision SET n = n + 1 WHERE topic = 'evenings'; END;
CREATE TRIGGER opening_on AFTER UPDATE ON opening BEGIN UPDATE revision SET n = n + 1 WHERE topic = 'evenings'; END;
CREATE TRIGGER pin_in AFTER INSERT ON pin BEGIN UPDATE revision SET n = n + 1 WHERE topic = 'evenings'; END;
CREATE TRIGGER division_in AFTER INSERT ON division BEGIN UPDATE revision SET n = n + 1 WHERE topic = 'evenings'; END;
CREATE TRIGGER division_back_in AFTER INSERT ON division_back BEGIN UPDATE revision SET n = n + 1 WHERE topic = 'evenings'; END;
