"""Flat pictures of templates, read into live openings."""
