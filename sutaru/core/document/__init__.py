"""The document as frozen Pydantic models: shapes, layers, templates, jobs. Their JSON Schema is the file format."""

from .job import MAX_ZOOM, Edition, Format, Job, LabSheet, Photo, Placement
from .layers import Background, Border, FillBox, Gradient, GuideNote, Layer, Opening, Ornament, Shadow, Stop, Text
from .shapes import Corners, Ellipse, Flat, Outline, Path, Rectangle, Surface
from .template import Light, Line, Page, Product, Template, orientation

__all__ = [
    "MAX_ZOOM", "Background", "Border", "Corners", "Edition", "Ellipse", "FillBox", "Flat", "Format", "Gradient",
    "GuideNote", "Job", "LabSheet", "Layer", "Light", "Line", "Opening", "Ornament", "Outline", "Page", "Path", "Photo",
    "Placement", "Product", "Rectangle", "Shadow", "Stop", "Surface", "Template", "Text", "orientation",
]  # fmt: skip
