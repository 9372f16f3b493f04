"""Folded cards: panels and what is upside down, against a sheet folded in space by rotation matrices; sets of cards."""

import math

import numpy as np
import pytest
from numpy.typing import NDArray

from sutaru.core.cards import KINDS, Folding, begin_card, make_folding, read_folding
from sutaru.core.checks import check_job
from sutaru.core.document import Job, Line, Pile
from sutaru.core.edits.apply import apply, label
from sutaru.core.edits.kinds import MakeSet, Place, Put, RenameEdition, SetCopies, TurnCard, Variant
from sutaru.core.edits.sheets import choose_by_first_photo
from sutaru.core.errors import EditRefused
from sutaru.core.fitting import resolve_sheet
from tests.conftest import CARD, LABS, SHELF
from tests.core.booked import one

SIZES = [(127.0, 177.8), (177.8, 127.0), (140.0, 140.0)]
Points = NDArray[np.float64]


def about(axis: str, at: float, degrees: float) -> NDArray[np.float64]:
    """A turn about a fold: the line x = at (or y = at) in the sheet's plane. Right-handed, z towards who sees the inside
    (x right, y up)."""
    c, s = math.cos(math.radians(degrees)), math.sin(math.radians(degrees))
    if axis == "x":
        turn = np.array([[c, 0, s], [0, 1, 0], [-s, 0, c]])
        point = np.array([at, 0, 0])
    else:
        turn = np.array([[1, 0, 0], [0, c, -s], [0, s, c]])
        point = np.array([0, at, 0])
    found = np.eye(4)
    found[:3, :3], found[:3, 3] = turn, point - turn @ point
    return found


def folded(card: Folding) -> dict[int, NDArray[np.float64]]:
    """Where each panel of the inside's flat sheet is once the card is closed, 4 x 4: a paper model, folded a hair short of
    half a turn, so that what lies above is seen to. The sheet's y runs down; here up is positive."""
    high = card.height_mm
    found = {card.still: np.eye(4)}
    for hinge in sorted(card.hinges, key=lambda hinge: -hinge.order):
        before = hinge.panel < hinge.onto
        at = hinge.at_mm if card.axis == "x" else high - hinge.at_mm
        # Towards whoever sees the inside for a valley. What closes first lies lower, and so has closed further.
        towards = (1.0 if before else -1.0) * (1.0 if hinge.valley else -1.0)
        degrees = towards * (179.0 - 0.4 * hinge.order)
        found[hinge.panel] = found[hinge.onto] @ about(card.axis, at, degrees)
    return found


def corner(card: Folding, panel, x: float, y: float) -> Points:  # type: ignore[no-untyped-def]
    """A point of a face, in shares of it as it lies on its own flat sheet, as a point of the inside's flat sheet in space."""
    px, py = panel.left + x * panel.width, panel.top + y * panel.height
    if panel.side == "outside":  # turned over about the folds' direction
        px, py = (card.width_mm - px, py) if card.axis == "x" else (px, card.height_mm - py)
    return np.array([px, card.height_mm - py, 0.0, 1.0])


