"""Print files: raster and PDF, written whole or not at all, checked, and listed in a manifest."""
