"""Contact sheets: all photos of a pile, or some, small and whole, in rows, each with its file's name below it.

A contact sheet is a job like any other: it can be altered, exported and printed as one.
"""

import math
from collections.abc import Sequence

from ..document import Edition, Filling, Flat, Job, LabSheet, Layout, Opening, Photo, Pile, Placement, Sheet, Text
from ..document.shapes import Rectangle
from ..errors import EditRefused

CONTACT = "contact"  # what such a job says that it was begun from
MARGIN_MM, GAP_MM, WORDS_MM = 10.0, 5.0, 4.5  # words: the room below a photo
_SIZE_PT = 6.5
MOST = 2000


def contact_job(
    name: str, photos: Sequence[Photo], lab: LabSheet, width_mm: float = 210.0, height_mm: float = 297.0, columns: int = 5
) -> Job:  # fmt: skip
    """Photos in their order, ``columns`` a row, on as many sheets as they need. Raises EditRefused when there are none, or no
    room.

    Cells are square; a photo lies whole in the middle of its own.
    """
    if not photos:
        raise EditRefused("There is no photo for a contact sheet.", "Bring photos in first.")
    if len(photos) > MOST:
        raise EditRefused(f"A contact sheet takes at most {MOST:,} photos.", "Choose some of them.")
    side = (width_mm - 2 * MARGIN_MM - (columns - 1) * GAP_MM) / columns
    high = side + WORDS_MM
    rows = math.floor((height_mm - 2 * MARGIN_MM + GAP_MM) / (high + GAP_MM))
    if side < 8 or rows < 1:
        raise EditRefused("The sheet has no room for so many columns.", "Choose fewer, or a larger sheet.")
    sheets, fillings = [], {}
    for start in range(0, len(photos), columns * rows):
        number = start // (columns * rows) + 1
        layers: list[Opening | Text] = []
        placements = {}
        for n, photo in enumerate(photos[start : start + columns * rows], 1):
            row, column = divmod(n - 1, columns)
            x, y = MARGIN_MM + column * (side + GAP_MM), MARGIN_MM + row * (high + GAP_MM)
            scale = side / max(photo.width, photo.height)
            size = round(photo.width * scale, 4), round(photo.height * scale, 4)
            surface = Flat(centre=(round(x + side / 2, 4), round(y + side / 2, 4)))
            outline = Rectangle(width_mm=size[0], height_mm=size[1])
            layers.append(Opening(id=f"photo-{n}", outline=outline, surface=surface))
            centre = round(x + side / 2, 4), round(y + side + WORDS_MM / 2, 4)
            words = {"width_mm": round(side, 4), "height_mm": WORDS_MM, "size_pt": _SIZE_PT, "fit_pt": (3.0, _SIZE_PT)}
            text = photo.name.replace("{", "(").replace("}", ")")  # braces name fields
            layers.append(Text(id=f"name-{n}", text=text, centre=centre, sample=False, align="centre", **words))
            placements[f"photo-{n}"] = Placement(photo=photo.id)
        layout = Layout(width_mm=width_mm, height_mm=height_mm, bleed_mm=0, safe_mm=0, layers=tuple(layers))
        sheet = Sheet(id=f"sheet-{number}", name=f"Sheet {number}", layout=layout)
        sheets.append(sheet)
        fillings[sheet.id] = Filling(placements=placements)
    return Job(
        name=name[:120], template=CONTACT, product="collage", lab=lab, sheets=tuple(sheets), pile=Pile(photos=tuple(photos)),
        editions=(Edition(fillings=fillings),),
    )  # fmt: skip
