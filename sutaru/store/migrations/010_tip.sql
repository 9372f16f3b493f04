-- The state up to which what was undone can be redone: where the head was before it was moved back. NULL in jobs of before.
ALTER TABLE job ADD COLUMN tip INTEGER;
