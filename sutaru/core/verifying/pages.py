"""What a PDF page paints: its colours, pictures, words and lines, followed through its content as a printer would.

Points are PDF points, y up. Forms within the page are followed; paths are not, only what they are painted with.
Sources: ISO 32000-1 (8.3.4, 8.4, 8.6, 8.9.5, 9.3).
"""

from dataclasses import dataclass, field, replace
from typing import Any

import numpy as np
import pikepdf

from ..geometry.matrices import Matrix

# What is followed; path building is not.
_SEEN = (
    "q Q cm Do k K rg RG g G cs CS sc scn SC SCN gs ri w S s f F f* B B* b b* BI ID EI sh "
    "BT ET Tf Tj TJ ' \" Tr Tm BMC BDC EMC"
)
_FILLS, _STROKES = {"f", "F", "f*", "B", "B*", "b", "b*"}, {"S", "s", "B", "B*", "b", "b*"}
DEEP = 12  # forms within forms
CHANNELS = {"GRAY": 1, "RGB": 3, "CMYK": 4, "Lab": 3}  # by what a profile says of its colour space


@dataclass(frozen=True)
class Ink:
    """What is painted with: the family of its colour space, the space itself where it has a name, its numbers."""

    family: str = "DeviceGray"
    values: tuple[float, ...] = (0.0,)
    spot: str = ""


@dataclass(frozen=True)
class Picture:
    """A picture where it is placed. ``ppi``: the lesser of its two."""

    stream: Any
    width: int
    height: int
    ppi: float
    family: str


@dataclass
class Seen:
    """All that a page paints."""

    families: set[str] = field(default_factory=set)
    spots: set[str] = field(default_factory=set)
    pictures: list[Picture] = field(default_factory=list)
    fonts: dict[str, bool] = field(default_factory=dict)  # by name: whether it is in the file
    words: list[tuple[Ink, float, bool]] = field(default_factory=list)  # ink, size in points, overprinting
    lines: list[float] = field(default_factory=list)  # widths, points
    white_over: bool = False
    transfers: set[str] = field(default_factory=set)
    postscript: bool = False
    blends: set[str] = field(default_factory=set)  # ways of blending that no standard knows
    groups: set[str] = field(default_factory=set)  # colour spaces that transparency is worked out in
    most_ink: float = 0.0  # of what is drawn in inks, percent
    unfinished: str = ""  # what is begun and never ended: q, BT, BDC
    intents: set[str] = field(default_factory=set)  # rendering intents that no standard knows
    halftones: bool = False  # screens that a press is not asked for
    profiles: list[Any] = field(default_factory=list)  # of pictures and colours, as streams
    masks: list[Any] = field(default_factory=list)  # pictures that soften others
    paints: bool = False  # anything at all
    within: list[tuple[int, int]] = field(default_factory=list)  # forms that are being followed, by object
    faults: list[str] = field(default_factory=list)
    followed: set[tuple[int, int]] = field(default_factory=set)  # patterns and masks, by object: each is followed once
    streams: list[Any] = field(default_factory=list)


@dataclass(frozen=True)
class _State:
    matrix: Matrix
    fill: Ink = Ink()
    stroke: Ink = Ink()
    width: float = 1.0
    over: bool = False
    size: float = 12.0
    shown: int = 0
    font: str = ""
    scale: float = 1.0  # of the words' own matrix


def read_painted(page: pikepdf.Page) -> Seen:
    """What a page paints."""
    seen = Seen()
    contents = page.obj.get("/Contents")
    if contents is not None:
        seen.streams += list(contents) if isinstance(contents, pikepdf.Array) else [contents]
    _note_group(page.obj, page.resources, seen)
    _follow(page, page.resources, _State(np.eye(3)), seen, 0)
    return seen


_NAMED = {
    "/G": "DeviceGray", "/RGB": "DeviceRGB", "/CMYK": "DeviceCMYK", "/DeviceGray": "DeviceGray", "/DeviceRGB": "DeviceRGB",
    "/DeviceCMYK": "DeviceCMYK", "/Pattern": "Pattern",
}  # fmt: skip


def _has_own_colour(picture: Any) -> bool:
    """Whether a picture's own data say its colours: JPEG 2000 may (ISO 32000-1, 7.4.9)."""
    kinds = picture.get("/Filter", [])
    names = [str(kind) for kind in ([kinds] if isinstance(kinds, pikepdf.Name) else kinds)]
    return "/ColorSpace" not in picture and "/JPXDecode" in names