@pytest.mark.parametrize("size", SIZES)
@pytest.mark.parametrize("kind", sorted(KINDS))
def test_closed_in_space_front_and_back_are_upright_as_the_panels_say(kind, size) -> None:  # type: ignore[no-untyped-def]
    card = make_folding(kind, *size)
    placed = folded(card)
    seen = {}
    for panel in card.panels:
        at = placed[panel.number]
        middle, top, right = (at @ corner(card, panel, *p) for p in ((0.5, 0.5), (0.5, 0.0), (1.0, 0.5)))
        up, across = (top - middle)[:3], (right - middle)[:3]
        if panel.turned:
            up, across = -up, -across
        out = np.cross(across, up)  # towards whoever reads this face
        seen[panel.name, panel.side] = middle[2], up / np.linalg.norm(up), out / np.linalg.norm(out), panel
    # Whoever holds the closed card sees the faces that look at them and lie nearest.
    highest = max(z for z, _, out, _ in seen.values() if out[2] > 0.9)
    facing = {name for (name, _), (z, _, out, _) in seen.items() if out[2] > 0.9 and z > highest - 1.7}
    lowest = min(z for z, _, out, _ in seen.values() if out[2] < -0.9)
    behind = {name for (name, _), (z, _, out, _) in seen.items() if out[2] < -0.9 and z < lowest + 0.9}
    assert {name for name in facing if name.startswith("front")} == {n for n, _ in seen if n.startswith("front")}
    assert "back" in behind
    for (name, _), (_, up, _, _) in seen.items():
        if name.startswith("front") or name == "back":
            assert up[1] > 0.99, f"{name} of a {kind} would be read upside down"
    # Closed it is as large as was asked for.
    points = np.array([placed[p.number] @ corner(card, p, x, y) for p in card.panels for x in (0, 1) for y in (0, 1)])
    assert np.ptp(points[:, 0]) == pytest.approx(size[0], abs=0.1)
    assert np.ptp(points[:, 1]) == pytest.approx(size[1], abs=0.1)


@pytest.mark.parametrize("kind", sorted(KINDS))
def test_panels_cover_both_sides_once_and_folds_lie_between_them(kind) -> None:  # type: ignore[no-untyped-def]
    card = make_folding(kind, 127.0, 177.8)
    for side in ("outside", "inside"):
        panels = card.side(side)
        assert sum(p.width * p.height for p in panels) == pytest.approx(card.width_mm * card.height_mm)
        starts = sorted((p.left if card.axis == "x" else p.top) for p in panels)
        assert starts[1:] == pytest.approx(card.folds_mm(side))
    for panel in card.side("outside"):
        (inside,) = [p for p in card.side("inside") if p.number == panel.number]
        assert (panel.width, panel.height) == (inside.width, inside.height)


def test_the_narrow_panel_of_three_is_the_one_that_is_folded_in() -> None:
    """It closes first, lies between the other two, and is narrow on both sides of the sheet, where each side has it."""
    card = make_folding("tri", 99, 210)
    first = min(card.hinges, key=lambda hinge: hinge.order)
    widths = {(panel.side, panel.number): panel.width for panel in card.panels}
    for side in ("outside", "inside"):
        assert widths[side, first.panel] == 97.5
        assert {width for (one, number), width in widths.items() if one == side and number != first.panel} == {99.0}
    (flap,) = [panel for panel in card.panels if panel.side == "outside" and panel.number == first.panel]
    assert (flap.name, flap.left) == ("flap", 0.0)  # the outside is the sheet turned over: what is at its right is left
    # From the open edge of the flap to the fold that it must not reach there is room.
    still = next(panel for panel in card.panels if panel.side == "inside" and panel.number == card.still)
    assert first.at_mm - widths["inside", first.panel] > still.left
    assert card.folds_mm("outside") == [97.5, 196.5]


def test_a_sheet_of_7_by_10_inches_folds_to_5_by_7() -> None:
    # Common practice: the sheet of 7 x 10 in folds to 5 x 7 in; a picture of 6.75 x 4.75 in leaves an eighth all round.
    card = make_folding("half", 127.0, 177.8)
    assert (card.width_mm / 25.4, card.height_mm / 25.4) == pytest.approx((10, 7))
    job = begin_card("Card", LABS["gullwing-300"], "half", 177.8, 127.0, SHELF.themes["shoreline"])
    (opening,) = job.sheets[0].layout.openings()
    assert (opening.outline.width_mm / 25.4, opening.outline.height_mm / 25.4) == pytest.approx((6.75, 4.75))


