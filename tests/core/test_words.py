"""Words: directions and breaks by Unicode's own tests, letters by fonts' own tables, fields by CLDR."""

import io
import math
from datetime import date
from functools import partial
from pathlib import Path

import numpy as np
import pytest
from fontTools.pens.boundsPen import BoundsPen
from fontTools.ttLib import TTFont
from PIL import Image

from sutaru.core.checks import measure_sheet
from sutaru.core.document import Edition, Job, Text
from sutaru.core.document.lettering import Run, TextStyle, WordLine, WordShadow
from sutaru.core.edits.apply import apply
from sutaru.core.edits.kinds import BringFont, RunAlong, Say, SetFields, SetStyle, SetSwatch, Write
from sutaru.core.errors import EditRefused, FileRefused
from sutaru.core.fitting import resolve_sheet
from sutaru.core.formats.assets import read_asset
from sutaru.core.geometry.outlines import bounds, flatten, region
from sutaru.core.measure import mm_from_points
from sutaru.core.photos import examine
from sutaru.core.words import FOLDER, families, set_text
from sutaru.core.words.faces import face
from sutaru.core.words.fields import fill_fields
from sutaru.core.words.levels import base_level, levels, visual_runs
from sutaru.core.words.setting import _breaks
from tests.conftest import fake_photo

UNICODE = Path(__file__).parent / "unicode"
text_of = lambda codes: "".join(chr(int(code, 16)) for code in codes.split())  # noqa: E731


def rows(name: str) -> list[str]:
    return [line for line in (UNICODE / name).read_text("utf-8").splitlines() if not line.startswith("#")]


def box(words: str, **more: object) -> Text:
    fields = {
        "id": "t",
        "text": words,
        "centre": (0, 0),
        "width_mm": 100,
        "height_mm": 60,
        "align": "left",
        "stand": "top",
    }
    return Text.model_validate({**fields, **more})


def laid(words: str, **more: object):
    layer = box(words, **more)
    return set_text(layer, words)


def edges(words: str, **more: object) -> tuple[float, float, float, float]:
    return bounds(list(flatten(laid(words, **more).path, 0.005)))


# --- Unicode's own tests: BidiCharacterTest and LineBreakTest of the Unicode Character Database 15.0 -------------------


def test_letters_run_as_annex_9_says() -> None:
    for row in rows("BidiCharacterTest.part.txt"):
        codes, direction, base, wanted, order = row.split(";")
        words, level_of = text_of(codes), [int(level) for level in wanted.split()]
        if direction == "2":
            assert base_level(words) == int(base), row
        assert levels(words, int(base)) == level_of, row
        seen = [
            n
            for a, b, level in visual_runs(level_of)
            for n in (range(a, b) if level % 2 == 0 else range(b - 1, a - 1, -1))
        ]
        assert seen == [int(n) for n in order.split()], row


def test_joiners_and_soft_hyphens_take_the_level_before_them() -> None:
    # UAX 9, 5.2. Persian writes its weekdays with a joiner that parts letters (U+200C).
    assert levels("سه\u200cشنبه", 1) == [1] * 7
    assert levels("\u200dab \u05d0\u00ad\u05d1", 0) == [0, 0, 0, 0, 1, 1, 1]


