"""The parts that the shelf's templates are made of: layers, sheets and templates as JSON. Lengths in mm."""

from typing import Any

Layer = dict[str, Any]
SWATCHES = {"Sea": "#2f5d6b", "Rust": "#b4532a", "Sand": "#e9dfcb", "Ink": "#26302f", "Paper": "#fdfcf8"}
SEA, RUST, SAND, INK, PAPER = (f"swatch {name}" for name in SWATCHES)


def r(value: float) -> float:
    return round(value, 3)


def flat(x: float, y: float, turn: float = 0.0) -> Layer:
    return {"kind": "flat", "centre": [r(x), r(y)], "turn_deg": turn}


def box(w: float, h: float, radius: float = 0.0) -> Layer:
    return {"kind": "rectangle", "width_mm": r(w), "height_mm": r(h), "radius_mm": radius}


def opening(name: str, outline: Layer, surface: Layer, **more: Any) -> Layer:
    return {"kind": "opening", "id": name, "name": "", "outline": outline, "surface": surface, **more}


def at(name: str, x: float, y: float, w: float, h: float, **more: Any) -> Layer:
    """An upright opening by its top left corner."""
    return opening(name, box(w, h, more.pop("radius", 0.0)), flat(x + w / 2, y + h / 2), **more)


def rows(
    x: float, y: float, w: float, h: float, columns: int, lines: int, gap: float, start: int = 1, **more: Any
) -> list[Layer]:
    """Openings of one size in columns and lines within a box."""
    wide, high = (w - gap * (columns - 1)) / columns, (h - gap * (lines - 1)) / lines
    return [
        at(
            f"opening-{start + n}",
            x + (n % columns) * (wide + gap),
            y + n // columns * (high + gap),
            wide,
            high,
            **more,
        )
        for n in range(columns * lines)
    ]


def fill(name: str, x: float, y: float, w: float, h: float, colour: str, **more: Any) -> Layer:
    return {
        "kind": "fill",
        "id": name,
        "outline": box(w, h),
        "surface": flat(x + w / 2, y + h / 2),
        "colour": colour,
        **more,
    }


def ground(colour: str, **more: Any) -> Layer:
    return {"kind": "background", "id": "ground", "name": "Ground", "colour": colour, **more}


def texture(kind: str, scale: float, colour: str, strength: float, turn: float = 0.0) -> Layer:
    return {"kind": kind, "scale_mm": scale, "colour": colour, "strength": strength, "turn_deg": turn}


def words(name: str, said: str, x: float, y: float, w: float, h: float, size: float, **more: Any) -> Layer:
    return {"kind": "text", "id": name, "name": name.replace("-", " "), "text": said, "centre": [r(x), r(y)],
            "width_mm": r(w), "height_mm": r(h), "size_pt": size, "colour": INK, **more}  # fmt: skip


def imprint(x: float, y: float, w: float = 90, **more: Any) -> Layer:
    look = {"font": "Manrope", "sample": False, "colour": "studio main", **more}
    return words("imprint", "{studio.name} · {studio.web}", x, y, w, 6, 8, **look)


def piece(name: str, drawing: str, x: float, y: float, w: float, h: float, turn: float = 0.0, **more: Any) -> Layer:
    """An ornament of the shelf: ``kind/name``."""
    return {"kind": "ornament", "id": name, "name": name.replace("-", " "), "ornament": drawing, "centre": [r(x), r(y)],
            "width_mm": r(w), "height_mm": r(h), "turn_deg": turn, "colour": SEA, **more}  # fmt: skip


def note(said: str, x: float, y: float, w: float = 60, h: float = 8) -> Layer:
    return {
        "kind": "note",
        "id": "note",
        "text": said,
        "centre": [r(x), r(y)],
        "width_mm": w,
        "height_mm": h,
        "size_pt": 9,
    }


def sheet(name: str, called: str, w: float, h: float, layers: list[Layer], role: str = "page", **more: Any) -> Layer:
    layout = {"width_mm": r(w), "height_mm": r(h), "bleed_mm": 3, "safe_mm": 6, "swatches": SWATCHES, **more}
    return {"id": name, "name": called, "role": role, "layout": {**layout, "layers": layers}}


def template(
    name: str, called: str, product: str, occasion: str, said: str, *sheets: Layer, tags: tuple[str, ...] = ()
) -> Layer:
    return {"id": name, "name": called, "product": product, "occasion": occasion, "tags": list(tags), "note": said,
            "sheets": list(sheets)}  # fmt: skip


def gutter(at_mm: float) -> list[Layer]:
    return [{"kind": "gutter", "axis": "x", "at_mm": r(at_mm)}]


def days(name: str, x: float, y: float, w: float, h: float, pt: float, **more: object) -> Layer:
    """A date grid by its middle."""
    return {"kind": "dates", "id": name, "name": name.replace("-", " "), "centre": [round(x, 3), round(y, 3)],
            "width_mm": round(w, 3), "height_mm": round(h, 3), "size_pt": pt, **more}  # fmt: skip


def months(layers: list[Layer], w: float, h: float, **more: object) -> list[Layer]:
    """The same leaf for each month of a year."""
    found = []
    for n, month in enumerate(MONTHS):
        one = sheet(f"month-{n + 1:02d}", month, w, h, layers, "month", **more)
        found.append({**one, "fields": {"month": f"2027-{n + 1:02d}"}})
    return found


SOFT = {"kind": "contact", "distance_mm": 0.8, "blur_mm": 2.2, "opacity": 0.35}
LIFTED = {"kind": "lifted", "distance_mm": 2.0, "blur_mm": 2.4, "opacity": 0.4}
WHITE = {"width_mm": 3.5, "colour": "#ffffff"}
MONTHS = (
    "January",
    "February",
    "March",
    "April",
    "May",
    "June",
    "July",
    "August",
    "September",
    "October",
    "November",
    "December",
)
SIGNS = ("sky/snow", "sky/cloud", "sky/wind", "plants/sprig", "plants/daisy", "sky/sun", "kites/diamond", "sea/boat",
         "sea/scallop", "festival/lantern", "sky/moon", "plants/wreath")  # fmt: skip
