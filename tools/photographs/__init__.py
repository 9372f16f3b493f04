"""Renders the shelf's photographs of a day at Skerry Sands: development only; needs mitsuba and pyoidn.

``python -m tools.photographs [NAME ...]`` writes sutaru/shelf/samples/sample-NAME.jpg. World: metres, x to the right, y away
from the camera, z up.
"""
