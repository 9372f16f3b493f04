-- Piles are stored in chunks from now on, as parts of their own, which earlier versions do not know.
SELECT 1;
