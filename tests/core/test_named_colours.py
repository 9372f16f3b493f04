"""Colours with a name, and the studio card: changed once, they change wherever they are used."""

import io

import numpy as np
import pytest
from PIL import Image

from sutaru.core.checks import check_job
from sutaru.core.document import (
    Background,
    Border,
    FillBox,
    Flat,
    Job,
    Layout,
    Ornament,
    Rectangle,
    Sheet,
    StudioCard,
    Text,
    Texture,
)
from sutaru.core.document.studio import colours_of
from sutaru.core.edits.apply import apply, label
from sutaru.core.edits.kinds import TakeCard
from sutaru.core.errors import EditRefused
from sutaru.core.fitting import resolve_sheet
from sutaru.core.formats.assets import read_asset
from sutaru.core.formats.bundle import asset_names
from sutaru.core.paint import Painter, PixelGrid, items
from sutaru.core.words.fields import fill_fields
from tests.conftest import one_sheet
from tests.core.arranged import EDIT, SHELF, edited, opening

SEA, RUST = "swatch Sea", "swatch Rust"


def sheet(**more: object) -> Layout:
    layers = (
        Background(id="ground", colour=SEA, texture=Texture(kind="dots", colour=RUST)),
        opening("one", 40, 40, border=Border(width_mm=2, colour=RUST)),
        FillBox(
            id="band", outline=Rectangle(width_mm=60, height_mm=10), surface=Flat(centre=(60, 70)), colour="studio main"
        ),
        Text(id="words", text="{studio.name}", centre=(60, 90), width_mm=100, height_mm=10, colour=SEA, sample=False),
    )
    fields = {"width_mm": 120, "height_mm": 100, "bleed_mm": 0, "swatches": {"Sea": "#2f5d6b", "Rust": "#b4532a"}}
    return Layout(**{**fields, "layers": layers, **more})


def colours(job: Job) -> set[str]:
    return set().union(*(_colours(drawn.layer) for drawn in resolve_sheet(job, job.sheets[0].id).drawn))


def _colours(value: object) -> set[str]:
    return {str(v) for v in value.model_dump_json().split('"') if str(v).startswith("#")}  # type: ignore[attr-defined]


def done(job: Job, **edit: object) -> Job:
    return apply(job, EDIT.validate_python(edit))


def test_what_is_drawn_has_no_names_any_more() -> None:
    job = one_sheet(sheet())
    assert colours(job) >= {"#2f5d6b", "#b4532a"}
    assert all(not colours_of(drawn.layer) for drawn in resolve_sheet(job, "p").drawn)
    assert job.sheets[0].layout.colour_names == {SEA, RUST, "studio main"}


def test_a_swatch_recolours_all_that_is_painted_with_it_on_every_sheet() -> None:
    job = one_sheet(sheet())
    job = job.copy_with(sheets=(*job.sheets, Sheet(id="q", name="Q", layout=sheet())))
    after = done(job, op="set_swatch", name="Sea", colour="#114455")
    for one in after.sheets:
        assert one.layout.swatches["Sea"] == "#114455"
        drawn = resolve_sheet(after, one.id).by_id
        assert drawn["ground"].layer.colour == drawn["words"].layer.colour == "#114455"  # type: ignore[union-attr]
        assert drawn["one"].layer.border.colour == "#b4532a"  # type: ignore[union-attr]
    assert (
        label(job, EDIT.validate_python({"op": "set_swatch", "name": "Sea", "colour": None})) == "delete the swatch Sea"
    )


def test_a_swatch_that_goes_leaves_its_colour() -> None:
    job = one_sheet(sheet())
    after = done(job, op="set_swatch", name="Rust", colour=None)
    layout = after.sheets[0].layout
    assert "Rust" not in layout.swatches
    assert layout.find("ground").texture.colour == "#b4532a"  # type: ignore[union-attr]
    assert resolve_sheet(after, "p").drawn == resolve_sheet(job, "p").drawn
    with pytest.raises(EditRefused, match="There is no swatch Rust"):
        done(after, op="set_swatch", name="Rust", colour=None)


def test_a_colour_that_has_no_swatch_is_refused() -> None:
    with pytest.raises(ValueError, match="There is no swatch Moss on this sheet"):
        sheet(layers=(Background(id="ground", colour="swatch Moss"),))
    with pytest.raises(EditRefused, match="There is no swatch Moss"):
        edited(sheet(), op="set_fields", layers=["words"], fields={"colour": "swatch Moss"})
    with pytest.raises(ValueError, match="pattern"):
        Background(id="ground", colour="swatch ")


def test_words_that_look_like_a_colour_stay_words() -> None:
    layout = sheet(layers=(Text(id="t", text=SEA, centre=(60, 50), width_mm=90, height_mm=20, colour=SEA),))
    (drawn,) = resolve_sheet(one_sheet(layout), "p").drawn
    assert (drawn.words, drawn.layer.colour) == (SEA, "#2f5d6b")  # type: ignore[union-attr]


CARD = StudioCard(
    name="Marram Studio", web="marram-studio.example", address="2 Harbour Row\nSkerry Sands", main="#103040"
)


@pytest.mark.parametrize(("words", "said"), [
    ("{studio.name} · {studio.web}", "Marram Studio · marram-studio.example"),
    ("{studio.address}", "2 Harbour Row\nSkerry Sands"),
    ("{studio.name}\n{studio.phone}\nSince 1998", "Marram Studio\nSince 1998"),
    ("{studio.name} · {studio.phone}", "Marram Studio"),
    ("{studio.nothing} {name}", "{studio.nothing} {name}"),
    ("A line · and another", "A line · and another"),
    (" kept ", " kept "),
])  # fmt: skip
def test_words_take_what_the_card_says(words: str, said: str) -> None:
    assert fill_fields(words, (), CARD.values).words == said


