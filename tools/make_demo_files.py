"""Writes the files that come with the demo to be read in the workshop: a flat picture of a template, and a lab's blank as PDF."""

import io
from pathlib import Path

import pikepdf
from pikepdf import Array, Dictionary, Name, Stream
from PIL import Image

from sutaru.core.document import Job, Making, Photo
from sutaru.core.edits.apply import apply
from sutaru.core.edits.kinds import BringIn, Fill
from sutaru.core.fitting import resolve_sheet
from sutaru.core.formats.shelf import read_shelf
from sutaru.core.measure import points_from_mm
from sutaru.core.paint import Painter, PixelGrid, items
from sutaru.core.photos import PhotoPixels, examine
from sutaru.shelf import FOLDER

FILES = Path(__file__).parent.parent / "sutaru" / "demo" / "files"


def flat_picture() -> None:
    """The shelf's collage with seven openings, grey where photos lie, as some other program would save it."""
    shelf = read_shelf(FOLDER)
    template, grey = shelf.templates["collage-wind"], io.BytesIO()
    Image.new("RGB", (1200, 1200), "#b4b4b4").save(grey, "JPEG", quality=100)
    photo: Photo = examine(grey.getvalue(), "grey.jpg")
    job = Job(name="Flat", template=template.id, product=template.product, sheets=template.sheets,
              lab=shelf.labs["gullwing-300"], making=Making())  # fmt: skip
    job = apply(apply(job, BringIn(photos=(photo,))), Fill())
    sheet = job.sheets[0]
    left = tuple(layer for layer in sheet.layout.layers if layer.kind != "echo")
    bare = sheet.layout.copy_with(bleed_mm=0.0, layers=left)
    drawn = resolve_sheet(job.copy_with(sheets=(sheet.copy_with(layout=bare),)), sheet.id)
    rgb, _ = Painter(PhotoPixels(lambda _: grey.getvalue())).render(
        items(drawn, shelf.asset, bench=False, notes=False), PixelGrid.for_ppi(bare, 150)
    )
    Image.fromarray(rgb).save(FILES / "wind-flat.jpg", quality=93, subsampling=0, dpi=(150, 150))


def blank() -> None:
    """A lab's blank: a 7 x 5 in card with bleed, its safe area and fold drawn, boxes as ISO 32000-1, 14.11.2 has them."""
    trim, bleed, safe = (355.6, 127.0), 3.0, 4.0
    mm = points_from_mm
    media = [0, 0, mm(trim[0] + 2 * bleed + 20), mm(trim[1] + 2 * bleed + 20)]
    x0, y0 = mm(10 + bleed), mm(10 + bleed)
    box = [x0, y0, x0 + mm(trim[0]), y0 + mm(trim[1])]

    def rectangle(by: float) -> str:
        return f"{box[0] + mm(by):.3f} {box[1] + mm(by):.3f} {mm(trim[0] - 2 * by):.3f} {mm(trim[1] - 2 * by):.3f} re S"

    middle = x0 + mm(trim[0] / 2)
    drawing = "\n".join((
        "0.4 w 0 0.6 0.8 RG", rectangle(-bleed), "0 0 0 RG", rectangle(0), "[4 3] 0 d 0.8 0.2 0.1 RG", rectangle(safe),
        f"{middle:.3f} {box[1]:.3f} m {middle:.3f} {box[3]:.3f} l S",
        f"BT /F 9 Tf 0.4 g 1 0 0 1 {box[0]:.2f} {box[3] + mm(bleed) + 8:.2f} Tm",
        "(Gullwing Lab  -  card 7 x 5 in, folded  -  do not print this layer) Tj ET",
        f"BT /F 8 Tf 1 0 0 1 {middle + 4:.2f} {box[1] + 6:.2f} Tm (fold) Tj ET",
    ))  # fmt: skip
    with pikepdf.new() as pdf:
        font = Dictionary(Type=Name.Font, Subtype=Name.Type1, BaseFont=Name.Helvetica)
        page = Dictionary(
            Type=Name.Page, MediaBox=Array(media), TrimBox=Array([round(v, 3) for v in box]),
            BleedBox=Array([round(v + mm(bleed) * (1 if n > 1 else -1), 3) for n, v in enumerate(box)]),
            Resources=Dictionary(Font=Dictionary(F=font)), Contents=Stream(pdf, drawing.encode()),
        )  # fmt: skip
        pdf.pages.append(pikepdf.Page(pdf.make_indirect(page)))
        pdf.save(FILES / "gullwing-card-blank.pdf", static_id=True)


if __name__ == "__main__":
    FILES.mkdir(exist_ok=True)
    flat_picture()
    blank()
