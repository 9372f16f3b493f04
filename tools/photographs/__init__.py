"""Renders the shelf's photographs of a day at Skerry Sands: development only, with packages of requirements-photographs.lock.

``python -m tools.photographs [NAME ...]`` writes sutaru/shelf/samples/sample-NAME.jpg. World: metres, x to the right, y away
from the camera, z up.
"""
