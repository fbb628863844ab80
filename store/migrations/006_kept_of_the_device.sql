-- What was saved of the partitions that make a device itself: where the file lies and its digest, never what is in it.
CREATE TABLE identity_copy (
  id        INTEGER PRIMARY KEY,
  device    INTEGER NOT NULL REFERENCES device (id),
  run       INTEGER NOT NULL REFERENCES run (id),
  partition TEXT NOT NULL,
  file      TEXT NOT NULL,
  bytes     INTEGER NOT NULL CHECK (bytes > 0),
  sha256    TEXT NOT NULL CHECK (length(sha256) = 64),
  at        TEXT NOT NULL,
  by        TEXT NOT NULL
) STRICT;
CREATE INDEX identity_copy_device ON identity_copy (device, id);
CREATE INDEX identity_copy_run ON identity_copy (run, id);

CREATE TRIGGER identity_copy_kept BEFORE UPDATE ON identity_copy BEGIN SELECT RAISE(ABORT, 'copies are appended, never changed'); END;
CREATE TRIGGER identity_copy_stays BEFORE DELETE ON identity_copy BEGIN SELECT RAISE(ABORT, 'copies are appended, never deleted'); END;

-- What was read of the packages that a list takes away: gone, not let go, never there, put back.
CREATE TABLE package_seen (
  id      INTEGER PRIMARY KEY,
  device  INTEGER NOT NULL REFERENCES device (id),
  list    TEXT NOT NULL,
  name    TEXT NOT NULL,
  outcome TEXT NOT NULL CHECK (outcome IN ('gone', 'stays', 'absent', 'back')),
  at      TEXT NOT NULL,
  by      TEXT NOT NULL
) STRICT;
CREATE INDEX package_seen_device ON package_seen (device, list, name, id);

CREATE TRIGGER package_seen_kept BEFORE UPDATE ON package_seen BEGIN SELECT RAISE(ABORT, 'what was seen is appended, never changed'); END;
CREATE TRIGGER package_seen_stays BEFORE DELETE ON package_seen BEGIN SELECT RAISE(ABORT, 'what was seen is appended, never deleted'); END;
