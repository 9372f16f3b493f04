"""A photo too small for its opening's shape that goes on beyond its edges: beside NumPy's own mirrored padding."""

import cv2
import numpy as np
import pytest

from sutaru.core.checks import measured
from sutaru.core.document import Ellipse, Flat, Job, Layout, Opening, Placement, Rectangle
from sutaru.core.edits import Place, SpanOver, apply
from sutaru.core.errors import EditRefused
from sutaru.core.paint import Painter, PixelGrid
from tests.conftest import drawn_items, fake_photo, first, noise, one_sheet
from tests.core.test_retouching import Counted

PHOTO = fake_photo(1, 900, 300)
IMAGE = cv2.GaussianBlur(noise(300, 900, 3), (0, 0), 3)


SQUARE = Rectangle(width_mm=90, height_mm=90)


def sheet(lies: Placement, outline: Rectangle | Ellipse = SQUARE) -> Job:
    layer = Opening(id="o", outline=outline, surface=Flat(centre=(50, 50)))
    layout = Layout(width_mm=100, height_mm=100, bleed_mm=0, layers=(layer,))
    return one_sheet(layout, (PHOTO,), {"o": lies})


def painted(job: Job, ppi: float = 254) -> np.ndarray:
    grid = PixelGrid.of(job.sheets[0].layout, ppi)
    return Painter(Counted(IMAGE)).render(drawn_items(job), grid)[0]


def test_it_goes_on_mirrored_at_its_edges() -> None:
    """Ten px a mm: the photo is printed pixel for pixel, 300 rows of it and 300 mirrored above and below."""
    got = painted(sheet(Placement(photo=PHOTO.id, fit="continued")))[50:950, 50:950]
    wanted = np.pad(IMAGE, ((300, 300), (0, 0), (0, 0)), mode="symmetric")
    assert np.abs(got.astype(int) - wanted).max() <= 3
    bare = painted(sheet(Placement(photo=PHOTO.id, fit="whole")))
    assert (bare[60:300, 60:900] == 255).all()


@pytest.mark.parametrize("turn", [0.0, 12.0])
def test_no_pixel_of_the_opening_is_left_bare(turn: float) -> None:
    job = sheet(Placement(photo=PHOTO.id, fit="continued", turn_deg=turn), Ellipse(width_mm=90, height_mm=60))
    got = painted(job, 127)
    y, x = np.mgrid[:500, :500]
    inside = ((x - 249.5) / 222) ** 2 + ((y - 249.5) / 147) ** 2 < 1
    assert (got[inside] < 250).any(axis=1).all()


def test_a_person_looks_at_it() -> None:
    found = measured(first(sheet(Placement(photo=PHOTO.id, fit="continued"))))
    (finding,) = [f for f in found.findings if f.rule == "goes_on"]
    assert finding.severity == "look"
    assert finding.sentence == "In 67 % of opening 1 its photo goes on mirrored: look whether it may."
    assert found.rows[0].crop_share == 0
    whole = measured(first(sheet(Placement(photo=PHOTO.id, fit="whole"))))
    assert found.rows[0].ppi == whole.rows[0].ppi
    assert "strips_left" not in {f.rule for f in found.findings}
    fitting = fake_photo(2, 900, 900)
    job = one_sheet(
        sheet(Placement(photo=PHOTO.id)).sheets[0].layout,
        (fitting,),
        {"o": Placement(photo=fitting.id, fit="continued")},
    )
    assert "goes_on" not in {f.rule for f in measured(first(job)).findings}


def test_it_is_laid_as_any_other_and_never_runs_through_several() -> None:
    job = sheet(Placement(photo=PHOTO.id))
    after = apply(
        job,
        Place(sheet=job.sheets[0].id, opening="o", fit="continued", centre=(0.2, 0.9), zoom=3, turn_deg=5, mirror=True),
    )
    lies = after.filling(job.sheets[0].id).placements["o"]
    assert (lies.fit, lies.centre, lies.zoom, lies.mirror) == ("continued", (0.5, 0.5), 1.0, True)
    two = tuple(
        Opening(id=f"o{n}", outline=Rectangle(width_mm=40, height_mm=90), surface=Flat(centre=(25 + 50 * n, 50)))
        for n in (0, 1)
    )
    wide = one_sheet(Layout(width_mm=100, height_mm=100, layers=two), (PHOTO,), {})
    wide = apply(wide, SpanOver(sheet=wide.sheets[0].id, openings=("o0", "o1"), photo=PHOTO.id))
    with pytest.raises(EditRefused, match="covers them"):
        apply(
            wide,
            Place(
                sheet=wide.sheets[0].id,
                opening="o0",
                fit="continued",
                centre=(0.5, 0.5),
                zoom=1,
                turn_deg=0,
                mirror=False,
            ),
        )
