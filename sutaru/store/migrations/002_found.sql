-- What the machine found by looking at a photo once (JSON); NULL until it has looked.
ALTER TABLE photo ADD COLUMN found TEXT;
