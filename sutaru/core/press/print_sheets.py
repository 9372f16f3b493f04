"""Print sheets as PDF: each page of the pieces is in the file once, as a form, however often it is printed; marks around them.

Marks are printed on every plate (the separation ``All``): where to cut, with the distance from the sheet's left or upper edge in
millimetres for whoever stands at the guillotine; where to fold; the sheet's middle; a bar of inks; a line that names the job.
Lengths of marks: common practice, no source.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path
from typing import Any

import numpy as np
import pikepdf
from fontTools.svgLib.path import parse_path
from pikepdf import Array, Dictionary, Name, Stream

from ..errors import ExportFailed
from ..geometry.matrices import Matrix, scaling, translation
from ..measure import mm_from_points, points_from_mm
from ..words import set_words
from .file_metadata import About
from .files import write_whole
from .imposing import Paper, Side, rooms, trims
from .operators import Operators
from .pdf_pages import write_metadata

TICK_MM, OFF_MM, LINE_PT = 4.0, 1.0, 0.25
_BAR_MM = 5.0
_WORDS_MM = 1.9  # height of the letters beside marks
_BAR = ("0 0 0 1", "1 0 0 0", "0 1 0 0", "0 0 1 0", "1 1 0 0", "1 0 1 0", "0 1 1 0", "0 0 0 0.5", "0.5 0 0 0", "0 0.5 0 0",
        "0 0 0.5 0")  # fmt: skip
_FONT = "Lato"


@dataclass(frozen=True)
class Marks:
    """What is printed around the pieces. ``folds``: piece mm, along x or y. ``slug``: what names the job."""

    cut: bool = True
    middle: bool = True
    bar: bool = True
    folds: tuple[tuple[str, float], ...] = ()
    slug: str = ""


@dataclass(frozen=True)
class Source:
    """A page that is printed: its file, its number in it, and where on it the piece begins, mm from the trim's left."""

    path: Path
    number: int
    left_mm: float = 0.0


def write(
    target: Path, sources: Sequence[Source | None], sides: Sequence[Side], paper: Paper, size_mm: tuple[float, float],
    marks: Marks, made_at: datetime,
) -> None:  # fmt: skip
    """Writes print sheets, a page a side. ``sources``: each page that the sides name. Raises
    ExportFailed when it does not read back, OSError when a source is not there."""
    opened = {path: pikepdf.open(path) for path in dict.fromkeys(source.path for source in sources if source)}
    try:
        with pikepdf.new() as pdf:
            forms: dict[int, _Form] = {}
            for side in sides:
                _page(pdf, side, opened, sources, forms, paper, size_mm, marks)
            for path in opened:
                intents = opened[path].Root.get("/OutputIntents")
                if intents is not None and "/OutputIntents" not in pdf.Root:
                    pdf.Root.OutputIntents = pdf.copy_foreign(opened[path].make_indirect(intents))
            write_metadata(pdf, About(marks.slug or "Print sheets"), made_at, False)
            with write_whole(target, lambda path: _check(path, len(sides))) as file:
                modes = pikepdf.ObjectStreamMode
                pdf.save(file, force_version="1.6", deterministic_id=True, object_stream_mode=modes.disable)
    finally:
        for source in opened.values():
            source.close()


@dataclass(frozen=True)
class _Form:
    """A page of the pieces in the new file: its trim, and how far it bleeds, points."""

    stream: Any
    trim: tuple[float, float, float, float]
    bleed: float


def _form(pdf: pikepdf.Pdf, page: pikepdf.Page, left_mm: float) -> _Form:
    form = pdf.copy_foreign(page.as_form_xobject())
    media = [float(v) for v in page.mediabox]
    form.BBox = Array(media)  # with its bleed: qpdf cuts it to the trim
    trim = [float(v) for v in page.obj.get("/TrimBox", page.mediabox)]
    bleed = min(trim[0] - media[0], trim[1] - media[1], media[2] - trim[2], media[3] - trim[3])
    return _Form(form, (trim[0] + points_from_mm(left_mm), trim[1], trim[2], trim[3]), max(0.0, bleed))