def test_what_the_card_does_not_say_is_a_finding() -> None:
    assert list(fill_fields("{studio.phone} {studio.name} {studio.phone}", (), CARD.values).unsaid) == ["studio.phone"]
    job = one_sheet(sheet())
    found = [f for f in check_job(job) if f.rule == "studio_card"]
    assert [(f.severity, f.sentence) for f in found] == [
        ("look", "The studio card says no name, which words here would show.")
    ]
    after = apply(job, TakeCard(card=CARD))
    assert not [f for f in check_job(after) if f.rule == "studio_card"]
    assert resolve_sheet(after, "p").by_id["words"].words == "Marram Studio"
    assert resolve_sheet(after, "p").by_id["band"].layer.colour == "#103040"  # type: ignore[union-attr]


def test_the_logo_is_drawn_where_an_imprint_asks_for_it() -> None:
    kite, star = (piece.asset for piece in SHELF.ornaments[:2])
    mark = Ornament(id="mark", asset=kite, centre=(60, 50), width_mm=40, height_mm=40, logo=True)
    job = one_sheet(sheet(layers=(mark, mark.copy_with(id="other", logo=False))))
    assert [d.layer.asset for d in resolve_sheet(job, "p").drawn] == [kite, kite]  # type: ignore[union-attr]
    with_logo = apply(job, TakeCard(card=CARD.copy_with(logo=star)))
    assert [d.layer.asset for d in resolve_sheet(with_logo, "p").drawn] == [star, kite]  # type: ignore[union-attr]
    assert asset_names(with_logo.sheets, with_logo.studio) == {kite, star}

    def seen(job: Job) -> np.ndarray:
        layers = items(resolve_sheet(job, "p"), SHELF.asset, bench=False, notes=False)
        return Painter(None).render(layers, PixelGrid.for_ppi(job.sheets[0].layout, 40))[0]  # type: ignore[arg-type]

    assert not np.array_equal(seen(job), seen(with_logo))


def test_a_logo_that_is_a_picture_is_as_large_as_fits_in_its_place() -> None:
    pixels = np.full((40, 120, 4), (200, 30, 30, 255), np.uint8)  # three times as wide as high
    file = io.BytesIO()
    Image.fromarray(pixels).save(file, "PNG")
    picture = read_asset(file.getvalue())
    mark = Ornament(
        id="mark", asset=SHELF.ornaments[0].asset, centre=(60, 50), width_mm=30, height_mm=40, turn_deg=0, logo=True
    )
    job = one_sheet(sheet(layers=(mark,)))
    job = apply(job, TakeCard(card=CARD.copy_with(logo=picture.name, logo_ratio=3.0)))
    [drawn] = resolve_sheet(job, "p").drawn
    assert (drawn.layer.kind, drawn.layer.asset) == ("overlay", picture.name)  # type: ignore[union-attr]
    assert (drawn.layer.width_mm, drawn.layer.height_mm) == (30, 10)  # type: ignore[union-attr]
    layout = job.sheets[0].layout
    grid = PixelGrid.for_ppi(layout, 127)  # 5 px a mm
    shown = items(resolve_sheet(job, "p"), lambda _: file.getvalue(), bench=False, notes=False)
    painted = Painter(None).render(shown, grid)[0]  # type: ignore[arg-type]
    red = (painted[..., 0] > 150) & (painted[..., 1] < 80)
    rows, columns = np.nonzero(red)
    assert (np.ptp(columns) + 1, np.ptp(rows) + 1) == (150, 50)


def test_shapes_become_openings_and_openings_shapes_where_they_lie() -> None:
    layout = sheet()
    after = edited(layout, op="become", layers=["band"], kind="opening")
    found = after.openings_by_id["band"]
    assert found.outline == layout.find("band").outline  # type: ignore[union-attr]
    back = edited(after, op="become", layers=["band", "one"], kind="fill")
    assert [layer.kind for layer in back.leaves] == ["background", "fill", "fill", "text"]
    assert back.find("band").colour == "#d8d8d8"  # type: ignore[union-attr]
    assert edited(layout, op="become", layers=["band", "one"], kind="opening").find("one") == layout.find("one")
    with pytest.raises(EditRefused, match="neither an opening nor a shape"):
        edited(layout, op="become", layers=["words"], kind="opening")


def test_every_ornament_of_the_shelf_is_drawn_and_takes_a_colour() -> None:
    assert len(SHELF.ornaments) >= 60
    assert len({(piece.kind, piece.name) for piece in SHELF.ornaments}) == len(SHELF.ornaments)
    for piece in SHELF.ornaments:
        mark = Ornament(
            id="mark", asset=piece.asset, centre=(50, 50), width_mm=90, height_mm=90 / piece.ratio, colour="#ff0000"
        )
        layout = Layout(width_mm=100, height_mm=100, bleed_mm=0, layers=(mark,))
        layers = items(resolve_sheet(one_sheet(layout), "p"), SHELF.asset, bench=False, notes=False)
        rgb, alpha = Painter(None).render(layers, PixelGrid.for_ppi(layout, 60), transparent=True)  # type: ignore[arg-type]
        assert alpha is not None
        assert (alpha > 120).sum() > 20, piece
        red = rgb[alpha > 120].astype(int)
        assert ((red[:, 0] > 200) & (red[:, 1] < 60)).mean() > 0.5, piece


def test_the_shelf_has_templates_of_all_products() -> None:
    products = [template.product for template in SHELF.templates.values()]
    assert len(products) >= 24
    assert {p: products.count(p) >= 2 for p in set(products)} == dict.fromkeys(
        ("album", "card", "collage", "calendar", "mockup"), True
    )
