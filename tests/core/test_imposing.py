"""Print sheets: best fills against counting every way, backs in register against a sheet turned over in space, booklets against
a folded paper model; read back by position from the PDF."""

import json
import re
import subprocess
from pathlib import Path

import numpy as np
import pikepdf
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image

from sutaru.command_line.main import main
from sutaru.core.colour.profiles import profile_bytes
from sutaru.core.document import Background, FillBox, Flat, Layout, Line, Rectangle
from sutaru.core.errors import ExportFailed
from sutaru.core.formats.bundle import write_bundle
from sutaru.core.paint import refuse_asset
from sutaru.core.press.imposing import Paper, Slot, booklet, impose_pieces, rooms, slots, trims, turn_over
from tests.conftest import LABS, one_sheet


# Best fills worked out by hand: sheet, piece, gap, how many.
@pytest.mark.parametrize(
    ("sheet", "margin", "piece", "gap", "count"),
    [
        ((450, 320), 5, (148, 105), 6, 8),  # turned: 4 x 105 + 3 x 6 = 438 of 440 across, 2 x 148 + 6 = 302 of 310 down
        ((320, 450), 5, (148, 105), 6, 8),
        (
            (330, 488),
            5,
            (90, 55),
            0,
            28,
        ),  # 320 x 478: four columns of 5 turned (220 x 450), beside them one of 8 (90 x 440)
        ((210, 297), 0, (297, 210), 0, 1),
        ((100, 100), 5, (60, 60), 5, 1),
        ((225, 320), 5, (105, 148), 4, 4),
    ],
)
def test_fills(sheet: tuple, margin: float, piece: tuple, gap: float, count: int) -> None:
    assert len(slots(Paper(*sheet, margin), *piece, gap)) == count


