"""What the checks find before print, how a person lets a finding pass, and what the manifest says of it."""

import json
import math
from pathlib import Path

import numpy as np
import pytest
from PIL import Image

from sutaru.core.checks import check_job, measure_sheet
from sutaru.core.document import (
    Border,
    Corners,
    Echo,
    Edition,
    Ellipse,
    Filling,
    Flat,
    Floor,
    Found,
    Job,
    KeepArea,
    LabSheet,
    Layout,
    Opening,
    Ornament,
    Photo,
    Placement,
    Rectangle,
    Text,
)
from sutaru.core.edits.apply import apply, label
from sutaru.core.edits.kinds import Accept, FindingName, Place, Reopen, SpanOver, Write
from sutaru.core.errors import EditRefused
from sutaru.core.fitting import cuts, drawing_key, opening_from_photo, page_from_photo
from sutaru.core.formats.masks import trace_drawing
from sutaru.core.geometry.matrices import apply as mapped
from sutaru.core.geometry.matrices import inverse
from sutaru.core.photos import PhotoPixels, examine
from sutaru.core.press.exporting import export
from tests.conftest import LABS, fake_photo, first, noise, one_sheet, shown
from tests.core.test_press_checks_formats import MADE

HEAD = KeepArea(kind="face", left=0.4, top=0.4, width=0.2, height=0.2)
PHOTO = fake_photo(1, 6000, 6000, found=Found(keep=(HEAD,)))
OPEN = Opening(id="o", outline=Rectangle(width_mm=80, height_mm=80), surface=Flat(centre=(50, 50)))


def page(*layers: object, **more: object) -> Layout:
    return Layout(**{"width_mm": 100, "height_mm": 100, "layers": (OPEN, *layers), **more})


def job_of(layout: Layout, placement: Placement | None = None, photo: Photo = PHOTO) -> Job:
    lies = {o.id: placement or Placement(photo=photo.id) for o in layout.openings()}
    return one_sheet(layout, (photo,), lies)


def found(job: Job, rule: str) -> list[tuple[str, str]]:
    return [(f.severity, f.sentence) for f in check_job(job) if f.rule == rule]


# --- heads ------------------------------------------------------------------------------------------------------------


def share_of_face_below(y: float) -> float:
    """Share of the face's ellipse that lies below a line, in closed form: a circle's segment, stretched.

    The face takes the middle 76 % of a head's width and 79 % of its height, from 17 % of it downwards.
    """
    top, high = HEAD.top + 0.17 * HEAD.height, 0.79 * HEAD.height
    d = (y - (top + high / 2)) / (high / 2)
    return (math.acos(d) - d * math.sqrt(1 - d * d)) / math.pi


@pytest.mark.parametrize("cut_at", [0.5, 0.54, 0.555, 0.565, 0.58])
def test_a_face_cut_by_more_than_a_tenth_is_a_stop(cut_at: float) -> None:
    """The photo's lower part is cut off at a line through the face."""
    zoom = 2.0
    job = job_of(page(), Placement(photo=PHOTO.id, zoom=zoom, centre=(0.5, cut_at - 0.5 / zoom)))
    expected = share_of_face_below(cut_at)
    ((severity, sentence),) = found(job, "keep_cut")
    assert severity == ("stop" if expected > 0.1 else "look")
    share = int(sentence.split("%")[0].split()[-1]) / 100
    assert share == pytest.approx(expected, abs=0.02)


def test_hair_alone_is_a_look() -> None:
    job = job_of(page(), Placement(photo=PHOTO.id, zoom=2, centre=(0.5, 0.42 + 0.25)))
    ((severity, sentence),) = found(job, "keep_cut")
    assert severity == "look"
    assert sentence.endswith("of a head, not of its face.")


FRAME = b'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 100 100"><rect x="2" y="2" width="96" height="96" fill="none" stroke="#000" stroke-width="4"/></svg>'  # noqa: E501


