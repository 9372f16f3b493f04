"""Measurements against a floor and plain scripts, as ratios taken in one run: ``make bench``."""