def family_of(space: Any, resources: Any) -> tuple[str, str]:
    """The family of a colour space, and a spot colour's name. A name may stand for one of the page's own."""
    if isinstance(space, pikepdf.Name):
        space_named = resources.get("/ColorSpace", {}).get(str(space)) if resources is not None else None
        if space_named is not None:
            return family_of(space_named, None)
        return _NAMED.get(str(space), "unknown"), ""
    if isinstance(space, pikepdf.Array) and len(space):
        kind = str(space[0])[1:]
        if kind == "ICCBased":
            return f"ICCBased {int(space[1].get('/N', 0))}", ""
        if kind == "Indexed":
            return family_of(space[1], resources)
        if kind in ("Separation", "DeviceN"):
            names = [str(space[1])[1:]] if kind == "Separation" else [str(name)[1:] for name in space[1]]
            spots = [name for name in names if name not in ("All", "None", "Cyan", "Magenta", "Yellow", "Black")]
            if len(space) > 2 and family_of(space[2], resources)[0] == "DeviceRGB":
                return "DeviceRGB", ", ".join(spots)  # where a press has no such plate
            return kind, ", ".join(spots)
        return kind, ""
    return "unknown", ""


def _painted_family(space: Any, resources: Any, seen: Seen) -> tuple[str, str]:
    """``family_of`` a space that is painted with, whose profile is remembered."""
    if isinstance(space, pikepdf.Name) and resources is not None:
        space = resources.get("/ColorSpace", {}).get(str(space), space)
    inner = space
    while isinstance(inner, pikepdf.Array) and len(inner) > 1 and str(inner[0]) in ("/Indexed", "/Pattern"):
        inner = inner[1]
    profiled = isinstance(inner, pikepdf.Array) and len(inner) > 1 and str(inner[0]) == "/ICCBased"
    if profiled and all(profile.objgen != inner[1].objgen for profile in seen.profiles):
        seen.profiles.append(inner[1])
    return family_of(space, resources)


def _numbers(operands: Any) -> tuple[float, ...]:
    return tuple(float(v) for v in operands if not isinstance(v, pikepdf.Name))


def _follow(holder: Any, resources: Any, state: _State, seen: Seen, depth: int) -> None:
    try:
        steps = pikepdf.parse_content_stream(holder, _SEEN)
    except (pikepdf.PdfError, TypeError, ValueError):
        seen.faults.append("it cannot be read")
        return
    resources = resources if resources is not None else pikepdf.Dictionary()
    saved: list[_State] = []
    words, marked = 0, 0  # that are open
    for operands, operator in steps:
        name = str(operator)
        words += (name == "BT") - (name == "ET")
        marked += (name in ("BMC", "BDC")) - (name == "EMC")
        if min(words, marked) < 0:
            seen.faults.append(f"{'ET' if words < 0 else 'EMC'} ends what was not begun")
            words, marked = max(words, 0), max(marked, 0)
        try:
            state = _step(name, operands, resources, state, saved, seen, depth)
        except KeyError:
            seen.faults.append(f"{name} names something that is not there")
        except (IndexError, TypeError, ValueError, AttributeError):
            seen.faults.append(f"{name} is not given what it needs")
    seen.unfinished = seen.unfinished or ("q" if saved else "BT" if words else "BDC" if marked else "")


_DEVICE = {"g": "DeviceGray", "rg": "DeviceRGB", "k": "DeviceCMYK"}