def test_what_lies_above_hides_what_it_covers_and_no_more() -> None:
    """A stroked frame over the whole page hides its edge; words hide about their letters, not their box."""
    name = "0" * 64
    frame = Ornament(id="f", centre=(50, 50), width_mm=90, height_mm=90, asset=name, traced=trace_drawing(FRAME))
    assert found(job_of(page(frame)), "keep_cut") == []
    boxed = frame.copy_with(traced="")  # where nobody traced it the box is all that is known
    assert found(job_of(page(boxed)), "keep_cut")
    near = frame.copy_with(width_mm=14, height_mm=14)  # its edge runs through the face now
    assert found(job_of(page(near)), "keep_cut")
    words = Text(
        id="t", text="Kites", size_pt=12, centre=(50, 50), width_mm=90, height_mm=90, stand="top", sample=False
    )
    assert found(job_of(page(words)), "keep_cut") == []
    job = job_of(page(words))
    job = apply(job, Write(sheet="p", layer="t", text="\n" * 8 + "Kites over the dunes and far away"))
    assert found(job, "keep_cut")  # what is said now counts, not what the template said
    ring = OPEN.copy_with(id="ring", outline=Rectangle(width_mm=20, height_mm=20), surface=Flat(centre=(50, 68)))
    assert cuts(page(ring), OPEN, PHOTO, Placement(photo=PHOTO.id)) == []
    bordered = ring.copy_with(border=Border(width_mm=8, side="outside"))
    assert cuts(page(bordered), OPEN, PHOTO, Placement(photo=PHOTO.id))


# --- edges, words, echoes, crops ------------------------------------------------------------------------------------------


@pytest.mark.parametrize(("width", "bad"), [(2.0, False), (3.0, True), (5.0, True), (8.0, False), (9.0, False)])
def test_a_border_is_cut_evenly_or_not_at_all(width: float, bad: bool) -> None:
    """An opening that bleeds, its border inside: after the cut its width less the bleed is left, all of it near the trim."""
    edge = OPEN.copy_with(outline=Rectangle(width_mm=106, height_mm=60), border=Border(width_mm=width, side="inside"))
    job = job_of(page().copy_with(layers=(edge,)))
    sides = [sentence for severity, sentence in found(job, "ragged_border") if severity == "look"]
    assert len(sides) == (2 if bad else 0)
    if bad:
        assert sides[0].startswith(f"The border of opening 1 is {width - 3:.1f} mm wide at the left after trimming")


@pytest.mark.parametrize(("x", "severity"), [(50, None), (11, "look"), (6, "stop"), (94, "stop")])
def test_words_near_and_over_the_trim(x: float, severity: str | None) -> None:
    words = Text(id="t", text="Skerry", size_pt=14, centre=(x, 95 - 4), width_mm=40, height_mm=10, sample=False)
    got = found(job_of(page(words)), "words_cut")
    assert [s for s, _ in got] == ([severity] if severity else [])
    turned = words.copy_with(centre=(50, x), turn_deg=90)
    assert [s for s, _ in found(job_of(page(turned)), "words_cut")] == [s for s, _ in got]


def test_an_echo_with_too_few_pixels_is_found() -> None:
    small = fake_photo(2, 900, 900)
    source = OPEN.copy_with(outline=Rectangle(width_mm=30, height_mm=30))  # 900 px on 30 mm: 762 ppi
    wide = Echo(id="e", of="o", how="repeat", surface=Corners(points=((5, 5), (95, 5), (95, 95), (5, 95))))
    layout = page(wide).copy_with(layers=(source, wide))
    job = job_of(layout, photo=small)
    job = job.copy_with(lab=job.lab.copy_with(ppi_least=260))
    # 900 px on 90 mm are 254 ppi, where the plane is laid so large.
    assert found(job, "echo_pixels") == [
        ("look", "The repeat of opening 1 would print at 254 ppi; Gullwing 300 takes no less than 260.")
    ]
    soft = layout.copy_with(layers=(source, wide.copy_with(soften_mm=1)))
    assert found(job_of(soft, photo=small), "echo_pixels") == []
    plain = layout.copy_with(layers=(source, Echo(id="e", of="o", floor=Floor())))
    assert found(job_of(plain, photo=small), "echo_pixels") == []