@settings(max_examples=150, deadline=None)
@given(
    st.tuples(st.integers(100, 500), st.integers(100, 500)), st.tuples(st.integers(30, 200), st.integers(30, 200)),
    st.integers(0, 8), st.integers(0, 12),
)  # fmt: skip
def test_pieces_lie_on_the_sheet_and_never_on_one_another(sheet: tuple, piece: tuple, gap: int, margin: int) -> None:
    paper = Paper(*map(float, sheet), float(margin))
    room = paper.width_mm - 2 * margin, paper.height_mm - 2 * margin
    fits = any(w <= room[0] and h <= room[1] for w, h in (piece, piece[::-1]))
    if not fits:
        with pytest.raises(ExportFailed, match="has no room for a piece"):
            slots(paper, *piece, gap)
        return
    found = slots(paper, *piece, gap)
    for slot in found:
        assert slot.left >= margin - 1e-6
        assert slot.top >= margin - 1e-6
        assert slot.left + slot.width <= paper.width_mm - margin + 1e-6
        assert slot.top + slot.height <= paper.height_mm - margin + 1e-6
        assert sorted((slot.width, slot.height)) == sorted(piece)
    for n, one in enumerate(found):
        for other in found[n + 1 :]:
            apart = max(
                other.left - one.left - one.width, one.left - other.left - other.width,
                other.top - one.top - one.height, one.top - other.top - other.height,
            )  # fmt: skip
            assert apart >= gap - 1e-6
    # At least as many as plain rows and columns of either way.
    plain = [int((room[0] + gap) // (w + gap)) * int((room[1] + gap) // (h + gap)) for w, h in (piece, piece[::-1])]
    assert len(found) >= max(plain)


def test_the_grain_decides_which_way_a_piece_lies() -> None:
    paper = Paper(450, 320, grain="width")
    along = slots(paper, 105, 148, 4, "along")  # fibres along the piece's height: it lies turned
    assert all(slot.turned for slot in along)
    assert not any(slot.turned for slot in slots(paper, 105, 148, 4, "across"))
    # Of paper whose grain nobody told, any way will do.
    assert slots(Paper(450, 320), 105, 148, 4, "along") == slots(Paper(450, 320), 105, 148, 4)


@pytest.mark.parametrize("edge", ["long", "short"])
@pytest.mark.parametrize("sheet", [(450.0, 320.0), (320.0, 450.0)])
@pytest.mark.parametrize("turned", [False, True])
def test_backs_lie_behind_their_fronts_when_the_sheet_is_turned_over(edge: str, sheet: tuple, turned: bool) -> None:
    """A paper model: the sheet lies in space, its front towards the eye; turned over about an edge, its back is seen."""
    paper, (w, h) = Paper(*sheet), (100.0, 60.0)
    slot = Slot(40, 30, h, w, True) if turned else Slot(40, 30, w, h, False)
    front = slot.sheet_from_piece()
    back = turn_over(front, paper, w, edge)  # type: ignore[arg-type]
    long_is_level = sheet[0] >= sheet[1]
    about_level = (edge == "long") == long_is_level

    def behind(point: np.ndarray) -> np.ndarray:
        """A place on the back's own drawing as a place of the sheet, seen through from the front."""
        x, y = point
        return np.array([x, sheet[1] - y]) if about_level else np.array([sheet[0] - x, y])

    for x, y in ((0, 0), (w, 0), (10, 50), (77, 13)):
        seen = (front @ [x, y, 1])[:2]
        # A leaf that is turned about its height: what is at its left in front is at its right behind.
        through = behind((back @ [w - x, y, 1])[:2])
        assert through == pytest.approx(seen)


def test_copies_fill_sheets_in_order() -> None:
    sides = impose_pieces(Paper(450, 320), (148, 105), [(0, 1)] * 9 + [(2, None)], 6, "long")
    assert [(side.sheet, side.back, [p.page for p in side.placed]) for side in sides] == [
        (1, False, [0] * 8), (1, True, [1] * 8), (2, False, [0, 2]), (2, True, [1]),
    ]  # fmt: skip
    for front, back in zip(sides[::2], sides[1::2], strict=True):
        mirrored = {tuple(round(v, 3) for v in (l, 320 - b, r, 320 - t)) for l, t, r, b in trims(back, (148, 105))}  # noqa: E741
        assert mirrored <= {tuple(round(v, 3) for v in box) for box in trims(front, (148, 105))}


@pytest.mark.parametrize(("pages", "signature"), [(8, 0), (12, 0), (16, 2), (10, 0), (4, 0), (24, 3)])
@pytest.mark.parametrize("edge", ["short", "long"])
def test_a_booklet_reads_on_when_it_is_folded(pages: int, signature: int, edge: str) -> None:
    """A paper model: sheets laid on one another, folded; leaves are turned one after the other."""
    paper = Paper(320, 225)
    sides = booklet(paper, (148, 210), pages, edge, signature)  # type: ignore[arg-type]
    total = -(-pages // 4) * 4
    each = (signature or total // 4) * 2
    read: list[int] = []
    for start in range(0, len(sides), each):
        fronts, backs = sides[start : start + each : 2], sides[start + 1 : start + each : 2]
        leaves: list[tuple[int, int]] = []  # of each sheet's right half, from outside in: front page, page behind it
        ends: list[tuple[int, int]] = []
        for front, back in zip(fronts, backs, strict=True):

            def at(side, right: bool, seen_through: bool) -> int:  # type: ignore[no-untyped-def]
                for placed in side.placed:
                    x, y = (placed.sheet_from_piece @ [74, 105, 1])[:2]
                    if seen_through:
                        # Turned about its short edge, or else about its long one: what is seen from the front.
                        x, y = (x, 225 - y) if edge == "long" else (320 - x, y)
                    if (x > 160) == right:
                        up = (placed.sheet_from_piece @ [0, -1, 0])[1]
                        assert up == (1 if seen_through and edge == "long" else -1)
                        return placed.page
                return -1

            leaves.append((at(front, True, False), at(back, True, True)))
            ends.append((at(back, False, True), at(front, False, False)))
        for first, second in (*leaves, *reversed(ends)):
            read += [first, second]
    assert [page for page in read if page >= 0] == list(range(pages))


def test_creep_moves_inner_sheets_to_the_fold() -> None:
    sides = booklet(Paper(330, 230), (148, 210), 12, "short", 0, 0.5)
    lefts = [min(box[0] for box in trims(side, (148, 210))) for side in sides[::2]]
    assert np.diff(lefts) == pytest.approx([0.5, 0.5])
    with pytest.raises(ExportFailed, match="no room for two pages"):
        booklet(Paper(300, 230), (148, 210), 4, "short")


@pytest.mark.parametrize("pages", [4, 8, 10, 16, 48, 96])
@pytest.mark.parametrize(("signature", "creep"), [(0, 0.0), (0, 0.3), (4, 0.3)])
def test_pages_of_a_booklet_bleed_outwards_and_end_at_the_fold(pages: int, signature: int, creep: float) -> None:
    for side in booklet(Paper(360, 240), (148, 210), pages, "short", signature, creep):
        for box, room in zip(trims(side, (148, 210)), rooms(side, (148, 210), 3), strict=True):
            outward = (box[0] - 3, 180) if box[0] + 74 < 180 else (180, box[2] + 3)
            assert (room[0], room[2]) == pytest.approx(outward)
            assert (room[1], room[3]) == pytest.approx((box[1] - 3, box[3] + 3))


@pytest.mark.parametrize("gap", [0, 2, 6, 20])
def test_pieces_bleed_where_they_have_no_neighbour(gap: float) -> None:
    (side,) = impose_pieces(Paper(320, 230), (90, 50), [(0, None)] * 9, gap)
    boxes, own = trims(side, (90, 50)), rooms(side, (90, 50), 3)
    left, top = min(box[0] for box in boxes), min(box[1] for box in boxes)
    for box, room in zip(boxes, own, strict=True):
        inner = min(3, gap / 2)
        assert room[0] == pytest.approx(box[0] - (3 if box[0] == left else inner))
        assert room[1] == pytest.approx(box[1] - (3 if box[1] == top else inner))
    for n, one in enumerate(own):
        for other in own[n + 1 :]:
            assert (
                min(one[2], other[2]) - max(one[0], other[0]) < 1e-6
                or min(one[3], other[3]) - max(one[1], other[1]) < 1e-6
            )


# --- as a PDF -----------------------------------------------------------------------------------------------------------


@pytest.fixture
def bundle(tmp_path: Path) -> Path:
    """Two sheets: a red one with a dark corner at its top left, and a blue one behind."""

    def side(colour: str) -> Layout:
        corner = FillBox(
            id="c", colour="#101010", outline=Rectangle(width_mm=20, height_mm=10), surface=Flat(centre=(10, 5))
        )
        return Layout(width_mm=90, height_mm=50, bleed_mm=3, layers=(Background(id="b", colour=colour), corner),
                      lines=(Line(kind="fold", axis="x", at_mm=45),))  # fmt: skip

    job = one_sheet(side("#d01818"))
    job = job.copy_with(
        sheets=(job.sheets[0], job.sheets[0].copy_with(id="q", name="Q", layout=side("#1818d0"))), name="Kites",
        lab=LABS["gullwing-300"].copy_with(ppi_target=100, ppi_least=72),
    )  # fmt: skip
    write_bundle(tmp_path / "job.sutaru", job, lambda photo: b"", refuse_asset)
    return tmp_path / "job.sutaru"


def drawn(pdf: Path, page: int, ppi: int = 100) -> np.ndarray:
    only = ["-f", str(page), "-l", str(page), "-r", str(ppi)]
    command = ["pdftocairo", "-png", "-singlefile", *only, str(pdf), str(pdf.with_suffix(""))]
    subprocess.run(command, check=True, capture_output=True)
    with Image.open(pdf.with_suffix(".png")) as picture:
        return np.asarray(picture.convert("RGB")).astype(int)


@pytest.mark.parametrize("duplex", ["long", "short"])
def test_read_back_by_position(bundle: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str], duplex: str) -> None:
    out = tmp_path / "sheets.pdf"
    assert (
        main(
            [
                "impose",
                str(bundle),
                "-o",
                str(out),
                "--sheet",
                "320x225mm",
                "--copies",
                "9",
                "--duplex",
                duplex,
                "--json",
            ]
        )
        == 0
    )
    told = json.loads(capsys.readouterr().out)
    assert [len(side["pages"]) for side in told] == [9, 9]
    px = 100 / 25.4
    for number, side in enumerate(told, 1):
        seen = drawn(out, number)
        assert seen.shape[:2] == pytest.approx((225 * px, 320 * px), abs=1.5)
        for left, top, right, bottom in side["trims_mm"]:
            middle = seen[round((top + bottom) / 2 * px), round((left + right) / 2 * px)]
            wanted = (208, 24, 24) if side["side"] == "front" else (24, 24, 208)
            assert middle == pytest.approx(wanted, abs=12)
            # It bleeds over each of its edges, half way to its neighbour.
            for x, y in (
                (left - 2, (top + bottom) / 2), (right + 2, (top + bottom) / 2),
                ((left + right) / 2, top - 2), ((left + right) / 2, bottom + 2),
            ):  # fmt: skip
                assert seen[round(y * px), round(x * px)] == pytest.approx(wanted, abs=12)
            corners = [
                seen[round(y * px), round(x * px)].sum() for x in (left + 2, right - 2) for y in (top + 2, bottom - 2)
            ]
            assert sum(value < 120 for value in corners) == 1  # its dark corner is at one of its own corners
    # Seen through the sheet, each back's corner lies at its front's other upper corner.
    front, back = drawn(out, 1), drawn(out, 2)
    through = back[::-1] if duplex == "long" else back[:, ::-1]
    for left, top, right, bottom in told[0]["trims_mm"]:
        wide = right - left > bottom - top
        if wide:
            assert front[round((top + 2) * px), round((left + 2) * px)].sum() < 120
            assert through[round((top + 2) * px), round((right - 2) * px)].sum() < 120
    assert (
        "No syntax" in subprocess.run(["qpdf", "--check", str(out)], capture_output=True, text=True, check=True).stdout
    )
    with pikepdf.open(out) as pdf:
        forms = {form.objgen for page in pdf.pages for form in page.obj.Resources.XObject.values()}
        assert len(forms) == 2  # each page is in the file once
        assert pdf.pages[0].obj.Resources.ColorSpace.All[1] == pikepdf.Name.All


def test_marks_lie_where_the_cuts_are(bundle: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    out = tmp_path / "sheets.pdf"
    main(["impose", str(bundle), "-o", str(out), "--sheet", "320x225mm", "--copies", "2", "--json"])
    (left, top, right, _), *_ = json.loads(capsys.readouterr().out)[0]["trims_mm"]
    seen = drawn(out, 1, 300)
    px = 300 / 25.4
    dark = seen.sum(-1) < 250
    row = round((top - 3 - 1 - 2) * px)  # amid the marks above the first row
    columns = np.nonzero(dark[row])[0] / px
    assert any(abs(columns - left) < 0.15)
    assert any(abs(columns - right) < 0.15)
    assert not dark[row, round((left + right) / 2 * px) + 12 : round(right * px) - 40].any()
    text = subprocess.run(
        ["mutool", "draw", "-F", "trace", str(out), "1"], capture_output=True, text=True, check=True
    ).stdout
    assert len(re.findall("<stroke_path", text)) > 20


def test_a_booklet_prints_its_bleed_outside_and_nothing_over_the_fold(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    """Eight pages of a colour each, as poppler draws them: what creep moves over the fold is cut there."""
    layouts = [
        Layout(
            width_mm=80,
            height_mm=60,
            bleed_mm=3,
            layers=(Background(id="b", colour=f"#{20 + 25 * n:02x}{200 - 20 * n:02x}40"),),
        )
        for n in range(8)
    ]
    job = one_sheet(layouts[0])
    sheets = tuple(job.sheets[0].copy_with(id=f"p{n}", name=str(n), layout=layout) for n, layout in enumerate(layouts))
    job = job.copy_with(sheets=sheets, lab=LABS["gullwing-300"].copy_with(ppi_target=100, ppi_least=72))
    write_bundle(tmp_path / "job.sutaru", job, lambda photo: b"", refuse_asset)
    out = tmp_path / "booklet.pdf"
    ask = [
        "impose",
        str(tmp_path / "job.sutaru"),
        "-o",
        str(out),
        "--sheet",
        "200x90mm",
        "--booklet",
        "--creep",
        "2",
        "--json",
    ]
    assert main(ask) == 0
    told = json.loads(capsys.readouterr().out)
    px, fold = 300 / 25.4, 100
    for number, side in enumerate(told, 1):
        seen = drawn(out, number, 300)
        for page, (left, top, right, bottom) in zip(side["pages"], side["trims_mm"], strict=True):
            wanted = (20 + 25 * page, 200 - 20 * page, 64)
            outer = left - 2.5 if left < fold - 40 else right + 2.5
            inner = fold - 0.5 if left < fold - 40 else fold + 0.5
            middle = (top + bottom) / 2
            for x, y in ((outer, middle), (inner, middle), (left + 20, top - 2.5), (left + 20, bottom + 2.5)):
                assert seen[round(y * px), round(x * px)] == pytest.approx(wanted, abs=12), (number, page, x, y)


def test_a_booklet_from_the_command_line(bundle: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    out = tmp_path / "booklet.pdf"
    ask = ["impose", str(bundle), "-o", str(out), "--sheet", "210x100mm", "--booklet", "--json"]
    assert main(ask) == 0
    told = json.loads(capsys.readouterr().out)
    assert [side["pages"] for side in told] == [[0], [1]]  # two pages, filled up to four
    assert main(["impose", str(bundle), "-o", str(out), "--sheet", "80x40mm"]) == 2
    assert "has no room for a piece of 90 x 50 mm" in capsys.readouterr().err


def test_print_sheets_as_pictures_show_the_same(
    bundle: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    """Beside the PDF as another program draws it; at the lab sheet's ppi, in sRGB."""
    for name in ("sheets.pdf", "sheets.jpg"):
        assert (
            main(["impose", str(bundle), "-o", str(tmp_path / name), "--sheet", "320x225mm", "--duplex", "long"]) == 0
        )
    assert not (tmp_path / "sheets.jpg").exists()
    for side in (1, 2):
        with Image.open(tmp_path / f"sheets-{side:02d}.jpg") as picture:
            assert picture.size == (1260, 886)
            assert [round(v) for v in picture.info["dpi"]] == [100, 100]
            assert picture.info["icc_profile"] == profile_bytes("srgb")
            seen = np.asarray(picture).astype(int)
        other = drawn(tmp_path / "sheets.pdf", side)[: seen.shape[0], : seen.shape[1]]
        differ = np.abs(seen[: other.shape[0], : other.shape[1]] - other).max(-1)
        assert (differ > 40).mean() < 0.01  # marks and edges, drawn by another hand


def half_and_half(left: str, right: str) -> Layout:
    """A spread of 160 x 60 mm, its pages of a colour each, with their bleed."""
    halves = [
        FillBox(id=name, colour=colour, outline=Rectangle(width_mm=90, height_mm=80), surface=Flat(centre=(x, 30)))
        for name, colour, x in (("l", left, 35), ("r", right, 125))
    ]
    return Layout(width_mm=160, height_mm=60, bleed_mm=3, layers=(Background(id="b", colour=left), *halves))


@pytest.mark.parametrize("first_alone", [True, False])
def test_a_book_is_printed_as_a_booklet(tmp_path: Path, capsys: pytest.CaptureFixture[str], first_alone: bool) -> None:
    """A page alone, or none, then two spreads: folded, they lie opposite each other. Colours as poppler draws them."""
    plain = Layout(width_mm=80, height_mm=60, bleed_mm=3, layers=(Background(id="b", colour="#c8a040"),))
    cover = Layout(width_mm=165, height_mm=64, bleed_mm=3, layers=(Background(id="b", colour="#202830"),))
    made = [
        ("cover", "cover", cover), *([("page", "p1", plain)] if first_alone else []),
        ("spread", "s1", half_and_half("#a02020", "#20a020")), ("spread", "s2", half_and_half("#2020a0", "#a020a0")),
    ]  # fmt: skip
    job = one_sheet(plain)
    sheets = tuple(job.sheets[0].copy_with(id=name, name=name, role=role, layout=layout) for role, name, layout in made)
    job = job.copy_with(sheets=sheets, lab=LABS["gullwing-300"].copy_with(ppi_target=100, ppi_least=72))
    write_bundle(tmp_path / "job.sutaru", job, lambda photo: b"", refuse_asset)
    ask = ["impose", str(tmp_path / "job.sutaru"), "-o", str(tmp_path / "book.pdf"), "--sheet", "200x90mm", "--booklet"]
    assert main(ask) == 0
    said = capsys.readouterr().out.splitlines()
    blank = "pages 6, 7, 8 stay blank" if first_alone else "pages 1, 6, 7, 8 stay blank"
    assert said[0].endswith(f"book.pdf: 2 sheets, 2 on a side; {blank}")
    assert said[1].endswith("book-cover.pdf: 1 sheet, 1 on a side")
    first = (200, 160, 64) if first_alone else (255, 255, 255)
    pages = [first, (160, 32, 32), (32, 160, 32), (32, 32, 160), (160, 32, 160), *[(255, 255, 255)] * 3]
    px = 300 / 25.4
    for number, (left, right) in enumerate(((8, 1), (2, 7), (6, 3), (4, 5)), 1):
        seen = drawn(tmp_path / "book.pdf", number, 300)
        for page, x in ((left, 60), (left, 99.5), (left, 18), (right, 140), (right, 100.5), (right, 182)):
            wanted = pages[page - 1]
            assert seen[round(45 * px), round(x * px)] == pytest.approx(wanted, abs=12), (number, page, x)
    seen = drawn(tmp_path / "book-cover.pdf", 1, 100)
    assert seen.shape[:2] == pytest.approx((90 / 25.4 * 100, 200 / 25.4 * 100), abs=1)  # it goes on the same sheet
    assert seen[seen.shape[0] // 2, seen.shape[1] // 2] == pytest.approx((32, 40, 48), abs=12)
    assert main([*ask[:4], "--sheet", "166x66mm", "--booklet", "--margin", "2"]) == 0
    with pikepdf.open(tmp_path / "book-cover.pdf") as pdf:
        wide, high = (float(v) / 72 * 25.4 for v in pdf.pages[0].MediaBox[2:])
    assert (wide, high) > (171, 70)  # a sheet of its own, with room for its bleed and marks


def test_each_edition_is_a_booklet_of_its_own(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    layout = Layout(width_mm=80, height_mm=60, bleed_mm=3, layers=(Background(id="b", colour="#c8a040"),))
    job = one_sheet(layout)
    sheets = tuple(job.sheets[0].copy_with(id=f"p{n}", name=str(n)) for n in range(4))
    (own,) = job.editions
    job = job.copy_with(sheets=sheets, editions=(own, own.copy_with(id="second", name="Second")))
    job = job.copy_with(lab=LABS["gullwing-300"].copy_with(ppi_target=100, ppi_least=72))
    write_bundle(tmp_path / "job.sutaru", job, lambda photo: b"", refuse_asset)
    ask = ["impose", str(tmp_path / "job.sutaru"), "-o", str(tmp_path / "b.pdf"), "--sheet", "200x90mm", "--booklet"]
    assert main([*ask, "--json"]) == 0
    told = json.loads(capsys.readouterr().out)
    assert [(side["file"], side["pages"]) for side in told] == [
        ("b-01.pdf", [3, 0]), ("b-01.pdf", [1, 2]), ("b-02.pdf", [3, 0]), ("b-02.pdf", [1, 2]),
    ]  # fmt: skip
    assert {path.name for path in tmp_path.glob("*.pdf")} == {"b-01.pdf", "b-02.pdf"}
