"""Mending: each step against published formulas and other libraries; steps joined into tables, switched off, kept apart."""

import colorsys
from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import ValidationError
from scipy.interpolate import PchipInterpolator
from skimage import exposure
from skimage.color import rgb2gray, rgb2lab

from sutaru.core.document import (
    BlackAndWhite,
    ColourStep,
    Contrast,
    Curves,
    Ends,
    Enhance,
    Exposure,
    Found,
    Levels,
    Recipe,
    Step,
    WhiteBalance,
)
from sutaru.core.edits.apply import apply
from sutaru.core.edits.as_template import describe_left_behind, template_sheets
from sutaru.core.edits.kinds import BringIn, MendOpening, MendPhoto, Put, SetFields
from sutaru.core.fitting import resolve_sheet
from sutaru.core.mending import apply_recipe, curves
from tests.conftest import fake_photo, noise

IMAGE = noise(60, 80, 5)
GREYS = np.repeat(np.arange(256, dtype=np.uint8)[None, :, None], 3, axis=-1)


def done(*steps: Step, image: np.ndarray = IMAGE, found: Found | None = None) -> np.ndarray:
    return apply_recipe(image, Recipe(steps=steps), found)


def test_levels_against_scikit_image() -> None:
    ours = done(Levels(black=30, white=210, gamma=1.4))
    theirs = exposure.adjust_gamma(exposure.rescale_intensity(IMAGE / 255, (30 / 255, 210 / 255), (0, 1)), 1 / 1.4)
    assert np.abs(ours - theirs * 255).max() <= 0.51


@pytest.mark.parametrize("stops", [-2.0, 0.5, 1.0])
def test_exposure_is_light_times_two_to_the_stops(stops: float) -> None:
    # The transfer function as CSS Color 4 gives it in its sample code (lin_sRGB, gam_sRGB), value by value.
    def lin(v: float) -> float:
        return v / 12.92 if v <= 0.04045 else ((v + 0.055) / 1.055) ** 2.4

    def gam(v: float) -> float:
        return 1.055 * v ** (1 / 2.4) - 0.055 if v > 0.0031308 else 12.92 * v

    ours = done(Exposure(stops=stops), image=GREYS)[0, :, 0]
    expected = [255 * gam(min(1.0, lin(v / 255) * 2**stops)) for v in range(256)]
    assert np.abs(ours - np.array(expected)).max() <= 0.51


def hsl_to_rgb(hue: float, sat: float, light: float) -> tuple[float, ...]:
    """The sample code of CSS Color 4, section 7.1."""

    def f(n: int) -> float:
        k = (n + hue / 30) % 12
        a = sat * min(light, 1 - light)
        return light - a * max(-1, min(k - 3, 9 - k, 1))

    return f(0), f(8), f(4)


@pytest.mark.parametrize(
    ("turn", "saturation", "lightness"), [(40, 0, 0), (0, -60, 0), (0, 50, 0), (-120, 20, 25), (0, 0, -40)]
)
def test_colour_goes_through_hsl_as_css_defines_it(turn: float, saturation: float, lightness: float) -> None:
    image = IMAGE[::6, ::8]
    ours = done(ColourStep(hue_deg=turn, saturation=saturation, lightness=lightness), image=image)
    for pixel, got in zip(image.reshape(-1, 3), ours.reshape(-1, 3), strict=True):
        h, l, s = colorsys.rgb_to_hls(*(pixel / 255))  # noqa: E741
        l = l + (1 - l) * lightness / 100 if lightness >= 0 else l * (1 + lightness / 100)  # noqa: E741
        expected = hsl_to_rgb((h * 360 + turn) % 360, min(1, s * (1 + saturation / 100)), l)
        assert np.abs(got - np.array(expected) * 255).max() <= 1.0


def test_black_and_white_is_rec_709_luma_unless_said_otherwise() -> None:
    assert (
        np.abs(done(BlackAndWhite())[..., 0] - rgb2gray(IMAGE) * 255).max() <= 0.6
    )  # scikit-image: 0.2125, 0.7154, 0.0721
    red = done(BlackAndWhite(red=1, green=0, blue=0))
    assert (red == IMAGE[..., :1]).all()
    with pytest.raises(ValueError, match="at least one colour"):
        BlackAndWhite(red=0, green=0, blue=0)


def test_white_balance_turns_colour_and_keeps_the_lightness_of_grey() -> None:
    grey = GREYS[:, 40:200]
    for step, sign in ((WhiteBalance(warmth=40), 1), (WhiteBalance(warmth=-40), -1)):
        lab = rgb2lab(done(step, image=grey) / 255)
        assert (sign * lab[..., 2] > 1.5).all()  # b* of CIELAB: yellow is positive
        assert lab[..., 0] == pytest.approx(rgb2lab(grey / 255)[..., 0], abs=0.6)
    magenta = rgb2lab(done(WhiteBalance(tint=50), image=grey) / 255)
    assert (magenta[..., 1] > 1.5).all()  # a*: red and magenta are positive


