"""Lists of customers: read from CSV and XLSX, columns matched by name and by example, rows as editions; run again."""

import io
from datetime import date

import openpyxl
import pytest

from sutaru.core.document import Flat, Job, Layout, Opening, Pile, Rectangle, Text
from sutaru.core.edits.apply import apply, label
from sutaru.core.edits.kinds import AddEdition, Place, Put, TakeList, Write
from sutaru.core.edits.lists import apply_list
from sutaru.core.errors import EditRefused, FileRefused
from sutaru.core.fitting import resolve_sheet
from sutaru.core.lists import Meaning, Table, list_meanings, match_columns, read_list
from tests.conftest import one_sheet
from tests.core.booked import one

CSV = """Family,Photo,Greeting,title,Copies
Brandvik,photo-001.jpg,"Fair winds, Ola",Kites,25
Holm,photo-002,Guten Rutsch,Drachen,10
Sørli,PHOTO-003.JPG,Hei hei,Drager,
"""


@pytest.fixture
def job() -> Job:
    opening = Opening(
        id="front", name="Front photo", outline=Rectangle(width_mm=60, height_mm=40), surface=Flat(centre=(50, 40))
    )
    layers = (
        opening,
        Text(id="greeting", name="Greeting", text="Hello", centre=(50, 90), width_mm=80, height_mm=12, size_pt=14),
        Text(id="line", text="{title} {year}", centre=(50, 110), width_mm=80, height_mm=12, size_pt=10),
    )
    photos = tuple(one(n) for n in range(1, 5))
    return one_sheet(Layout(width_mm=100, height_mm=130, layers=layers), photos)


def meant(job: Job, table: Table) -> list[str]:
    return [meaning.key for meaning in match_columns(job, table)]


def test_a_list_is_read_from_csv_however_it_was_saved() -> None:
    wanted = read_list(CSV.encode(), "list.csv")
    assert wanted.columns == ("Family", "Photo", "Greeting", "title", "Copies")
    assert wanted.rows[0] == ("Brandvik", "photo-001.jpg", "Fair winds, Ola", "Kites", "25")
    assert read_list(b"\xef\xbb\xbf" + CSV.encode(), "list.csv") == wanted
    assert read_list(CSV.encode("utf-16"), "list.csv") == wanted
    assert read_list(CSV.encode("cp1252"), "list.csv") == wanted
    assert read_list(CSV.replace("\n", "\r\n").encode(), "list.csv") == wanted
    semicolons = CSV.replace('"Fair winds, Ola"', "Fair winds Ola").replace(",", ";").encode()
    assert read_list(semicolons, "list.csv").rows[1] == wanted.rows[1]
    ragged = read_list(b"\n\nname,words\nOla\nEli,Hei,more\n,,\n", "list.csv")
    assert (ragged.columns, ragged.rows) == (("name", "words", "Column 3"), (("Ola", "", ""), ("Eli", "Hei", "more")))


def test_a_list_is_read_from_xlsx() -> None:
    book = openpyxl.Workbook()
    book.active.append(["Name", "Copies", "date", "share"])
    book.active.append(["Ola", 25.0, date(2026, 6, 20), 0.5])
    out = io.BytesIO()
    book.save(out)
    table = read_list(out.getvalue(), "list.xlsx")
    assert (table.columns, table.rows) == (("Name", "Copies", "date", "share"), (("Ola", "25", "2026-06-20", "0.5"),))
    for harmed in (out.getvalue()[:900], b"PK nothing"):
        with pytest.raises(FileRefused, match="cannot be read as XLSX"):
            read_list(harmed, "list.xlsx")


@pytest.mark.parametrize(
    ("data", "why"),
    [(b"", "no rows"), (b"name,words\n", "no rows"), (b"name\n" + b"x\n" * 1001, "1,001 rows"),
     (b"x" * 4_000_001, "larger than 4 MB"), (b"a" + b",b" * 80 + b"\n" + b"a" + b",b" * 80, "81 columns")],
)  # fmt: skip
def test_what_is_no_list_is_refused(data: bytes, why: str) -> None:
    with pytest.raises(FileRefused, match=why):
        read_list(data, "list.csv")


def test_columns_are_matched_by_name_and_by_example(job: Job) -> None:
    assert meant(job, read_list(CSV.encode(), "l")) == [
        "name",
        "photo p front",
        "words p greeting",
        "field title",
        "copies",
    ]
    # By what stands in them: photos are known by their names; who it is for, as a column of unlike words.
    unknown = read_list(b"a,b,c\nOla,photo-001.jpg,3\nEli,photo-002.jpg,4\n", "l")
    assert meant(job, unknown) == ["name", "photo p front", "nothing"]
    twice = read_list(b"Front photo,Photo,who\nphoto-001,photo-002,Ola\n", "l")
    assert meant(job, twice) == ["photo p front", "nothing", "name"]
    assert [m.key for m in list_meanings(job)] == [
        "name",
        "key",
        "copies",
        "field title",
        "words p greeting",
        "words p line",
        "photo p front",
    ]