def test_lines_break_as_annex_14_says() -> None:
    for row in rows("LineBreakTest.part.txt"):
        parts = row.split()
        words = text_of(" ".join(part for part in parts if part not in "×÷"))
        wanted = [n // 2 for n, part in enumerate(parts) if part == "÷" and n]
        assert list(_breaks(words)) == wanted, row


def test_a_hebrew_word_stands_from_right_to_left_and_arabic_letters_join() -> None:
    alone = [edges(letter)[2] - edges(letter)[0] for letter in "אב"]
    word = laid("אב").path
    shapes = sorted(flatten(word, 0.005), key=lambda p: p[:, 0].min())
    assert np.ptp(shapes[0][:, 0]) == pytest.approx(alone[1], abs=0.05)  # bet, read last, stands leftmost
    # BEH is a tooth at the beginning and between others (Unicode 15.0, 9.2, table 9-3): three are far from three alone.
    joined, single = edges("ببب"), edges("ب")
    assert joined[2] - joined[0] < 2.5 * (single[2] - single[0])


def test_lines_break_where_words_end_that_no_space_parts() -> None:
    """Words of Thai, Lao, Khmer and Burmese: "hello", "thank you", "very", as dictionaries have them."""
    for words in (
        "สวัสดี ครับ ขอบคุณ มาก", "ສະບາຍດີ ຂອບໃຈ", "សួស្តី អរគុណ ច្រើន", "မင်္ဂလာ ပါ ကျေးဇူးတင် ပါ တယ်",
    ):  # fmt: skip
        parts = words.split()
        assert list(_breaks("".join(parts))) == [*np.cumsum([len(part) for part in parts])]
        lines = laid("".join(parts), width_mm=12, height_mm=200, size_pt=12).lines
        assert len(lines) > 1
        ends = {*np.cumsum([len(part) for part in parts])}
        assert {*np.cumsum([len(line) for line in lines])} <= ends


def test_letter_spacing_parts_letters_that_stand_alone_and_none_that_join() -> None:
    wide, near = edges("kites", tracking=200), edges("kites")
    assert wide[2] - wide[0] > near[2] - near[0] + 1
    for words in ("شكرا جزيلا", "कृपया"):  # Arabic and Devanagari letters join (Unicode 15.0, 9.2 and 12.1)
        assert laid(words, tracking=200).path == laid(words).path


def test_the_last_line_of_a_justified_paragraph_ends_where_writing_begins() -> None:
    for words, side in (("Three days of wind and dry sand", 0), ("ثلاثة أيام من الريح والرمل الجاف شكرا", 2)):
        set_in = laid(words, align="justified", width_mm=40, size_pt=20)
        assert len(set_in.lines) > 1
        last = max(polygon[:, 1].max() for polygon in flatten(set_in.path, 0.005))
        line = [polygon for polygon in flatten(set_in.path, 0.005) if polygon[:, 1].min() > last - 7]
        reach = bounds(line)
        assert abs(reach[side] - (-20 if side == 0 else 20)) < 1.0  # at the edge that reading begins at
        assert abs(reach[2 - side] - (20 if side == 0 else -20)) > 3.0


# --- looks -----------------------------------------------------------------------------------------------------------


def advance(file: str, letters: str) -> float:
    table = TTFont(FOLDER / file)
    cmap, metrics = table.getBestCmap(), table["hmtx"]
    return sum(metrics[cmap[ord(letter)]][0] for letter in letters) / table["head"].unitsPerEm


def test_every_family_ships_whole_with_its_licence() -> None:
    known = families()
    assert sum(family.kind != "fallback" for family in known.values()) >= 24
    assert {family.kind for family in known.values()} == {"serif", "sans", "script", "hand", "display", "fallback"}
    for family in known.values():
        assert "OPEN FONT LICEN" in (FOLDER / family.licence).read_text("utf-8", "replace").upper(), family.name
        for held in family.faces:
            found = face(family.name, held.weight, held.slant)
            assert (found.name, found.lean) == (held.file, 0)
            if family.kind != "fallback":
                assert {ord(letter) for letter in "AaZz09äé.,"} <= found.letters, family.name


def test_weight_and_slant_choose_the_face_and_what_is_lacking_is_made_up() -> None:
    assert face("Lato", 900, False).name == "Lato-Bold.ttf"
    assert face("Vollkorn", 700, True).name == "Vollkorn-BoldItalic.ttf"
    assert face("Lato Bold", None, False).name == "Lato-Bold.ttf"  # as documents of version 1 say it
    assert face("No such", None, False).name == "Lato-Regular.ttf"
    upright, leaning = edges("I", font="Sora", size_pt=100), edges("I", font="Sora", size_pt=100, slant=True)
    high = upright[3] - upright[1]
    # The stem's top is that much further right: the tangent of 12 degrees, common practice.
    assert leaning[2] - upright[2] == pytest.approx(math.tan(math.radians(12)) * high, rel=0.05)


def test_letter_spacing_stands_between_letters_and_ends_ligatures() -> None:
    for track in (-50, 100, 400):
        plain, spaced = edges("HHHH", size_pt=40), edges("HHHH", size_pt=40, tracking=track)
        assert spaced[2] - plain[2] == pytest.approx(3 * track / 1000 * mm_from_points(40), abs=0.02)
    assert len(flatten(laid("fi", font="EB Garamond", size_pt=40).path, 0.01)) < len(
        flatten(laid("fi", font="EB Garamond", size_pt=40, tracking=20).path, 0.01)
    )


def test_runs_look_as_they_say_and_the_rest_as_the_box() -> None:
    layer = box("Kite day", runs=(Run(start=0, end=4, weight=700, colour="#aa0000", size_pt=24),))
    setting = set_text(layer, layer.text)
    assert [colour for colour, _ in setting.pieces] == ["#aa0000", "#222222"]
    bold = bounds(list(flatten(setting.pieces[0][1], 0.005)))
    rest = bounds(list(flatten(setting.pieces[1][1], 0.005)))
    assert bold[0] < rest[0]
    pen, table = BoundsPen(None), TTFont(FOLDER / "Lato-Bold.ttf")
    table.getGlyphSet()[table.getBestCmap()[ord("K")]].draw(pen)
    cap = (pen.bounds[3] - pen.bounds[1]) / table["head"].unitsPerEm * mm_from_points(24)
    assert bold[3] - bold[1] == pytest.approx(cap, rel=0.08)
    assert bold[3] == pytest.approx(rest[3], abs=2)  # on one line


def test_capitals_and_small_capitals() -> None:
    assert laid("Straße", caps="capitals").path == laid("STRASSE").path
    small, large = edges("xx", font="Sora", caps="small", size_pt=50), edges("XX", font="Sora", size_pt=50)
    assert small[3] - small[1] == pytest.approx(0.8 * (large[3] - large[1]), rel=0.02)


def test_justified_lines_reach_both_edges_but_for_the_last() -> None:
    words = "kites over the dunes and lanterns on the long beach at night"
    left, right = laid(words, width_mm=40), laid(words, width_mm=40, align="justified")
    assert left.lines == right.lines
    letters = list(flatten(right.path, 0.01))
    line_of = lambda p: int((float(p[:, 1].mean()) + 30) / (mm_from_points(12) * 1.25))  # noqa: E731
    lines = sorted({line_of(p) for p in letters})
    assert len(lines) == len(right.lines)
    x0, _, x1, _ = bounds(letters)
    assert (x0, x1) == (pytest.approx(-20, abs=0.6), pytest.approx(20, abs=0.6))
    last = [p for p in letters if line_of(p) == lines[-1]]
    assert bounds(last)[2] < 19


@pytest.mark.parametrize(("least", "most"), [(6, 60), (6, 9), (40, 60)])
def test_fitted_words_are_as_large_as_their_box_takes(least: float, most: float) -> None:
    words = "Festival of kites on the long beach"
    setting = laid(words, fit_pt=(least, most), height_mm=20)
    one_larger = laid(words, size_pt=setting.size_pt + 0.25, height_mm=20)
    if setting.overset:
        assert setting.size_pt == least
    else:
        assert not laid(words, size_pt=setting.size_pt, height_mm=20).overset
        assert setting.size_pt == most or one_larger.overset


def test_paragraphs_inset_and_standing() -> None:
    assert laid("a\r\nb").path == laid("a\rb").path == laid("a\nb").path
    tight, loose = edges("a\nb"), edges("a\nb", paragraph_pt=20)
    assert loose[3] - tight[3] == pytest.approx(mm_from_points(20), abs=0.01)
    assert edges("H", inset_mm=5)[0] - edges("H")[0] == pytest.approx(5, abs=1e-3)
    assert laid("HHHH", size_pt=100, width_mm=110, inset_mm=10).overset


def test_words_bent_to_an_arc_stand_on_its_circle() -> None:
    flat, width, bend = edges("HHHHHHHHH", size_pt=20, align="centre", stand="middle"), 100.0, 120.0
    radius = width / math.radians(bend)
    points = np.concatenate(
        flatten(laid("HHHHHHHHH", size_pt=20, align="centre", stand="middle", bend_deg=bend).path, 0.01)
    )
    away = np.hypot(points[:, 0], points[:, 1] - radius)
    # Glyphs are carried whole: their feet are chords of the circle, nearer its middle by the sagitta of half a letter.
    sag = (mm_from_points(20) * 0.8) ** 2 / (8 * radius)
    assert away.max() == pytest.approx(radius - flat[1], abs=2 * sag)
    assert away.min() == pytest.approx(radius - flat[3], abs=2 * sag)
    assert np.concatenate(flatten(laid("H", bend_deg=-90).path, 0.01))[:, 1].mean() < 30


def test_words_along_a_line_keep_their_lengths() -> None:
    words = "along a line"
    straight = laid(words, align="left", along="M-50 0H50")
    slanted = laid(words, align="left", along="M-50 0L30 60")  # 3-4-5: a hundred long
    a, b = (np.concatenate(flatten(s.path, 0.01)) for s in (straight, slanted))
    turned = (b - (-50, 0)) @ np.array([[0.8, -0.6], [0.6, 0.8]]) + (-50, 0)
    assert bounds([turned]) == pytest.approx(bounds([a]), abs=0.02)
    assert laid("much too long for this " * 4, along="M0 0H40").overset


def test_a_letter_another_script_has_is_set_in_its_own_font() -> None:
    assert not laid("Привет שלום مرحبا नमस्ते สวัสดี").missing
    assert laid("\U00012000 kite").missing == "\U00012000"  # a cuneiform sign
    assert laid("Łódź, kite", font="Kristi").borrowed == "Łź"
    assert not laid("Привет, kite", font="Lato").borrowed


# --- fields ----------------------------------------------------------------------------------------------------------

DAY = date(2026, 11, 26)


@pytest.mark.parametrize(
    ("locale", "how", "wanted"),
    [  # Unicode CLDR 46, dates/calendars/gregorian of each locale
        ("en_GB", "", "26 November 2026"), ("en_US", "long", "November 26, 2026"),
        ("de_AT", "full", "Donnerstag, 26. November 2026"),
        ("fr_FR", "d MMMM", "26 novembre"), ("ja", "long", "2026年11月26日"), ("pl", "d MMMM y", "26 listopada 2026"),
    ],
)  # fmt: skip
def test_dates_are_written_as_a_locale_writes_them(locale: str, how: str, wanted: str) -> None:
    words = "{date:" + how + "}" if how else "{date}"
    assert fill_fields(words, (), {"date": DAY}, locale).words == wanted


def test_runs_go_along_with_fields_and_left_out_lines() -> None:
    words = "{title}\nfor {customer}, {year}"
    run = (Run(start=words.index("{customer}"), end=words.index("{customer}") + 10, weight=700),)
    full = fill_fields(words, run, {"title": "", "customer": "Ida Brandt", "year": "2026"})
    assert full.words == "for Ida Brandt, 2026"
    assert [full.words[r.start : r.end] for r in full.runs] == ["Ida Brandt"]
    assert (full.unsaid, full.unknown) == (("title",), ())
    assert fill_fields("{no} {one}", (), {"one": "x"}).words == "{no} x"
    assert fill_fields("{no}", (), {}).unknown == ("no",)


def words_on(job, sheet: str = "inside", layer: str = "names", edition: str = "") -> str:
    return resolve_sheet(job, sheet, edition).by_id[layer].words


def test_fields_say_what_order_edition_sheet_and_photo_say(job_of) -> None:
    job = apply(job_of("card-portrait"), Say(fields={"title": "Kites", "date": "2026-11-26", "place": "Sandby"}))
    write = partial(Write, sheet="inside", layer="names")
    job = apply(job, write(text="{title} at {place}, {date:d MMM} {year}, {page}/{pages}"))
    assert words_on(job) == f"Kites at Sandby, 26 Nov 2026, 2/{len(job.sheets)}"
    job = apply(job, Say(of="edition", fields={"title": "Lanterns"}, locale="de_DE"))
    job = apply(job, Say(of="sheet", which="inside", fields={"month": "2027-03"}))
    job = apply(job, write(text="{title} {month} {year} {nobody}"))
    assert words_on(job) == "Lanterns März 2027 {nobody}"
    assert resolve_sheet(job, "inside").by_id["names"].unknown == ("nobody",)
    # A list of words shows them so too; those without fields it knows already.
    assert measure_sheet(resolve_sheet(job, "inside")).words == {"names": "Lanterns März 2027 {nobody}"}
    assert words_on(apply(job, Say(of="edition", fields={"title": None}))).startswith("Kites")
    for bad in ("zz_ZZ", "de_DE@euro", "en-GB", ""):
        with pytest.raises(EditRefused, match="no locale"):
            apply(job, Say(locale=bad))
    # What comes out of an edit can be read again: a name as CLDR writes it, no more fields than a job may have.
    assert Job.model_validate_json(apply(job, Say(locale="PT_br")).model_dump_json()).locale == "pt_BR"
    many = apply(job, Say(fields={f"f{n}": "x" for n in range(57)}))
    with pytest.raises(EditRefused, match="60 fields already"):
        apply(many, Say(fields={"one": "x", "two": "x"}))


def test_sample_words_stay_out_of_an_order_that_did_not_ask(job_of) -> None:
    job = job_of("card-portrait").copy_with(without_samples=True)
    sample = next(t for t in job.sheets_by_id["inside"].layout.texts_by_id.values() if t.sample)
    assert words_on(job, layer=sample.id) == ""
    assert words_on(job.copy_with(without_samples=False), layer=sample.id) == sample.text
    assert words_on(apply(job, Write(sheet="inside", layer=sample.id, text="Ours")), layer=sample.id) == "Ours"


# --- edits -----------------------------------------------------------------------------------------------------------


def test_a_style_changes_all_that_have_it_but_for_what_departs(job_of) -> None:
    job = apply(job_of("card-portrait"), SetStyle(name="Title", style=TextStyle(font="Yrsa", size_pt=20)))
    job = apply(job, SetFields(sheet="inside", layers=("names", "greeting"), fields={"style": "Title"}))
    job = apply(job, SetFields(sheet="inside", layers=("names",), fields={"size_pt": 30, "own": ["size_pt"]}))
    look = lambda job, layer: resolve_sheet(job, "inside").by_id[layer].layer  # noqa: E731
    assert (look(job, "names").font, look(job, "names").size_pt) == ("Yrsa", 30)
    job = apply(job, SetStyle(name="Title", style=TextStyle(font="Lobster", size_pt=18)))
    assert [(look(job, n).font, look(job, n).size_pt) for n in ("names", "greeting")] == [
        ("Lobster", 30),
        ("Lobster", 18),
    ]
    gone = apply(job, SetStyle(name="Title", style=None))
    assert [(look(gone, n).font, look(gone, n).size_pt) for n in ("names", "greeting")] == [
        ("Lobster", 30),
        ("Lobster", 18),
    ]
    assert not gone.sheets_by_id["inside"].layout.styles
    with pytest.raises(EditRefused, match="no style Other"):
        apply(job, SetFields(sheet="inside", layers=("names",), fields={"style": "Other"}))


def test_marked_words_of_an_order_take_styles_and_named_colours_and_keep_them(job_of) -> None:
    job = apply(job_of("card-portrait"), SetSwatch(name="Tide", colour="#123456"))
    job = apply(job, SetStyle(name="Title", style=TextStyle(font="Yrsa", size_pt=20, colour="swatch Tide")))
    runs = (Run(start=0, end=3, style="Title"), Run(start=4, end=7, colour="swatch Tide"))
    job = apply(job, Write(sheet="inside", layer="names", text="Ida Per", runs=runs))

    def looks(job: Job) -> list[tuple[object, object]]:
        return [(run.font, run.colour) for run in resolve_sheet(job, "inside").by_id["names"].runs]

    assert looks(job) == [("Yrsa", "#123456"), (None, "#123456")]
    changed = apply(job, SetSwatch(name="Tide", colour="#654321"))
    assert looks(changed) == [("Yrsa", "#654321"), (None, "#654321")]
    gone = apply(job, SetSwatch(name="Tide", colour=None))
    assert looks(gone) == looks(job)
    assert Job.model_validate_json(gone.model_dump_json()) == gone  # it can be read again
    with pytest.raises(EditRefused, match="no swatch Tide"):
        apply(gone, Write(sheet="inside", layer="names", text="Ida", runs=(Run(start=0, end=3, colour="swatch Tide"),)))


def test_words_run_along_a_shape(job_of) -> None:
    job = job_of("card-portrait")
    sheet = next(s for s in job.sheets if s.layout.openings_by_id and s.layout.texts_by_id)
    opening, text = next(iter(sheet.layout.openings_by_id)), next(iter(sheet.layout.texts_by_id))
    after = apply(job, RunAlong(sheet=sheet.id, text=text, of=opening))
    layer = resolve_sheet(after, sheet.id).by_id[text].layer
    hole = sheet.layout.openings_by_id[opening]
    edge = region(list(hole.outline.polygons())).boundary.length
    from sutaru.core.geometry.outlines import line_along

    assert np.hypot(*np.diff(line_along(layer.along), axis=0).T).sum() == pytest.approx(edge, rel=1e-3)


def test_a_font_of_ones_own_goes_along_and_is_missed_when_it_is_gone(job_of) -> None:
    data = (FOLDER / "Quicksand-Bold.ttf").read_bytes()
    kept = read_asset(data)
    assert (kept.kind, kept.family) == ("font", "Quicksand Bold")
    job = apply(job_of("card-portrait"), BringFont(name="Our hand", asset=kept.name))
    job = apply(job, SetFields(sheet="inside", layers=("names",), fields={"font": "Our hand"}))
    from sutaru.core.checks import check
    from sutaru.core.formats.bundle import asset_names

    assert kept.name in asset_names(job.sheets)
    own = resolve_sheet(job, "inside", fonts={kept.name: data}.__getitem__)
    plain = resolve_sheet(job, "inside")
    paths = [set_text(r.by_id["names"].layer, "Hm", (), r.by_id["names"].brought).path for r in (own, plain)]
    shipped = own.by_id["names"].layer.copy_with(font="Quicksand", weight=700)
    assert paths[0] == set_text(shipped, "Hm").path != paths[1]
    assert "font_missing" not in {f.rule for f in check(own)}
    assert "font_missing" in {f.rule for f in check(plain)}
    with pytest.raises(EditRefused, match="here already"):
        apply(job, BringFont(name="Lato", asset=kept.name))
    for bad in (data[:4000], b"OTTO" + bytes(200)):
        with pytest.raises(FileRefused, match="cannot be read"):
            read_asset(bad)


# --- captions --------------------------------------------------------------------------------------------------------


def picture(**how: object) -> bytes:
    out = io.BytesIO()
    Image.new("RGB", (8, 8)).save(out, "JPEG", **how)
    return out.getvalue()


def test_captions_are_read_from_xmp_exif_and_iptc() -> None:
    exif = Image.Exif()
    exif[0x010E] = "Lanterns over the dunes"
    xmp = (
        b'<x:xmpmeta xmlns:x="adobe:ns:meta/"><rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#">'
        b'<rdf:Description xmlns:dc="http://purl.org/dc/elements/1.1/"><dc:description><rdf:Alt>'
        b'<rdf:li xml:lang="de">Drachen</rdf:li><rdf:li xml:lang="x-default">Kites &amp; sand</rdf:li>'
        b"</rdf:Alt></dc:description></rdf:Description></rdf:RDF></x:xmpmeta>"
    )
    assert examine(picture(exif=exif), "a.jpg").caption == "Lanterns over the dunes"
    assert examine(picture(exif=exif, xmp=xmp), "a.jpg").caption == "Kites & sand"
    assert examine(picture(xmp=b"<!DOCTYPE x>" + xmp), "a.jpg").caption == ""
    assert examine(picture(xmp=xmp[:200]), "a.jpg").caption == ""
    # IPTC-IIM 4.2 in an image resource block 0x0404: record 2, dataset 120
    said = "Über den Dünen".encode()
    dataset = b"\x1c\x01\x5a\x00\x03\x1b%G" + b"\x1c\x02\x78" + len(said).to_bytes(2, "big") + said
    block = b"Photoshop 3.0\x008BIM\x04\x04\x00\x00" + len(dataset).to_bytes(4, "big") + dataset
    plain = picture()
    held = plain[:2] + b"\xff\xed" + (len(block) + 2).to_bytes(2, "big") + block + plain[2:]
    assert examine(held, "a.jpg").caption == "Über den Dünen"


def test_the_first_photos_caption_stands_in_words(job_of) -> None:
    from sutaru.core.edits.kinds import BringIn, Put

    photo = fake_photo(7, 4000, 6000).copy_with(caption="Ida with her box kite")
    job = apply(job_of("card-portrait"), BringIn(photos=(photo,)))
    sheet = next(s for s in job.sheets if s.layout.openings_by_id and s.layout.texts_by_id)
    opening, text = next(iter(sheet.layout.openings_by_id)), next(iter(sheet.layout.texts_by_id))
    job = apply(job, Write(sheet=sheet.id, layer=text, text="{photo.caption}"))
    assert words_on(job, sheet.id, text) == ""
    assert (
        words_on(apply(job, Put(sheet=sheet.id, opening=opening, photo=photo.id)), sheet.id, text)
        == "Ida with her box kite"
    )


# --- painted and written ---------------------------------------------------------------------------------------------


def test_line_and_shadow_lie_under_the_letters() -> None:
    from sutaru.core.document import Background, Layout
    from sutaru.core.paint import Painter, PixelGrid
    from tests.conftest import one_sheet

    layer = box("I", size_pt=100, centre=(20, 20), width_mm=40, height_mm=40, align="centre", stand="middle",
                line=WordLine(width_mm=1, colour="#ff0000"),
                shadow=WordShadow(distance_mm=4, blur_mm=0.2, opacity=1, colour="#0000ff"))  # fmt: skip
    layout = Layout(width_mm=40, height_mm=40, bleed_mm=0, safe_mm=0, layers=(Background(id="b"), layer))
    job = one_sheet(layout)
    from sutaru.core.paint import items, refuse_asset

    grid = PixelGrid.for_ppi(layout, 254)
    rgb, _ = Painter(lambda *a: np.zeros((1, 1, 3), np.uint8)).render(
        items(resolve_sheet(job, job.sheets[0].id), refuse_asset, bench=False, notes=False), grid
    )
    row = rgb[200]
    colours = {tuple(c) for c in row.tolist()}
    assert {(255, 0, 0), (0x22, 0x22, 0x22), (0, 0, 255)} <= colours
    red = np.nonzero((row == (255, 0, 0)).all(axis=1))[0]
    dark = np.nonzero((row == (0x22, 0x22, 0x22)).all(axis=1))[0]
    # 10 px a mm: a millimetre of red on each side of the stem.
    assert (dark[0] - red[0], red[-1] - dark[-1]) == (pytest.approx(10, abs=1), pytest.approx(10, abs=1))


def test_an_edition_is_another_one_with_other_fields() -> None:
    assert b"Kites" in Edition(fields={"title": "Kites"}).pack()
    assert Edition(fields={"title": "Kites"}).digest != Edition().digest
    assert b"fields" not in Edition().pack()  # so that stored ones keep their names