@pytest.mark.parametrize("amount", [-100.0, -30.0, 30.0, 100.0])
def test_contrast_keeps_black_middle_and_white_and_never_turns_back(amount: float) -> None:
    got = done(Contrast(amount=amount), image=GREYS)[0, :, 0].astype(int)
    assert (got[0], got[255]) == (0, 255)
    assert abs(got[127] - 127) <= 1
    assert (np.diff(got) >= 0).all()
    assert (got[180] > 180) == (amount > 0)


def test_nothing_changes_at_zero_or_when_off() -> None:
    neutral = (Levels(), Exposure(), Contrast(), WhiteBalance(), ColourStep())
    assert np.abs(done(*neutral).astype(int) - IMAGE).max() <= 1
    strong = (Levels(on=False, black=90), Exposure(on=False, stops=3), BlackAndWhite(on=False), Enhance(on=False))
    assert (done(*strong) == IMAGE).all()
    assert apply_recipe(IMAGE, None, None) is IMAGE


def test_steps_of_one_channel_each_are_rounded_once() -> None:
    # There and back again: rounding in between would lose what a darkened photo has left.
    both = Recipe(steps=(Exposure(stops=-4), Levels(), Contrast(), WhiteBalance()))
    assert len(curves(both, Found())) == 1
    dark = Recipe(steps=(Exposure(stops=-3), BlackAndWhite(), Levels(white=128)))
    assert len(curves(dark, Found())) == 3
    # Made dark, grey, and as light again: in doubles beside it, no level is lost.
    got = done(Exposure(stops=-4), BlackAndWhite(), Levels(white=64), image=GREYS)[0, :, 0]
    linear = np.where(
        GREYS[0, :, 0] <= 10, GREYS[0, :, 0] / 255 / 12.92, ((GREYS[0, :, 0] / 255 + 0.055) / 1.055) ** 2.4
    )
    dim = linear / 16
    dim = np.where(dim <= 0.0031308, dim * 12.92, 1.055 * np.maximum(dim, 1e-9) ** (1 / 2.4) - 0.055)
    assert np.abs(got - np.clip(dim * 255 * 255 / 64, 0, 255)).max() < 0.6
    with pytest.raises(ValueError, match="once"):
        Recipe(steps=(Levels(), Levels()))
    with pytest.raises(ValueError, match="above the black point"):
        Levels(black=100, white=90)


def test_levels_of_one_colour_come_before_those_of_all() -> None:
    got = done(Levels(white=128, red=Ends(black=20, white=220, gamma=0.8)), image=GREYS)[0].astype(float)
    x = GREYS[0, :, 0].astype(float)
    red = np.clip((x - 20) / 200, 0, 1) ** (1 / 0.8) * 255  # figured by hand, in doubles
    assert np.abs(got[:, 0] - np.clip(red / 128 * 255, 0, 255)).max() < 0.6
    assert np.abs(got[:, 1] - np.clip(x / 128 * 255, 0, 255)).max() < 0.6
    assert (got[:, 1] == got[:, 2]).all()
    with pytest.raises(ValueError, match="above the black point"):
        Levels(blue=Ends(black=200, white=100))
    assert "red" not in Levels(black=3).model_dump_json()


def test_enhancing_spreads_what_was_found_and_leaves_night_alone() -> None:
    dull = (IMAGE.astype(float) / 255 * 120 + 40).astype(np.uint8)
    found = Found(black=40, white=160)
    full = done(Enhance(amount=100), image=dull, found=found)
    # Up to 185, not 160: a photo is not stretched without limit.
    assert full == pytest.approx(np.clip((dull.astype(float) - 40) / 145 * 255, 0, 255), abs=1)
    half = done(Enhance(amount=50), image=dull, found=found)
    assert half.astype(float) == pytest.approx((dull.astype(float) + full) / 2, abs=1.5)
    good = Found(black=0, white=255)
    assert np.abs(done(Enhance(amount=100), found=good).astype(int) - IMAGE).max() <= 1


# --- curves ---------------------------------------------------------------------------------------------------------------

S = ((0.0, 0.0), (64.0, 40.0), (192.0, 220.0), (255.0, 255.0))


def test_a_curve_goes_through_its_points_and_is_scipys_monotone_cubic() -> None:
    ours = done(Curves(all=S), image=GREYS)[0, :, 0]
    at, to = zip(*S, strict=True)
    assert np.abs(ours - PchipInterpolator(at, to)(np.arange(256))).max() <= 0.51
    assert [ours[int(x)] for x, _ in S] == [y for _, y in S]