def _page(
    pdf: pikepdf.Pdf, side: Side, opened: dict[Path, pikepdf.Pdf], sources: Sequence[Source | None], forms: dict[int, _Form],
    paper: Paper, size_mm: tuple[float, float], marks: Marks,
) -> None:  # fmt: skip
    size = points_from_mm(paper.width_mm), points_from_mm(paper.height_mm)
    page = pdf.add_blank_page(page_size=size).obj
    pt = points_from_mm(1.0)
    points_from_sheet = translation(0, size[1]) @ scaling(pt, -pt)
    resources = Dictionary(XObject=Dictionary(), ColorSpace=Dictionary())
    content: list[str] = []
    for placed in side.placed:
        if placed.page not in forms:
            source = sources[placed.page]
            assert source is not None, "no side names a page that stays blank"
            forms[placed.page] = _form(pdf, opened[source.path].pages[source.number], source.left_mm)
    bleed_mm = max((mm_from_points(forms[placed.page].bleed) for placed in side.placed), default=0.0)
    around = rooms(side, size_mm, bleed_mm)
    for placed, room in zip(side.placed, around, strict=True):
        form = forms[placed.page]
        name = f"/P{placed.page}"
        resources.XObject[name] = form.stream
        left, _, _, top = form.trim
        piece_from_form = scaling(1 / pt, -1 / pt) @ translation(-left, -top)
        a, b, c, d, e, f = _six(points_from_sheet @ placed.sheet_from_piece @ piece_from_form)
        # No piece prints into its neighbour; where it has none it prints as far as it bleeds.
        size_pt = f"{(room[2] - room[0]) * pt:.4f} {(room[3] - room[1]) * pt:.4f}"
        clip = f"{_place_matrix(points_from_sheet, room[0], room[3])} {size_pt} re W n"
        content.append(f"q {clip} {a:.6f} {b:.6f} {c:.6f} {d:.6f} {e:.4f} {f:.4f} cm {name} Do Q")
    tint = Dictionary(FunctionType=2, Domain=[0, 1], C0=[0, 0, 0, 0], C1=[1, 1, 1, 1], N=1)
    resources.ColorSpace.All = Array([Name.Separation, Name.All, Name.DeviceCMYK, tint])
    content += _marks(side, paper, size_mm, marks, points_from_sheet, bleed_mm, around)
    page.MediaBox = page.TrimBox = page.BleedBox = Array([0, 0, round(size[0], 5), round(size[1], 5)])
    page.Resources = resources
    page.Contents = pdf.make_indirect(Stream(pdf, "\n".join(content).encode()))


def _six(matrix: Matrix) -> tuple[float, ...]:
    (a, c, e), (b, d, f) = matrix[0].tolist(), matrix[1].tolist()
    return a, b, c, d, e, f


