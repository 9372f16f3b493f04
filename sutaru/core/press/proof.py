"""The customer's proof: one HTML page with all sheets as marked pictures, to turn, and to write remarks to. It needs no network.

Remarks come back as a small JSON file: ``{"sutaru_remarks": 1, "job": ..., "name": ..., "remarks": [{"id", "sheet", "x", "y",
"text"}]}``; x and y are shares of the sheet's trim.
"""

import base64
import html
import io
import json
import re
from collections.abc import Callable, Container, Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import Annotated, Literal

from PIL import Image, ImageChops, ImageDraw, ImageFont
from pydantic import BaseModel, Field, ValidationError

from ..document import Job, Layout, Remark
from ..errors import FileRefused
from ..words.faces import FOLDER as FONTS
from ..words.faces import nearest

PAGE = Path(__file__).with_name("proof.html")
MARK = "PROOF"
_MOST_BYTES = 2_000_000
_PLACE = re.compile(r"\{\{(title|by|about|connect)\}\}")


def watermark(jpeg: bytes) -> bytes:
    """A picture with a mark across it that a print would show."""
    with Image.open(io.BytesIO(jpeg)) as opened:
        picture = opened.convert("RGB")
    size = max(18, picture.width // 14)
    font = ImageFont.truetype(str(FONTS / nearest("Lato", 700, False).file), size)
    wide, high = 6 * size, 3 * size
    tile = Image.new("L", (wide, high), 0)
    ImageDraw.Draw(tile).text((wide / 2, high / 2), MARK, fill=80, font=font, anchor="mm")
    across = Image.new("L", (2 * picture.width, 2 * picture.height), 0)
    for n, y in enumerate(range(0, across.height, high)):
        for x in range(-(n % 2) * wide // 2, across.width, wide):
            across.paste(tile, (x, y))
    turned = across.rotate(30, Image.Resampling.BILINEAR)
    left, top = (across.width - picture.width) // 2, (across.height - picture.height) // 2
    mask = turned.crop((left, top, left + picture.width, top + picture.height))
    # Light with a dark edge, so that it shows on any picture.
    edge = ImageChops.subtract(ImageChops.offset(mask, max(1, size // 24)), mask)
    picture.paste((0, 0, 0), (0, 0), edge)
    picture.paste((255, 255, 255), (0, 0), mask)
    out = io.BytesIO()
    picture.save(out, "JPEG", quality=80)
    return out.getvalue()


def _describe_layout(layout: Layout, identity: str, name: str) -> dict[str, object]:
    folds = [
        round(line.at_mm / layout.width_mm, 5)
        for line in layout.lines if line.axis == "x" and line.kind in ("gutter", "fold", "spine")
    ]  # fmt: skip
    bleed = layout.bleed_mm / layout.width_mm, layout.bleed_mm / layout.height_mm
    return {
        "id": identity, "name": name, "ratio": layout.width_mm / layout.height_mm, "bleed": [round(b, 6) for b in bleed],
        "folds": folds,
    }  # fmt: skip


@dataclass(frozen=True)
class Sending:
    """Where a proof that is opened by a link sends remarks and an approval; which of the job's states it shows; and who has
    approved it when, "" for nobody yet."""

    address: str
    state: int
    approved_by: str = ""
    approved: str = ""


def write_proof(
    job: Job, named: str, made_at: str, file: str, picture: Callable[[str], bytes], edition: str = "",
    sending: Sending | None = None,
) -> Iterator[str]:  # fmt: skip
    """The page, piece by piece. ``named``: the job's id, which remarks will say; ``made``: when; ``file``: what the file of
    remarks is to be called; ``picture``: a sheet as JPEG, its bleed included, by the sheet's id; ``edition``: whose sheets, the
    first's for "". With ``sending`` remarks are sent, and not saved as a file. Raises KeyError for no edition."""
    sheets = job.sheets_of(job.edition(edition))
    about: dict[str, object] = {
        "job": named, "made": made_at, "file": file,
        "sheets": [_describe_layout(sheet.layout, sheet.id, sheet.name) for sheet in sheets],
    }  # fmt: skip
    if sending:
        about |= {"send": sending.address, "state": sending.state}
        about |= {"approved_by": sending.approved_by, "approved": sending.approved}
    title = job.fields.get("title") or job.name
    studio = job.studio.name if job.studio else ""
    values = {
        "title": html.escape(title), "by": html.escape(" · ".join(filter(None, (job.customer, studio, made_at[:10])))),
        "about": json.dumps(about, ensure_ascii=False).replace("<", "\\u003c"),
        "connect": " connect-src 'self';" if sending else "",
    }  # fmt: skip
    # Once over the page as it ships: what a job is called may itself hold braces.
    before, after = (
        _PLACE.sub(lambda match: values[match[1]], part) for part in PAGE.read_text("utf-8").split("{{pictures}}")
    )
    yield before
    for n, sheet in enumerate(sheets):
        comma = "," if n else ""
        yield f'{comma}"{base64.b64encode(watermark(picture(sheet.id))).decode()}"'
    yield after


def read_remarks(data: bytes, sheets: Container[str], named: str, received_at: str) -> list[Remark]:
    """What a customer wrote. ``sheets``: ids of those that a proof may have shown; ``named``: the job's id; ``received_at``: when
    it came in. Raises FileRefused for anything but a file of remarks to this job."""
    refused = FileRefused("This is no file of remarks.", "Ask the customer for the file that the proof saves.")
    if len(data) > _MOST_BYTES:
        raise refused
    try:
        remarks_file = _RemarksFile.model_validate_json(data)
        if remarks_file.job != named:
            raise FileRefused("These remarks are to another job.", "Open the job that its proof was made of.")
        return [
            Remark.model_validate(
                {**entry.model_dump(), "name": remarks_file.name[:120] or "The customer", "said": received_at}
            )
            for entry in remarks_file.remarks
            if entry.sheet in sheets
        ]
    except ValidationError:
        raise refused from None


class _Entry(BaseModel):
    id: str
    sheet: str
    x: float
    y: float
    text: str


class _RemarksFile(BaseModel):
    sutaru_remarks: Literal[1]
    job: str
    name: str = ""
    remarks: Annotated[list[_Entry], Field(max_length=2000)]