def _step(
    name: str, operands: Any, resources: Any, state: _State, saved: list[_State], seen: Seen, depth: int
) -> _State:  # fmt: skip
    if name == "q":
        saved.append(state)
    elif name == "Q":
        if not saved:
            seen.faults.append("a Q has no q")
            return state
        return saved.pop()
    elif name == "cm":
        a, b, c, d, e, f = _numbers(operands)
        return replace(state, matrix=state.matrix @ np.array([[a, c, e], [b, d, f], [0, 0, 1.0]]))
    elif name.lower() in _DEVICE:
        ink = Ink(_DEVICE[name.lower()], _numbers(operands))
        return replace(state, fill=ink) if name.islower() else replace(state, stroke=ink)
    elif name in ("cs", "CS"):
        family, spot = _painted_family(operands[0], resources, seen)
        ink = Ink(family, (), spot)
        return replace(state, fill=ink) if name == "cs" else replace(state, stroke=ink)
    elif name in ("sc", "scn", "SC", "SCN"):
        if operands and isinstance(operands[-1], pikepdf.Name):
            _follow_pattern(resources["/Pattern"][str(operands[-1])], resources, state, seen, depth)
        if name.islower():
            return replace(state, fill=replace(state.fill, values=_numbers(operands)))
        return replace(state, stroke=replace(state.stroke, values=_numbers(operands)))
    elif name == "gs":
        return _graphics(resources["/ExtGState"][str(operands[0])], resources, state, seen, depth)
    elif name == "w":
        return replace(state, width=float(operands[0]))
    elif name == "Tf":
        _font(resources, str(operands[0]), seen)
        return replace(state, size=float(operands[1]), font=str(operands[0]))
    elif name == "Tr":
        return replace(state, shown=int(operands[0]))
    elif name == "ri":
        _note_intent(operands[0], seen)
    elif name == "Tm":
        return replace(state, scale=float(np.hypot(float(operands[2]), float(operands[3]))))
    elif name in ("Tj", "TJ", "'", '"'):
        if state.shown != 3:
            size = state.size * state.scale * float(np.sqrt(abs(np.linalg.det(state.matrix[:2, :2]))))
            seen.words.append((state.fill, size, state.over))
            _note_ink(state.fill, state, seen)
            _follow_glyphs(resources["/Font"][state.font], resources, state, seen, depth)
    elif name == "Do":
        _note_placed(resources["/XObject"][str(operands[0])], resources, state, seen, depth)
    elif name == "sh":
        seen.families.add(_painted_family(resources["/Shading"][str(operands[0])]["/ColorSpace"], resources, seen)[0])
        seen.paints = True
    elif name == "INLINE IMAGE":
        inner = operands[0].obj
        mask, space = bool(inner.get("/ImageMask", False)), inner.get("/ColorSpace", pikepdf.Name.DeviceGray)
        seen.families.add(state.fill.family if mask else _painted_family(space, resources, seen)[0])
        seen.paints = True
    if name in _FILLS:
        _note_ink(state.fill, state, seen)
    if name in _STROKES:
        _note_ink(state.stroke, state, seen)
        seen.lines.append(state.width * float(np.sqrt(abs(np.linalg.det(state.matrix[:2, :2])))))
    return state


def _note_ink(ink: Ink, state: _State, seen: Seen) -> None:
    seen.families.add(ink.family)
    seen.paints = True
    if ink.spot:
        seen.spots.add(ink.spot)
    if state.over and ink.family == "DeviceCMYK" and len(ink.values) == 4 and max(ink.values) == 0:
        seen.white_over = True
    if ink.family == "DeviceCMYK" and len(ink.values) == 4:
        seen.most_ink = max(seen.most_ink, 100 * sum(ink.values))


def _note_group(holder: Any, resources: Any, seen: Seen) -> None:
    """The colour space of a transparency group (ISO 32000-1, 11.6.6)."""
    space = holder.get("/Group", {}).get("/CS")
    if space is not None:
        seen.groups.add(family_of(space, resources)[0])


def _is_new(stream: Any, seen: Seen) -> bool:
    """Whether a pattern or a mask was not followed yet: a page may choose the same thousands of times."""
    is_new = stream.objgen not in seen.followed
    seen.followed.add(stream.objgen)
    return is_new


def _follow_pattern(pattern: Any, resources: Any, state: _State, seen: Seen, depth: int) -> None:
    """What a pattern paints: tiles of content, or a shading (ISO 32000-1, 8.7)."""
    if int(pattern.get("/PatternType", 0)) == 2:
        seen.families.add(family_of(pattern["/Shading"]["/ColorSpace"], resources)[0])
    elif depth < DEEP and _is_new(pattern, seen):
        seen.streams.append(pattern)
        _follow(pattern, pattern.get("/Resources", resources), state, seen, depth + 1)


def _follow_glyphs(font: Any, resources: Any, state: _State, seen: Seen, depth: int) -> None:
    """What the glyphs of a Type 3 font paint, which are content of their own (ISO 32000-1, 9.6.5)."""
    if str(font.get("/Subtype")) != "/Type3" or depth >= DEEP or not _is_new(font, seen):
        return
    for glyph in font.get("/CharProcs", {}).values():
        seen.streams.append(glyph)
        _follow(glyph, font.get("/Resources", resources), state, seen, depth + 1)


# ISO 32000-1, table 70.
_INTENTS = {"/AbsoluteColorimetric", "/RelativeColorimetric", "/Saturation", "/Perceptual"}


def _note_intent(intent: Any, seen: Seen) -> None:
    if str(intent) not in _INTENTS:
        seen.intents.add(str(intent)[1:])


# ISO 32000-1, tables 136 and 137; Compatible is Normal.
_BLENDS = {
    "/Normal", "/Compatible", "/Multiply", "/Screen", "/Overlay", "/Darken", "/Lighten", "/ColorDodge", "/ColorBurn",
    "/HardLight", "/SoftLight", "/Difference", "/Exclusion", "/Hue", "/Saturation", "/Color", "/Luminosity",
}  # fmt: skip