def test_strips_that_a_crop_leaves_are_said() -> None:
    job = job_of(page(), Placement(photo=PHOTO.id, ratio=1.5))
    assert found(job, "strips_left") == [("look", "The crop to 3:2 leaves 33 % of opening 1 without a picture.")]
    assert found(job_of(page(), Placement(photo=PHOTO.id, ratio=1.0)), "strips_left") == []
    wide = fake_photo(3, 6000, 4000)
    whole = found(job_of(page(), Placement(photo=wide.id, fit="whole"), wide), "strips_left")
    assert whole == [("note", "The whole photo leaves 33 % of opening 1 without a picture.")]
    assert measure_sheet(first(job)).rows[0].status == "look"


def test_a_profile_that_was_passed_over_is_said() -> None:
    odd = PHOTO.copy_with(profile_unusable=True)
    assert found(job_of(page(), photo=odd), "profile_passed_over")
    assert not found(job_of(page()), "profile_passed_over")


# --- letting pass ----------------------------------------------------------------------------------------------------------


def names(job: Job, severity: str = "stop") -> tuple[FindingName, ...]:
    return tuple(
        FindingName(rule=f.rule, layer=f.layer, sentence=f.sentence) for f in check_job(job) if f.severity == severity
    )


def test_a_finding_is_accepted_with_a_name_and_a_reason_and_only_as_it_stands(tmp_path: Path) -> None:
    source = tmp_path / "a.jpg"
    Image.fromarray(noise(900, 900)).save(source)
    photo = examine(source, "a.jpg").copy_with(found=Found(keep=(HEAD,)))
    words = Text(id="t", text="Your names", centre=(50, 94), width_mm=60, height_mm=6, size_pt=9)
    job = job_of(page(words, safe_mm=1), Placement(photo=photo.id, zoom=2.1, centre=(0.74, 0.5)), photo)
    job = job.copy_with(lab=job.lab.copy_with(ppi_target=100, ppi_least=72))
    assert [f.rule for f in check_job(job) if f.severity == "stop"] == ["sample_words", "keep_cut"]
    for name, reason in (("  ", "as wished"), ("Runa", " ")):
        with pytest.raises(EditRefused, match=r"A finding is accepted with a name and a reason\. Say who"):
            apply(job, Accept(sheet="p", findings=names(job), name=name, reason=reason))
    head = [name for name in names(job) if name.rule == "keep_cut"]
    edit = Accept(sheet="p", findings=tuple(head), name=" Runa ", reason="The customer wants it so.")
    accepted = apply(job, edit)
    assert label(job, edit) == "accept 1 finding"
    assert drawing_key(accepted, "p", accepted.editions[0], {}) != drawing_key(job, "p", job.editions[0], {})
    by = {f.rule: f for f in check_job(accepted)}
    assert (by["keep_cut"].severity, by["keep_cut"].found) == ("look", "stop")
    assert (by["keep_cut"].accepted.name, by["sample_words"].severity) == ("Runa", "stop")
    assert measure_sheet(first(accepted)).rows[0].status == "look"  # never in order
    # Moved a little, more is cut: that was never accepted. Moved back, it is what it was.
    further = apply(accepted, Place(sheet="p", opening="o", centre=(0.755, 0.5), zoom=2.1, turn_deg=0, mirror=False))
    assert {f.severity for f in check_job(further) if f.rule == "keep_cut"} == {"stop"}
    back = apply(further, Place(sheet="p", opening="o", centre=(0.74, 0.5), zoom=2.1, turn_deg=0, mirror=False))
    assert {f.severity for f in check_job(back) if f.rule == "keep_cut"} == {"look"}
    # The manifest names what was let pass, by whom and why, and what was not.
    *_, manifest = export(accepted, tmp_path / "out", PhotoPixels(lambda p: source), MADE, "png")
    said = json.loads(manifest.read_text())
    (entry,) = said["accepted"]
    assert (entry["by"], entry["reason"], entry["severity"]) == ("Runa", "The customer wants it so.", "stop")
    assert entry["finding"] == by["keep_cut"].sentence
    assert [stop["finding"] for stop in said["stops"]] == ["“Your names” is still the template's sample text."]
    # Another edition has its own filling, and what was accepted of it goes along with a copy only.
    empty = accepted.copy_with(editions=(*accepted.editions, Edition(id="two", fillings={"p": Filling()})))
    assert not [f for f in check_job(empty, "two") if f.accepted]
    again = apply(accepted, Reopen(sheet="p", findings=tuple(head)))
    assert check_job(again) == check_job(job)
    with pytest.raises(EditRefused, match="This finding was not accepted"):
        apply(job, Reopen(sheet="p", findings=tuple(head)))
    assert Job.model_validate_json(accepted.model_dump_json()) == accepted


