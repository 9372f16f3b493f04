"""Themes, grounds and layouts for a sheet of a book."""

import pytest

from sutaru.core.arranging.aligning import page_box
from sutaru.core.books.binding import spine_of
from sutaru.core.books.book import begin_empty_book
from sutaru.core.books.dressing import GROUND, dress_layout
from sutaru.core.books.layout_suggestions import suggestions
from sutaru.core.checks import check_job
from sutaru.core.document import Background, Group, Job, read_back
from sutaru.core.document.layout import walk_layers
from sutaru.core.edits.apply import apply, label
from sutaru.core.edits.kinds import ChangeLayout, Dress, Gather, LayGround
from sutaru.core.errors import EditRefused
from sutaru.core.fitting import crop_share
from sutaru.core.geometry import outlines
from tests.conftest import SHELF
from tests.core.booked import LABS, bound_in, busiest


def luminance(colour: str) -> float:
    """Relative luminance (WCAG 2.2)."""
    channels = (int(colour[n : n + 2], 16) / 255 for n in (1, 3, 5))
    linear = [c / 12.92 if c <= 0.04045 else ((c + 0.055) / 1.055) ** 2.4 for c in channels]
    return 0.2126 * linear[0] + 0.7152 * linear[1] + 0.0722 * linear[2]


@pytest.mark.parametrize("identity", sorted(SHELF.themes))
def test_a_themes_words_are_read_on_its_grounds(identity: str) -> None:
    theme = SHELF.themes[identity]

    def plain(colour: str) -> float:
        return luminance(theme.swatches[colour[7:]] if colour.startswith("swatch ") else colour)

    def contrast(style: str, ground: str) -> float:
        dark, light = sorted((plain(theme.styles[style].colour), plain(ground)))
        return (light + 0.05) / (dark + 0.05)

    for ground in theme.grounds:
        if ground.shift is None:
            assert contrast("Caption", ground.colour) >= 4.5
            assert contrast("Page number", ground.colour) >= 4.5
            assert contrast("Title", ground.colour) >= 3  # large (WCAG 2.2, 1.4.3)
    assert min(contrast("Cover title", theme.cover.colour), contrast("Spine", theme.cover.colour)) >= 3
    assert contrast("Imprint", theme.cover.colour) >= 4.5


def test_another_theme_dresses_the_whole_book_and_keeps_its_photos(laid: tuple[Job, Job]) -> None:
    _, job = laid
    night = apply(job, Dress(theme=SHELF.themes["lantern-night"]))
    assert night.editions == job.editions
    assert night.book.theme == "lantern-night"
    assert label(job, Dress(theme=SHELF.themes["lantern-night"])) == "apply the theme Lantern night"
    for before, after in zip(job.sheets, night.sheets, strict=True):
        assert after.layout.swatches["Paper"] == "#141d2e"
        assert [o.surface for o in after.layout.openings()] == [o.surface for o in before.layout.openings()]
        grounds = [layer for layer in after.layout.layers if layer.kind == "background"]
        assert len(grounds) == 1
        assert after.layout.layers[0] == grounds[0]
        assert all(
            opening.border for opening in after.layout.openings() if page_box(opening).top > 0
        )  # not off the paper
    assert apply(night, Dress(theme=SHELF.themes["shoreline"])).sheets == job.sheets
    assert dress_layout(job.sheets[2].layout, SHELF.themes["shoreline"], 2, "spread") == job.sheets[2].layout


def test_a_ground_is_laid_under_some_sheets_or_all(laid: tuple[Job, Job]) -> None:
    _, job = laid
    ground = SHELF.themes["shoreline"].cover
    some = apply(job, LayGround(ground=ground, sheets=("pages-2", "pages-3")))
    changed = [b.id for a, b in zip(job.sheets, some.sheets, strict=True) if a != b]
    assert changed == ["pages-2", "pages-3"]
    assert all(sheet.layout.layers[0].colour == ground.colour for sheet in apply(job, LayGround(ground=ground)).sheets)
    with pytest.raises(EditRefused, match="no swatch Nowhere"):
        apply(job, LayGround(ground=ground.copy_with(colour="swatch Nowhere")))


