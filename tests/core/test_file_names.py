"""Names of print files: no two alike, capitals or not, whatever editions, sheets and patterns are called."""

from hypothesis import given, settings
from hypothesis import strategies as st

from sutaru.core.document import Edition, Job, Layout, Sheet
from sutaru.core.press.exporting import EVERY, edition_prefixes, file_stems, make_unique, pieces
from tests.conftest import LABS

WORDS = st.text(st.sampled_from("abAB_- é²."), min_size=1, max_size=6)
IDS = st.text(st.sampled_from("abc-"), min_size=1, max_size=3).filter(lambda text: text[0] != "-")


@given(st.lists(WORDS, max_size=12))
def test_names_are_told_apart_and_those_that_were_alone_stay(names: list[str]) -> None:
    found = make_unique(names)
    assert len({name.casefold() for name in found}) == len(names)
    folded = [name.casefold() for name in names]
    for n, name in enumerate(names):
        if folded.index(name.casefold()) == n:
            assert found[n] == name


@settings(deadline=None, max_examples=200)
@given(
    editions=st.dictionaries(IDS, WORDS.filter(str.strip), min_size=1, max_size=5),
    sheets=st.dictionaries(IDS, WORDS.filter(str.strip), min_size=1, max_size=3),
    naming=st.sampled_from(["{job}_{page}", "{name}", "{customer}", "{name}_{page}"]),
    one_file=st.booleans(),
)
def test_no_two_files_of_an_export_are_alike(
    editions: dict[str, str], sheets: dict[str, str], naming: str, one_file: bool
) -> None:
    layout = Layout(width_mm=50, height_mm=50, layers=())
    lab = LABS["gullwing-300"]
    job = Job(
        name="Kites", template="t", product="card", lab=lab.copy_with(naming=naming, pdf=lab.pdf.copy_with(one_file=one_file)),
        sheets=tuple(Sheet(id=identity, name=name, layout=layout) for identity, name in sheets.items()),
        editions=tuple(Edition(id=identity, name=name) for identity, name in editions.items()),
    )  # fmt: skip
    for kind in ("jpeg", "pdf"):
        files = [piece.file for piece in pieces(job, kind, EVERY)]  # type: ignore[arg-type]
        assert len({name.casefold() for name in files}) == len(files), files


def test_editions_whose_names_are_others_ids() -> None:
    editions = [Edition(id=identity, name=name) for identity, name in {"b": "c", "a": "x", "c": "x"}.items()]
    prefixes = edition_prefixes(editions)
    assert prefixes == ["c_", "x_", "c-2_"]
    assert edition_prefixes([Edition(id="a", name="Holm"), Edition(id="b", name="HOLM")]) == ["Holm_", "b_"]


def test_a_sheet_that_is_called_as_one_before_says_its_number() -> None:
    layout = Layout(width_mm=50, height_mm=50, layers=())
    sheets = tuple(Sheet(id=f"s{n}", name=name, layout=layout) for n, name in enumerate(("Kites", "Sand", "kites")))
    job = Job(
        name="J", template="t", product="card", lab=LABS["gullwing-300"].copy_with(naming="{name}"), sheets=sheets
    )
    assert file_stems(job) == ["Kites", "Sand", "kites-03"]