@pytest.mark.parametrize("kind", sorted(KINDS))
def test_a_card_begins_in_every_fold_with_nothing_in_the_way(kind) -> None:  # type: ignore[no-untyped-def]
    job = begin_card("Card", LABS["gullwing-300"], kind, 127.0, 177.8, SHELF.themes["dune-grass"], studio=CARD)
    found = read_folding(job.sheets[1].layout, job.fold)
    assert found == make_folding(kind, 127.0, 177.8)
    rules = {finding.rule for finding in check_job(job)}
    assert rules <= {"empty_opening", "empty_words"}
    # Words on a panel that lies upside down are laid so, and read so once it is turned.
    imprint = next(
        drawn for sheet in job.sheets for drawn in resolve_sheet(job, sheet.id).drawn if drawn.layer.id == "imprint"
    )
    back = next(panel for panel in found.panels if panel.name == "back")
    assert imprint.layer.turn_deg == (180 if back.turned else 0)
    x, y = imprint.layer.centre
    assert back.left < x < back.left + back.width
    assert back.top < y < back.top + back.height


@pytest.mark.parametrize("kind", sorted(KINDS))
def test_a_card_that_is_turned_is_the_card_begun_the_other_way(kind) -> None:  # type: ignore[no-untyped-def]
    def begun(width: float, height: float):  # type: ignore[no-untyped-def]
        return begin_card("Card", LABS["gullwing-300"], kind, width, height, SHELF.themes["dune-grass"], studio=CARD)

    across, upright = begun(177.8, 127.0), begun(127.0, 177.8)
    turned = apply(upright, TurnCard())
    assert label(upright, TurnCard()) == "turn the card"
    for got, wanted in zip(turned.sheets, across.sheets, strict=True):
        assert (got.layout.width_mm, got.layout.height_mm) == (wanted.layout.width_mm, wanted.layout.height_mm)
        assert [line.at_mm for line in got.layout.lines] == [line.at_mm for line in wanted.layout.lines]
        for layer, other in zip(got.layout.leaves, wanted.layout.leaves, strict=True):
            assert layer.id == other.id
            if layer.kind == "opening":
                # A third panel is narrower by a constant, which stays behind by a share of it.
                assert layer.surface.centre == pytest.approx(other.surface.centre, abs=1.0)
                assert layer.outline.width_mm == pytest.approx(other.outline.width_mm, abs=1.0)
                assert layer.outline.height_mm == pytest.approx(other.outline.height_mm)
            elif layer.kind == "text":
                assert layer.centre == pytest.approx(other.centre)
                assert (layer.width_mm, layer.turn_deg) == pytest.approx((other.width_mm, other.turn_deg))
    assert not {f.rule for f in check_job(turned)} - {"empty_opening", "empty_words"}
    with pytest.raises(EditRefused, match="No sheet of this job is folded"):
        apply(
            upright.copy_with(sheets=tuple(s.copy_with(layout=s.layout.copy_with(lines=())) for s in upright.sheets)),
            TurnCard(),
        )


@pytest.mark.parametrize(
    ("size", "lies"), [((6000, 4000), "across"), ((4000, 6000), "upright"), ((4000, 4000), "upright")]
)
def test_the_first_photo_turns_a_card_that_waits_for_it(size, lies) -> None:  # type: ignore[no-untyped-def]
    job = begin_card("Card", LABS["gullwing-300"], "tent", 127.0, 177.8, SHELF.themes["shoreline"], by_photo=True)
    photo = one(1).copy_with(width=size[0], height=size[1])
    after = choose_by_first_photo(job.copy_with(pile=Pile(photos=(photo,))), [])
    wide, high = read_folding(after.sheets[0].layout, after.fold).closed_mm
    assert ("across" if wide > high else "upright", after.variants) == (lies, ())


def test_folds_that_are_not_known_are_refused() -> None:
    layout = begin_card("C", LABS["gullwing-300"], "half", 127, 177.8, SHELF.themes["shoreline"]).sheets[0].layout
    assert read_folding(layout.copy_with(lines=())) is None
    both = (*layout.lines, Line(kind="fold", axis="y", at_mm=80))
    with pytest.raises(EditRefused, match="not known here"):
        read_folding(layout.copy_with(lines=both))
    assert read_folding(SHELF.templates["card-portrait"].sheets[0].layout).kind == "half"


