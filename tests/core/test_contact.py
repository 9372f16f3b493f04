"""Contact sheets: every photo once, whole, with its name, on as few sheets as hold them."""

from pathlib import Path

import pytest

from sutaru.command_line.main import main
from sutaru.core.books.contact import contact_job
from sutaru.core.checks import check_job
from sutaru.core.errors import EditRefused
from sutaru.core.fitting import crop_share, resolve_sheet
from tests.conftest import LABS
from tests.core.booked import one, photos

LAB = LABS["gullwing-300"]


@pytest.mark.parametrize(("count", "columns", "sheets"), [(1, 5, 1), (30, 5, 1), (31, 5, 2), (70, 7, 2), (200, 6, 5)])
def test_every_photo_lies_whole_with_its_name(count: int, columns: int, sheets: int) -> None:
    pile = photos(count)
    job = contact_job("Kites, contact sheet", pile, LAB, columns=columns)
    assert len(job.sheets) == sheets
    laid = []
    for sheet in job.sheets:
        for drawn in resolve_sheet(job, sheet.id).drawn:
            if drawn.layer.kind == "opening":
                assert drawn.photo is not None
                assert crop_share(drawn.layer, drawn.photo, drawn.placement) == pytest.approx(0, abs=1e-4)
                words = sheet.layout.texts_by_id[drawn.layer.id.replace("photo", "name")]
                assert words.text == drawn.photo.name
                laid.append(drawn.photo.id)
    assert laid == [photo.id for photo in pile]
    assert {finding.severity for finding in check_job(job)} <= {"look", "note"}


def test_cells_lie_within_the_sheet_and_apart() -> None:
    layout = contact_job("K", photos(40), LAB, 297, 210, 8).sheets[0].layout
    boxes = []
    for opening in layout.openings():
        x, y = opening.surface.centre
        w, h = opening.outline.width_mm, opening.outline.height_mm
        boxes.append((x - w / 2, y - h / 2, x + w / 2, y + h / 2))
    assert min(min(box[:2]) for box in boxes) >= 9.99
    assert max(box[2] for box in boxes) <= 287.01
    assert max(box[3] for box in boxes) <= 200.01
    for n, a in enumerate(boxes):
        for b in boxes[n + 1 :]:
            assert max(b[0] - a[2], a[0] - b[2], b[1] - a[3], a[1] - b[3]) >= 4.99


def test_what_cannot_be_is_refused() -> None:
    for given, columns, why in (((), 5, "no photo"), (photos(3), 40, "no room for so many columns")):
        with pytest.raises(EditRefused, match=why):
            contact_job("K", given, LAB, columns=columns)
    braces = contact_job("K", (one(1).copy_with(name="a{b}.jpg"),), LAB)
    assert resolve_sheet(braces, "sheet-1").drawn[1].words == "a(b).jpg"


def test_from_the_command_line(pile: list, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    out = tmp_path / "contact.sutaru"
    bad = tmp_path / "letter.jpg"
    bad.write_bytes(b"Dear customer")
    assert main(["contact", *[str(path) for path, _ in pile[:3]], str(bad), "-o", str(out), "--columns", "2"]) == 1
    said = capsys.readouterr()
    assert "3 photos on 1 sheet" in said.out
    assert "letter.jpg" in said.err
    assert main(["export", str(out), "-o", str(tmp_path / "files"), "--format", "png"]) == 0
    assert (tmp_path / "files" / "contact_01.png").exists()