def _marks(
    side: Side, paper: Paper, size_mm: tuple[float, float], marks: Marks, onto: Matrix, bleed: float,
    around: Sequence[tuple[float, float, float, float]],
) -> list[str]:  # fmt: skip
    boxes = trims(side, size_mm)
    content = ["/All CS /All cs 1 SCN 1 scn", f"{LINE_PT} w"]
    off = bleed + OFF_MM

    def is_free(x0: float, y0: float, x1: float, y1: float) -> bool:
        """Whether a mark lies on the sheet and on no piece."""
        if min(x0, x1) < 0 or min(y0, y1) < 0 or max(x0, x1) > paper.width_mm or max(y0, y1) > paper.height_mm:
            return False
        return not any(
            min(x0, x1) < right and max(x0, x1) > left and min(y0, y1) < low and max(y0, y1) > top
            for left, top, right, low in around
        )

    def line(x0: float, y0: float, x1: float, y1: float) -> bool:
        if is_free(x0, y0, x1, y1):
            content.append(f"{_place_matrix(onto, x0, y0)} m {_place_matrix(onto, x1, y1)} l S")
            return True
        return False

    def line_ends(place: float, upright: bool) -> tuple[float, float]:
        """Where the pieces that are cut at a line begin and end along it."""
        ends = [
            box
            for box in boxes
            if any(math.isclose(v, place, abs_tol=1e-4) for v in (box[0:4:2] if upright else box[1:4:2]))
        ]
        return (
            (min(b[1] for b in ends), max(b[3] for b in ends))
            if upright
            else (min(b[0] for b in ends), max(b[2] for b in ends))
        )

    if marks.cut:
        for x in sorted({v for box in boxes for v in (box[0], box[2])}):
            low, high = line_ends(x, True)
            drawn = line(x, low - off, x, low - off - TICK_MM)
            line(x, high + off, x, high + off + TICK_MM)
            if drawn:
                content += _words(f"{x:.1f}", x + 0.4, low - off - TICK_MM + _WORDS_MM, onto, paper)
        for y in sorted({v for box in boxes for v in (box[1], box[3])}):
            low, high = line_ends(y, False)
            drawn = line(low - off, y, low - off - TICK_MM, y)
            line(high + off, y, high + off + TICK_MM, y)
            if drawn:
                content += _words(f"{y:.1f}", low - off - TICK_MM, y - 0.4, onto, paper)
    _folds(side, marks, size_mm, off, line)
    if marks.middle:
        for x, y, dx, dy in (
            (paper.width_mm / 2, 0, 0, 1), (paper.width_mm / 2, paper.height_mm, 0, -1),
            (0, paper.height_mm / 2, 1, 0), (paper.width_mm, paper.height_mm / 2, -1, 0),
        ):  # fmt: skip
            line(x + dx, y + dy, x + dx * (1 + TICK_MM), y + dy * (1 + TICK_MM))
    bottom = max((box[3] for box in around), default=0.0)
    place = paper.height_mm - paper.margin_mm
    if marks.bar and place - _BAR_MM > bottom + 0.5:
        for n, ink in enumerate(_BAR):
            x = paper.margin_mm + n * _BAR_MM
            content.append(
                f"{ink} k {_place_matrix(onto, x, place)} {points_from_mm(_BAR_MM):.3f} {points_from_mm(_BAR_MM):.3f} re f"
            )
        content.append("/All cs 1 scn")
    if marks.slug:
        which = f"{marks.slug} · sheet {side.sheet} {'back' if side.back else 'front'}"
        x = paper.margin_mm + len(_BAR) * _BAR_MM + 4
        y = place - 1 if place - _WORDS_MM > bottom + 0.5 else paper.height_mm - 1.5
        content += _words(which, x, y, onto, paper)
    return content


def _folds(side: Side, marks: Marks, size_mm: tuple[float, float], off: float, line: Any) -> None:
    """Dashed marks where a piece is folded, at its two edges."""
    for placed in side.placed:
        for axis, place in marks.folds:
            low = (place, -off) if axis == "x" else (-off, place)
            high = (place, size_mm[1] + off) if axis == "x" else (size_mm[0] + off, place)
            for (x, y), way in ((low, -1), (high, 1)):
                for dash in (0.0, 1.6, 3.2):
                    step = way * dash
                    end = (x, y + step) if axis == "x" else (x + step, y)
                    other = (x, y + step + way * 0.8) if axis == "x" else (x + step + way * 0.8, y)
                    points = placed.sheet_from_piece @ np.array([[end[0], other[0]], [end[1], other[1]], [1.0, 1.0]])
                    line(points[0, 0], points[1, 0], points[0, 1], points[1, 1])


def _place_matrix(onto: Matrix, x: float, y: float) -> str:
    px, py = (onto @ np.array([x, y, 1.0]))[:2].tolist()
    return f"{px:.4f} {py:.4f}"


def _words(words: str, x: float, y: float, onto: Matrix, paper: Paper) -> list[str]:
    """A line of small words whose first letter stands at a place, as outlines."""
    size_pt = points_from_mm(_WORDS_MM) * 1.35
    wide = 400.0
    setting = set_words(words, _FONT, size_pt, 1.0, "left", "middle", wide, 10.0)
    if not setting.path:
        return []
    # Words are set about the middle of their box.
    pen = Operators(onto @ translation(x + wide / 2, y - _WORDS_MM / 2))
    parse_path(setting.path, pen)
    return [*pen.parts, "f"]


def _check(path: Path, sides: int) -> None:
    with pikepdf.open(path) as written:
        if len(written.pages) != sides:
            raise ExportFailed("The print sheets did not read back as written.", "Free some disk space and try again.")