def test_a_set_has_an_edition_for_each_photo_and_copies_of_each() -> None:
    job = begin_card("Set", LABS["gullwing-300"], "half", 127.0, 177.8, SHELF.themes["shoreline"])
    photos = tuple(one(n) for n in range(1, 4))
    job = job.copy_with(pile=Pile(photos=photos))
    edit = MakeSet(photos=tuple(photo.id for photo in photos), copies=25)
    made = apply(job, edit)
    # The card that was there is the first of the set: beside it that photo would be printed twice.
    assert [(e.id, e.name, e.copies) for e in made.editions] == [
        (identity, f"photo-00{n}", 25) for n, identity in enumerate(("first", "set-1", "set-2"), 1)
    ]
    assert [e.filling("outside").photo_in("opening-1") for e in made.editions] == [photo.id for photo in photos]
    # One that shows a photo of the set is that photo's card, and as it was fitted; one that shows another stays besides.
    fitted = apply(job, Put(sheet="outside", opening="opening-1", photo=photos[1].id))
    fitted = apply(
        fitted, Place(sheet="outside", opening="opening-1", centre=(0.5, 0.4), zoom=2, turn_deg=0, mirror=False)
    )
    cards = apply(fitted, edit).editions
    assert [e.id for e in cards] == ["set-1", "first", "set-2"]
    assert cards[1].filling("outside") == fitted.editions[0].filling("outside")
    others = apply(fitted, MakeSet(photos=(photos[0].id, photos[2].id))).editions
    assert [e.id for e in others] == ["first", "set-1", "set-2"]
    assert label(job, edit) == "make a set of 3 photos"
    assert apply(made, SetCopies(edition="set-2", copies=3)).edition("set-2").copies == 3
    assert label(made, SetCopies(copies=3)) == "print 3 copies"
    assert apply(made, RenameEdition(edition="set-1", name="Ola")).edition("set-1").copies == 25
    with pytest.raises(EditRefused, match="not in the pile"):
        apply(job, MakeSet(photos=("f" * 16,)))
    assert job.editions[0].digest == job.editions[0].copy_with(copies=1).digest  # one copy is stored as it always was


def test_each_card_of_a_set_lies_as_its_photo_does() -> None:
    upright, across = one(1).copy_with(width=4000, height=6000), one(2)
    job = begin_card("Set", LABS["gullwing-300"], "half", 127.0, 177.8, SHELF.themes["shoreline"])
    job = job.copy_with(pile=Pile(photos=(upright, across)))
    made = apply(job, MakeSet(photos=(upright.id, across.id)))
    closed = [read_folding(made.sheets_of(own)[0].layout, made.fold).closed_mm for own in made.editions]
    assert closed == [(127.0, 177.8), (177.8, 127.0)]
    held = [own.filling(made.sheets_of(own)[0].id).photos() for own in made.editions]
    assert held == [{upright.id}, {across.id}]
    # Of a template's variants, those that come along with the edit; of one shape alone, the job stays with its sheets.
    template, other = SHELF.templates["card-portrait"], SHELF.templates["card-landscape"]
    job = Job(name="Set", template=template.id, product="card", sheets=template.sheets, lab=LABS["gullwing-300"],
              pile=Pile(photos=(upright, across)))  # fmt: skip
    given = tuple(Variant(template=one.id, sheets=one.sheets) for one in (template, other))
    made = apply(job, MakeSet(photos=(upright.id, across.id), variants=given))
    assert [own.variant for own in made.editions] == ["card-portrait", "card-landscape"]
    same = apply(job, MakeSet(photos=(upright.id,), variants=given))
    assert same.sheets is job.sheets
