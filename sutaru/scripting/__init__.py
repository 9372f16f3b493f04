"""Sutaru in a script: the shelf, jobs and their photos, without a server (docs/scripts.md)."""