def test_layouts_for_a_sheet_keep_its_photos_and_crop_nothing_when_computed(laid: tuple[Job, Job]) -> None:
    _, job = laid
    sheet = job.sheets[busiest(job)]
    shown = sorted(job.editions[0].filling(sheet.id).photos())
    found = suggestions(job, sheet, job.editions[0], SHELF.templates.values())
    assert {one.source for one in found} >= {"computed"}
    assert {one.name for one in found} >= {"Aligned across the fold", "Nothing cropped"}
    assert len(found) >= 5
    assert sum(one.now for one in found) <= 1
    for choice in found:
        assert choice.openings == len(shown)
        after = apply(job, ChangeLayout(which=sheet.id, layout=choice.layout))
        filling = after.editions[0].filling(sheet.id)
        assert sorted(filling.photos()) == shown
        if choice.name == "Nothing cropped":
            layout, known = after.sheets_by_id[sheet.id].layout, job.pile.by_id
            cut = [crop_share(layout.openings_by_id[k], known[v.photo], v) for k, v in filling.placements.items()]
            assert max(cut) < 1e-6
        if choice.name == "Aligned across the fold":
            boxes = [page_box(opening) for opening in after.sheets_by_id[sheet.id].layout.openings()]
            sides = [
                [b for b in boxes if ((b.left + b.right) / 2 > sheet.layout.width_mm / 2) == right]
                for right in (False, True)
            ]
            assert all(sides)
            assert len({round(min(b.top for b in side), 2) for side in sides}) == 1
            assert len({round(max(b.bottom for b in side), 2) for side in sides}) == 1
        words = {k: v.text for k, v in after.sheets_by_id[sheet.id].layout.texts_by_id.items()}
        assert words == {k: v.text for k, v in sheet.layout.texts_by_id.items()}


def test_fewer_openings_free_photos_and_a_layout_of_another_size_is_refused(laid: tuple[Job, Job]) -> None:
    _, job = laid
    sheet = job.sheets[busiest(job)]
    few = next(
        s for s in job.sheets if s.role == "spread" and len(s.layout.openings_by_id) < len(sheet.layout.openings_by_id)
    )
    after = apply(job, ChangeLayout(which=sheet.id, layout=few.layout))
    assert len(after.editions[0].filling(sheet.id).placements) == len(few.layout.openings_by_id)
    with pytest.raises(EditRefused, match="another size"):
        apply(job, ChangeLayout(which=sheet.id, layout=job.sheets[0].layout))


def test_a_theme_dresses_what_lies_in_groups_too(laid: tuple[Job, Job]) -> None:
    """The ground grouped with an opening, then another theme: the old one goes, the new one lies below, and all is read again."""
    _, job = laid
    sheet = job.sheets[busiest(job)]
    opening = next(iter(sheet.layout.openings_by_id))
    drawn = tuple(layer.id for layer in sheet.layout.layers if layer.id == GROUND or layer.id.startswith("theme-"))
    job = apply(job, Gather(sheet=sheet.id, layers=(*drawn, opening)))
    (group,) = (layer.id for layer in job.sheets_by_id[sheet.id].layout.layers if isinstance(layer, Group))
    other = SHELF.themes["lantern-night"]
    after = apply(job, Dress(theme=other))
    layout = after.sheets_by_id[sheet.id].layout
    assert [layer.id for layer, _ in walk_layers(layout.layers)].count(GROUND) == 1
    assert layout.layers[0].id == GROUND
    assert layout.openings_by_id[opening].border == other.frame.border
    assert layout.find(group).layers  # what was grouped besides stays grouped
    again, fresh = read_back(after, job)
    assert again is after
    assert fresh
    # A ground alone in its group leaves no empty group; a plain ground takes its place inside one.
    alone = apply(laid[1], Gather(sheet=sheet.id, layers=(GROUND, drawn[-1])))
    dressed_again = apply(alone, Dress(theme=other)).sheets_by_id[sheet.id].layout
    assert not any(isinstance(layer, Group) for layer in dressed_again.layers)
    plain = apply(job, LayGround(sheets=(sheet.id,), ground=Background(id="new", colour="#123456")))
    inside = plain.sheets_by_id[sheet.id].layout
    assert inside.find(GROUND).colour == "#123456"
    assert [layer.id for layer, _ in walk_layers(inside.layers)].count(GROUND) == 1


@pytest.mark.parametrize("design", ["window", "small", "half", "whole"])
def test_a_covers_front_is_laid_out_as_its_theme_has_it(design: str) -> None:
    theme = SHELF.themes["shoreline"].copy_with(cover_design=design)
    job = begin_empty_book("Book", LABS["gullwing-300"], bound_in("hard"), theme, 40)
    layout = job.sheets[0].layout
    photo = layout.openings_by_id["opening-1"]
    left, top, right, bottom = outlines.bounds([photo.page_from_opening.apply(p) for p in photo.outline.polygons()])
    bleeds = {"window": "", "small": "", "half": "top right", "whole": "top right bottom"}[design].split()
    assert ("top" in bleeds) == (top == pytest.approx(-layout.bleed_mm, abs=0.01))
    assert ("right" in bleeds) == (right == pytest.approx(layout.width_mm + layout.bleed_mm, abs=0.01))
    assert ("bottom" in bleeds) == (bottom == pytest.approx(layout.height_mm + layout.bleed_mm, abs=0.01))
    assert left >= spine_of(layout)[1] - 0.01
    findings = check_job(job, job.editions[0].id, SHELF.files.__getitem__)
    assert not [f for f in findings if f.sheet == "cover" and f.rule not in ("empty_opening", "studio_card")]