def taken(job: Job, text: str, **more: object) -> tuple[Job, list]:
    table = read_list(text.encode(), "l")
    return apply_list(job, TakeList(table=table, meanings=match_columns(job, table), **more))


def test_each_row_becomes_an_edition(job: Job) -> None:
    after, done = taken(job, CSV)
    assert [(row.name, row.state, row.edition) for row in done] == [
        ("Brandvik", "new", "brandvik"), ("Holm", "new", "holm"), ("Sørli", "new", "srli"),
    ]  # fmt: skip
    ola = after.edition("brandvik")
    assert (ola.copies, ola.fields, ola.filling("p").texts) == (25, {"title": "Kites"}, {"greeting": "Fair winds, Ola"})
    assert after.edition("srli").copies == 1
    assert [after.edition(e).filling("p").photo_in("front") for e in ("brandvik", "holm", "srli")] == [
        photo.id for photo in job.photos[:3]
    ]
    line = next(drawn for drawn in resolve_sheet(after, "p", "holm").drawn if drawn.layer.id == "line")
    assert line.words == "Drachen"
    assert label(job, TakeList(table=read_list(CSV.encode(), "l"), meanings=())) == "read in 3 rows of a list"
    assert after.editions[0] == job.editions[0]


def test_run_again_it_changes_only_what_changed(job: Job) -> None:
    after, _ = taken(job, CSV)
    lies = after.edition("brandvik").filling("p").placements["front"]
    fit = {"centre": lies.centre, "zoom": 1.5, "turn_deg": 4, "mirror": False}
    by_hand = apply(after, Place(sheet="p", edition="brandvik", opening="front", **fit))
    by_hand = apply(by_hand, Write(sheet="p", edition="holm", layer="greeting", text="Guten Rutsch!"))
    same, done = taken(by_hand, CSV)
    assert [row.state for row in done] == ["same"] * 3
    assert same.editions == by_hand.editions
    changed = CSV.replace("Kites,25", "Kites,30").replace("photo-002", "photo-004") + "Ny,photo-004,Hei,Ny,2\n"
    later, done = taken(by_hand, changed)
    assert [row.state for row in done] == ["changed", "changed", "same", "new"]
    assert later.edition("brandvik").copies == 30
    assert later.edition("brandvik").filling("p").placements["front"].zoom == 1.5  # a hand's fit stays
    assert later.edition("holm").filling("p").texts["greeting"] == "Guten Rutsch!"  # and its words
    assert later.edition("holm").filling("p").photo_in("front") == job.photos[3].id
    fewer, done = taken(later, CSV.splitlines()[0] + "\n" + CSV.splitlines()[1])
    assert len(fewer.editions) == len(later.editions)  # who is no longer listed is not thrown away


def test_rows_that_do_not_work_are_named_and_the_others_go_on(job: Job) -> None:
    text = (
        CSV.replace("photo-002", "photo-9")
        + ",photo-001,no name,x,1\nLund,photo-001,Hei,Lund,many\nHolm,photo-003,Hei,x,1\n"
    )
    after, done = taken(job, text)
    assert [row.state for row in done] == ["new", "failed", "new", "failed", "failed", "new"]
    assert [row.wrong for row in done if row.wrong] == [
        ("There is no photo photo-9 in the pile.",), ("It says no name.",),
        ("many is not a number of copies from 1 to 100,000.",),
    ]  # fmt: skip
    assert {edition.name for edition in after.editions} == {"First", "Brandvik", "Sørli", "Holm 2"}
    twins = job.copy_with(pile=Pile(photos=(*job.photos, one(9).copy_with(name="photo-001.jpg"))))
    _, done = taken(twins, CSV)
    assert done[0].wrong == ("2 photos are called photo-001.jpg.",)


def test_two_of_a_name_are_two_editions(job: Job) -> None:
    after, done = taken(job, "name,copies\nOla,1\nOla,2\n")
    assert [(row.name, row.edition) for row in done] == [("Ola", "ola"), ("Ola 2", "ola-2")]
    _, done = taken(after, "name,copies\nOla,1\nOla,2\n")
    assert [row.state for row in done] == ["same", "same"]


