"""Numbered steps of the database's schema: SQL, or Python where what is stored must be worked over."""
