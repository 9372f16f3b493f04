"""Arranging the layers of a layout: turning, mirroring, aligning, repeating, splitting. Pure: Layout -> Layout."""