def test_a_row_that_is_put_right_takes_nobody_elses_place(job: Job) -> None:
    """Two customers of one name, of whom the first could not be taken: once he can, the second keeps her edition and the hand
    work in it."""
    first, done = taken(job, "name,photo,copies\nHolm,photo-9,1\nHolm,photo-001,2\n")
    assert [(row.name, row.state, row.edition) for row in done] == [("Holm", "failed", ""), ("Holm 2", "new", "holm-2")]
    opening = next(iter(job.sheets[0].layout.openings_by_id))
    first = apply(first, Put(sheet="p", edition="holm-2", opening=opening, photo=job.photos[2].id))
    after, done = taken(first, "name,photo,copies\nHolm,photo-002,1\nHolm,photo-001,2\n")
    assert [(row.name, row.state) for row in done] == [("Holm", "new"), ("Holm 2", "same")]
    assert after.edition("holm-2") == first.edition("holm-2")
    assert after.edition(done[0].edition).filling("p").photo_in(opening) == job.photos[1].id


def test_a_key_column_tells_rows_apart_whatever_they_are_called_and_in_whatever_order(job: Job) -> None:
    first, done = taken(job, "customer number,name,copies\n17,Holm,1\n18,Holm,2\n19,Lund,3\n")
    assert [(row.key, row.name) for row in done] == [("17", "Holm"), ("18", "Holm 2"), ("19", "Lund")]
    after, again = taken(first, "customer number,name,copies\n19,Lund,3\n18,Holm,2\n17,Holm-Brandvik,1\n")
    assert {row.key: row.edition for row in again} == {row.key: row.edition for row in done}
    by_key = {own.listed["key"]: own for own in after.editions if own.listed}
    assert {key: (own.name, own.copies) for key, own in by_key.items()} == {
        "17": ("Holm-Brandvik", 1), "18": ("Holm", 2), "19": ("Lund", 3),
    }  # fmt: skip
    _, wrong = taken(job, "id,name\n17,Ola\n17,Eli\n,Lund\n")
    assert [row.wrong for row in wrong] == [(), ("An earlier row has the key 17 too.",), ("It says no key.",)]
    # A list that says keys for the first time knows the editions that it made by their names.
    plain, done = taken(job, "name\nHolm\nLund\n")
    _, keyed = taken(plain, "id,name\n4,Holm\n5,Lund\n")
    assert [row.edition for row in keyed] == [row.edition for row in done]


@pytest.mark.parametrize("copies", ["\u00b2", "0", "-1", "1e3", "100001", "9" * 40, "one", "1.5"])
def test_copies_that_are_none_are_named_and_the_others_go_on(copies: str, job: Job) -> None:
    _, done = taken(job, f"name,copies\nOla,{copies}\nEli,2\n")
    assert [row.state for row in done] == ["failed", "new"]
    assert done[0].wrong == (f"{copies[:40]} is not a number of copies from 1 to 100,000.",)


def test_lists_that_cannot_be_taken_are_refused(job: Job) -> None:
    table = read_list(CSV.encode(), "l")
    nothing = Meaning()
    for meanings, why in (
        ((Meaning(kind="name"),), "each column"),
        ((Meaning(kind="name"), Meaning(kind="name"), nothing, nothing, nothing), "Two columns say the same"),
        ((nothing,) * 5, "No column says who"),
        (
            (Meaning(kind="name"), Meaning(kind="photo", sheet="p", layer="gone"), nothing, nothing, nothing),
            "no opening gone",
        ),
        (
            (Meaning(kind="name"), Meaning(kind="words", sheet="p", layer="gone"), nothing, nothing, nothing),
            "no text gone",
        ),
    ):
        with pytest.raises(EditRefused, match=why):
            apply(job, TakeList(table=table, meanings=meanings))
    with pytest.raises(EditRefused, match=r"No row of this list works: There is no photo photo-77 in the pile\."):
        bad = read_list(b"name,photo\nOla,photo-77\n", "l")
        apply(
            job, TakeList(table=bad, meanings=(Meaning(kind="name"), Meaning(kind="photo", sheet="p", layer="front")))
        )


def test_like_another_edition(job: Job) -> None:
    own = apply(apply(job, AddEdition(id="red", name="Red")), Write(sheet="p", edition="red", layer="line", text="red"))
    after, _ = taken(own, "name,copies\nOla,3\n", like="red")
    assert after.edition("ola").filling("p").texts == {"line": "red"}
    assert after.edition("ola").copies == 3


def test_a_row_without_copies_is_printed_once_however_often_the_one_it_is_like_is(job: Job) -> None:
    own = apply(job, AddEdition(id="red", name="Red"))
    red = own.edition("red").copy_with(copies=25)
    own = own.copy_with(editions=tuple(red if edition.id == "red" else edition for edition in own.editions))
    after, _ = taken(own, "name\nOla\n", like="red")
    assert after.edition("ola").copies == 1
