-- What was found out about files: which of them was looked at, when, and with what result. The files themselves stay where
-- they are; nothing of their content is kept.
CREATE TABLE file_seen (
  id     INTEGER PRIMARY KEY,
  name   TEXT NOT NULL,
  size   INTEGER NOT NULL CHECK (size >= 0),
  sha256 TEXT NOT NULL CHECK (length(sha256) = 64),
  md5    TEXT CHECK (md5 IS NULL OR length(md5) = 32),
  image  TEXT,
  file   TEXT,
  verdict TEXT NOT NULL CHECK (verdict IN ('yes', 'no', 'unknown')),
  says   TEXT NOT NULL,
  at     TEXT NOT NULL,
  by     TEXT NOT NULL
) STRICT;
CREATE INDEX file_seen_image ON file_seen (image, file, id);
CREATE INDEX file_seen_digest ON file_seen (sha256);
CREATE TRIGGER file_seen_kept BEFORE UPDATE ON file_seen BEGIN SELECT RAISE(ABORT, 'what was seen is appended, never changed'); END;
CREATE TRIGGER file_seen_stays BEFORE DELETE ON file_seen BEGIN SELECT RAISE(ABORT, 'what was seen is appended, never deleted'); END;

-- A device's partitions as they were read, newest last; without a document the reading before is taken back.
CREATE TABLE device_room (
  id     INTEGER PRIMARY KEY,
  device INTEGER NOT NULL REFERENCES device (id),
  doc    TEXT CHECK (doc IS NULL OR json_valid(doc)),
  at     TEXT NOT NULL,
  by     TEXT NOT NULL
) STRICT;
CREATE INDEX device_room_device ON device_room (device, id);
CREATE TRIGGER device_room_kept BEFORE UPDATE ON device_room BEGIN SELECT RAISE(ABORT, 'what was read is appended, never changed'); END;
CREATE TRIGGER device_room_stays BEFORE DELETE ON device_room BEGIN SELECT RAISE(ABORT, 'what was read is appended, never deleted'); END;