def _graphics(settings: Any, resources: Any, state: _State, seen: Seen, depth: int) -> _State:
    blend = settings.get("/BM")
    if blend is not None:  # of several a reader takes the first that it knows
        names = {str(mode) for mode in (blend if isinstance(blend, pikepdf.Array) else [blend])}
        if not names & _BLENDS:
            seen.blends |= {name[1:] for name in names}
    mask = settings.get("/SMask")
    if isinstance(mask, pikepdf.Dictionary) and "/G" in mask and depth < DEEP and _is_new(mask["/G"], seen):
        shape = mask["/G"]
        seen.streams.append(shape)
        _note_group(shape, resources, seen)
        _follow(shape, shape.get("/Resources", resources), state, seen, depth + 1)
    seen.transfers |= {
        key for key in ("/TR", "/TR2", "/HTP") if key in settings and str(settings.get(key)) != "/Default"
    }
    if "/RI" in settings:
        _note_intent(settings["/RI"], seen)
    screen = settings.get("/HT")
    seen.halftones |= (
        isinstance(screen, pikepdf.Object)
        and not isinstance(screen, pikepdf.Name)
        and int(screen.get("/HalftoneType", 0)) not in (1, 5)
    )
    if "/op" in settings or "/OP" in settings:
        state = replace(state, over=bool(settings.get("/op", settings.get("/OP", False))))
    return replace(state, width=float(settings["/LW"])) if "/LW" in settings else state


def _font(resources: Any, name: str, seen: Seen) -> None:
    font = resources["/Font"][name]
    inner = font["/DescendantFonts"][0] if "/DescendantFonts" in font else font
    about = inner.get("/FontDescriptor")
    files = [key for key in ("/FontFile", "/FontFile2", "/FontFile3") if about is not None and key in about]
    held = str(font.get("/Subtype")) == "/Type3" or bool(files)
    called = str(font.get("/BaseFont", name))[1:]
    seen.fonts[called] = held
    if files and not _is_font(files[0], about[files[0]]):
        seen.faults.append(f"the file of the font {called} is no font")


_SFNT = (b"\0\1\0\0", b"true", b"OTTO", b"ttcf", b"typ1")


def _is_font(key: str, stream: Any) -> bool:
    """Whether a font's file begins as one of its kind does (ISO 32000-1, table 126)."""
    try:
        data = bytes(stream.read_bytes())
    except pikepdf.PdfError:
        return False
    if key == "/FontFile":
        return data.startswith((b"%!", b"\x80\x01"))
    if key == "/FontFile3" and str(stream.get("/Subtype")) in ("/Type1C", "/CIDFontType0C"):
        return len(data) > 4 and data[0] == 1
    return data.startswith(_SFNT)


def _note_placed(what: Any, resources: Any, state: _State, seen: Seen, depth: int) -> None:
    kind = str(what.get("/Subtype"))
    seen.streams.append(what)
    if kind == "/PS":
        seen.postscript = True
    elif kind == "/Form" and what.objgen in seen.within:
        seen.faults.append("a form shows itself")
    elif kind == "/Form" and depth < DEEP:
        matrix = np.eye(3)
        if "/Matrix" in what:
            a, b, c, d, e, f = (float(v) for v in what["/Matrix"])
            matrix = np.array([[a, c, e], [b, d, f], [0, 0, 1.0]])
        inner = replace(state, matrix=state.matrix @ matrix)
        _note_group(what, resources, seen)
        seen.within.append(what.objgen)
        _follow(what, what.get("/Resources", resources), inner, seen, depth + 1)
        seen.within.pop()
    elif kind == "/Image":
        width, height = int(what["/Width"]), int(what["/Height"])
        sides = np.hypot(*state.matrix[:2, :2])  # how long the unit square's sides are, points
        ppi = min(width / max(float(sides[0]), 1e-9), height / max(float(sides[1]), 1e-9)) * 72.0
        mask = bool(what.get("/ImageMask", False))
        family, spot = (
            (state.fill.family, state.fill.spot) if mask
            else ("JPEG 2000", "") if _has_own_colour(what)
            else _painted_family(what.get("/ColorSpace"), resources, seen)
        )  # fmt: skip
        seen.families.add(family)
        seen.paints = True
        if "/Intent" in what:
            _note_intent(what["/Intent"], seen)
        if spot:
            seen.spots.add(spot)
        seen.pictures.append(Picture(what, width, height, ppi, family))
        soft = what.get("/SMask")
        if soft is not None:
            seen.streams.append(soft)
            seen.masks.append(soft)