# --- spans -----------------------------------------------------------------------------------------------------------------


def test_a_tiny_opening_of_a_span_stays_in_register() -> None:
    """A stamp beside a poster: its own zoom is beyond the most that an opening by itself may have."""
    large = OPEN.copy_with(id="large", outline=Rectangle(width_mm=60, height_mm=90), surface=Flat(centre=(35, 50)))
    tiny = OPEN.copy_with(id="tiny", outline=Rectangle(width_mm=1, height_mm=1), surface=Flat(centre=(90, 20)))
    job = one_sheet(Layout(width_mm=100, height_mm=100, layers=(large, tiny)), (PHOTO,))
    job = apply(job, SpanOver(sheet="p", openings=("large", "tiny"), photo=PHOTO.id))
    lies = shown(job)
    assert lies["tiny"].zoom > 50
    at = [page_from_photo(o, PHOTO, lies[o.id]).apply([(0.0, 0.0), (6000.0, 6000.0)]) for o in (large, tiny)]
    assert at[0] == pytest.approx(at[1], abs=1e-6)


def test_ellipses_and_many_of_them_can_be_one_span() -> None:
    round_ = [
        OPEN.copy_with(
            id=f"e{n}", outline=Ellipse(width_mm=22 + n, height_mm=30), surface=Flat(centre=(20 + 25 * n, 50))
        )
        for n in range(3)
    ]
    job = one_sheet(Layout(width_mm=100, height_mm=100, layers=tuple(round_)), (PHOTO,))
    job = apply(job, SpanOver(sheet="p", openings=("e0", "e1", "e2"), photo=PHOTO.id))
    for opening, lies in zip(round_, shown(job).values(), strict=True):
        corners = mapped(inverse(opening_from_photo(opening, PHOTO, lies)), np.concatenate(opening.outline.polygons()))
        assert corners.min() > -0.5
        assert corners.max() < 6000.5


# --- formats ---------------------------------------------------------------------------------------------------------------


def test_a_page_that_the_lab_does_not_print_is_a_stop_with_what_to_do() -> None:
    def said(width: float, height: float, lab: LabSheet) -> list[str]:
        job = one_sheet(Layout(width_mm=width, height_mm=height, layers=())).copy_with(lab=lab)
        return [finding.sentence for finding in check_job(job) if finding.rule == "no_format"]

    strict = LABS["saltmarsh-250"].copy_with(any_size=False)
    assert said(148, 105, strict) == said(105, 148.4, strict) == []  # either way up, and within half a millimetre
    (sentence,) = said(152.4, 101.6, strict)
    assert sentence == (
        "Saltmarsh 250 does not print this size (152.4 mm x 101.6 mm). The nearest is Card A6: lay the sheet out in another size "
        "in the workshop, or choose another lab sheet."
    )
    assert said(152.4, 101.6, strict.copy_with(any_size=True)) == said(152.4, 101.6, LABS["gullwing-300"]) == []
    assert "Poster 50 × 70 cm" in said(650, 480, strict)[0]
