"""The document as frozen Pydantic models: layouts, fillings, photos, jobs. Their JSON Schema is the file format."""

from .base import Frozen, name_of
from .book import Bindery, Binding, Book, BookSize, Decoration, Frame, Paper, Theme
from .calendar import CalendarSaid, Dated
from .edges import Border, Mat, Shadow
from .filling import EMPTY, GOES_ON, MAX_ZOOM, Accepted, Edition, Filling, Fraction, Placement, Span
from .job import Job, Making, Remark
from .lab import Blank, FileKind, Format, LabSheet, Space
from .layers import (
    Background,
    DateGrid,
    DayLook,
    Echo,
    FillBox,
    Floor,
    Group,
    GuideNote,
    Layer,
    Leaf,
    Opening,
    Ornament,
    Overlay,
    PagePicture,
    Shaped,
    Text,
)
from .layout import Columns, Guide, Hole, Layout, Light, Line, Sheet, orientation
from .paints import Gradient, Shift, Stop, Texture
from .parts import new_parts, parts, read_back, unpack_job
from .photo import Found, KeepArea, Photo, Pile, PileChunk
from .press import PdfRules, Press
from .recipe import (
    BlackAndWhite,
    ColourStep,
    Contrast,
    Curves,
    Ends,
    Enhance,
    Exposure,
    Levels,
    Recipe,
    Step,
    Upright,
    WhiteBalance,
)
from .retouching import Adjust, Cover, Cut, Eye, Free, Graded, Outlined, Retouching, Round, Stroke, Touch
from .shapes import Corners, Ellipse, Flat, Grid, Mask, Outline, Path, Rectangle, Roll, Surface
from .studio import StudioCard
from .template import Product, Template

__all__ = [
    "EMPTY", "GOES_ON", "MAX_ZOOM", "Accepted", "Adjust", "Background", "Bindery", "Binding", "BlackAndWhite", "Blank", "Book",
    "BookSize", "Border", "CalendarSaid", "ColourStep", "Columns", "Contrast", "Corners", "Cover", "Curves", "Cut", "DateGrid",
    "Dated", "DayLook", "Decoration", "Echo", "Edition", "Ellipse", "Ends", "Enhance", "Exposure", "Eye", "FileKind", "FillBox",
    "Filling", "Flat", "Floor", "Format", "Found", "Fraction", "Frame", "Free", "Frozen", "Graded", "Gradient", "Grid", "Group",
    "Guide", "GuideNote", "Hole", "Job", "KeepArea", "LabSheet", "Layer", "Layout", "Leaf", "Levels", "Light", "Line", "Making",
    "Mask", "Mat", "Opening", "Ornament", "Outline", "Outlined", "Overlay", "PagePicture", "Paper", "Path", "PdfRules", "Photo",
    "Pile", "PileChunk", "Placement", "Press", "Product", "Recipe", "Rectangle", "Remark", "Retouching", "Roll", "Round",
    "Shadow", "Shaped",
    "Sheet", "Shift", "Space", "Span", "Step", "Stop", "Stroke", "StudioCard", "Surface", "Template", "Text", "Texture",
    "Theme", "Touch", "Upright", "WhiteBalance", "name_of", "new_parts", "orientation", "parts", "read_back",
    "unpack_job",
]  # fmt: skip
