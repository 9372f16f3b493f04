"""Families of templates that the shelf ships: a module each. ``python -m tools.make_shelf`` writes them."""
