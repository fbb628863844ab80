-- Cards and sticks of a bench: one is with one device at a time. Null: nobody wrote down how many there are.
ALTER TABLE bench ADD COLUMN cards INTEGER CHECK (cards BETWEEN 0 AND 200);
ALTER TABLE bench ADD COLUMN sticks INTEGER CHECK (sticks BETWEEN 0 AND 200);
