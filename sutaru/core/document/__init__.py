"""The document as frozen Pydantic models: shapes, layers, templates, jobs. Their JSON Schema is the file format."""

from .job import (
    MAX_ZOOM,
    Edition,
    Format,
    Found,
    Job,
    KeepArea,
    LabSheet,
    Photo,
    Placement,
    Span,
)
from .layers import (
    Background,
    Border,
    Echo,
    FillBox,
    Floor,
    Gradient,
    GuideNote,
    Layer,
    Mat,
    Opening,
    Ornament,
    Shadow,
    Stop,
    Text,
)
from .recipe import (
    BlackAndWhite,
    ColourStep,
    Contrast,
    Enhance,
    Exposure,
    Levels,
    Recipe,
    Step,
    WhiteBalance,
)
from .shapes import Corners, Ellipse, Flat, Grid, Mask, Outline, Path, Rectangle, Roll, Surface
from .template import Light, Line, Page, Product, Template, orientation

__all__ = [
    "MAX_ZOOM", "Background", "BlackAndWhite", "Border", "ColourStep", "Contrast", "Corners", "Echo", "Edition",
    "Ellipse", "Enhance", "Exposure", "FillBox", "Flat", "Floor", "Format", "Found", "Gradient", "Grid", "GuideNote",
    "Job", "KeepArea", "LabSheet", "Layer", "Levels", "Light", "Line", "Mask", "Mat", "Opening", "Ornament", "Outline",
    "Page", "Path", "Photo", "Placement", "Product", "Recipe", "Rectangle", "Roll", "Shadow", "Span", "Step", "Stop",
    "Surface", "Template", "Text", "WhiteBalance", "orientation",
]  # fmt: skip
