-- Where no cell of a column tells which of two numbers is the month, a person does, once for the column: {"3":"day"}.
ALTER TABLE import ADD COLUMN days TEXT NOT NULL DEFAULT '{}' CHECK (json_valid(days));
