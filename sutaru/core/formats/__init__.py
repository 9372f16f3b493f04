"""Open formats read and written: shelf folders, job bundles, masks; and what earlier versions wrote."""