@settings(max_examples=60, deadline=None)
@given(st.lists(st.tuples(st.integers(0, 255), st.integers(0, 255)), min_size=2, max_size=16, unique_by=lambda p: p[0]))
def test_between_points_it_never_overshoots_or_turns_back(points: list[tuple[int, int]]) -> None:
    points = sorted(points)
    ours = done(Curves(all=tuple(points)), image=GREYS)[0, :, 0].astype(int)
    for (x0, y0), (x1, y1) in pairwise(points):
        piece = ours[x0 : x1 + 1]
        assert (piece.min(), piece.max()) == (min(y0, y1), max(y0, y1))
        assert (np.diff(piece) * np.sign(y1 - y0) >= 0).all()
    assert set(ours[: points[0][0]]) <= {points[0][1]}  # level beyond the first and the last
    assert set(ours[points[-1][0] :]) <= {points[-1][1]}


def test_each_colour_has_its_own_and_then_all_have_theirs() -> None:
    lift = ((0.0, 30.0), (255.0, 255.0))
    red = done(Curves(red=lift), image=GREYS)[0]
    assert (red[:, 1:] == GREYS[0, :, 1:]).all()
    assert red[0, 0] == 30
    both = done(Curves(red=lift, all=S), image=GREYS)[0]
    alone = done(Curves(all=S), image=GREYS)[0]
    assert (both[:, 2] == alone[:, 2]).all()
    assert both[0, 0] == alone[30, 0]
    assert (done(Curves(), image=IMAGE) == IMAGE).all()


def test_levels_written_as_a_curve_are_rounded_once_with_what_follows() -> None:
    """Curves join other steps in one table: two gentle steps keep more levels than two roundings would."""
    up, down = Curves(all=((0.0, 0.0), (255.0, 128.0))), Exposure(stops=0.5)
    joined = done(up, down, image=GREYS)[0, :, 0]
    twice = done(down, image=done(up, image=GREYS))[0, :, 0]
    assert len(set(joined)) > len(set(twice))


def test_points_that_do_not_ascend_are_refused() -> None:
    for points in (((10.0, 0.0), (10.5, 9.0)), ((20.0, 0.0), (10.0, 9.0)), ((0.0, 0.0),), ((0.0, 0.0), (300.0, 1.0))):
        with pytest.raises(ValidationError):
            Curves(all=points)


def test_tone_of_one_opening_goes_with_the_template_and_stays_whatever_photo_comes(job_of) -> None:
    """A darkened slot is part of a mockup: saved as a template, every photo in it is seen through its tone."""
    first, second = fake_photo(1, 6000, 4000, found=Found()), fake_photo(2, 6000, 4000, found=Found())
    job = apply(job_of("mockup-wall"), BringIn(photos=(first, second)))
    sheet, opening = job.sheets[0].id, "frame-large"
    job = apply(job, Put(sheet=sheet, opening=opening, photo=first.id))
    dark = Recipe(steps=(Exposure(stops=-1.5),))
    job = apply(job, MendOpening(sheet=sheet, opening=opening, recipe=dark))
    job = apply(job, MendPhoto(photo=first.id, recipe=Recipe(steps=(Contrast(amount=0.3),))))
    kept = template_sheets(job, job.editions[0])
    found = kept[0].layout.openings_by_id[opening].tone
    assert found == dark.steps
    assert job.sheets[0].layout.openings_by_id[opening].tone == ()  # the order is what it was
    assert describe_left_behind(job, job.editions[0]) == [
        "1 photo and how it is fitted",
        "adjustments of photos everywhere; those of one opening only are saved with the opening",
    ]
    # In a job that is begun with it: after the photo's own steps, and after those of its opening alone.
    again = apply(job_of("mockup-wall").copy_with(sheets=kept), BringIn(photos=(first, second)))
    again = apply(again, Put(sheet=sheet, opening=opening, photo=second.id))
    assert resolve_sheet(again, sheet).by_id[opening].recipe.steps == dark.steps
    mended = apply(again, MendPhoto(photo=second.id, recipe=Recipe(steps=(Exposure(stops=0.5),))))
    assert [step.stops for step in resolve_sheet(mended, sheet).by_id[opening].recipe.steps] == [0.5, -1.5]
    # Saved once more it is not laid on twice, and it can be taken away.
    assert template_sheets(again, again.editions[0]) == kept
    plain = apply(again, SetFields(sheet=sheet, layers=(opening,), fields={"tone": []}))
    assert resolve_sheet(plain, sheet).by_id[opening].recipe is None
