-- Catalogue packs. One that was brought in lies here as its text until it is taken in or thrown away.
CREATE TABLE pack (
  id    INTEGER PRIMARY KEY,
  title TEXT NOT NULL,
  name  TEXT NOT NULL,
  text  TEXT NOT NULL,
  at    TEXT NOT NULL,
  by    TEXT NOT NULL
) STRICT;

-- Each time a pack was taken in, and that it was undone.
CREATE TABLE pack_take (
  id   INTEGER PRIMARY KEY,
  pack INTEGER NOT NULL REFERENCES pack (id),
  at   TEXT NOT NULL,
  by   TEXT NOT NULL
) STRICT;
CREATE INDEX pack_take_pack ON pack_take (pack, id);
CREATE TABLE pack_undo (
  take INTEGER PRIMARY KEY REFERENCES pack_take (id),
  at   TEXT NOT NULL,
  by   TEXT NOT NULL
) STRICT;

-- What a pack said of an entry when it was taken in, whatever was made of it: the next one is held against this, so that what
-- was changed here since is known. Without a document, the pack had the entry no more.
CREATE TABLE pack_said (
  id    INTEGER PRIMARY KEY,
  take  INTEGER NOT NULL REFERENCES pack_take (id),
  kind  TEXT NOT NULL CHECK (kind IN ('model', 'image', 'need', 'incompatible')),
  entry TEXT NOT NULL,
  doc   TEXT CHECK (doc IS NULL OR json_valid(doc))
) STRICT;
CREATE INDEX pack_said_entry ON pack_said (kind, entry, id);

-- A change that came with a pack says with which taking of it.
ALTER TABLE catalogue_change ADD COLUMN take INTEGER REFERENCES pack_take (id);
CREATE INDEX catalogue_change_take ON catalogue_change (take) WHERE take IS NOT NULL;
CREATE INDEX catalogue_change_entry ON catalogue_change (kind, entry, id);

CREATE TRIGGER pack_kept BEFORE UPDATE ON pack BEGIN SELECT RAISE(ABORT, 'a pack is never changed'); END;
CREATE TRIGGER pack_take_kept BEFORE UPDATE ON pack_take BEGIN SELECT RAISE(ABORT, 'what was taken in is appended, never changed'); END;
CREATE TRIGGER pack_take_stays BEFORE DELETE ON pack_take BEGIN SELECT RAISE(ABORT, 'what was taken in is appended, never deleted'); END;
CREATE TRIGGER pack_undo_kept BEFORE UPDATE ON pack_undo BEGIN SELECT RAISE(ABORT, 'what was undone is appended, never changed'); END;
CREATE TRIGGER pack_undo_stays BEFORE DELETE ON pack_undo BEGIN SELECT RAISE(ABORT, 'what was undone is appended, never deleted'); END;
CREATE TRIGGER pack_said_kept BEFORE UPDATE ON pack_said BEGIN SELECT RAISE(ABORT, 'what a pack said is appended, never changed'); END;
CREATE TRIGGER pack_said_stays BEFORE DELETE ON pack_said BEGIN SELECT RAISE(ABORT, 'what a pack said is appended, never deleted'); END;
