"""Names that a newcomer could not read: they were replaced and may not come back (docs/developing.md)."""

import ast
import re
import runpy
from collections import Counter
from pathlib import Path

import sutaru

FOLDER = Path(sutaru.__file__).parent
MODULES = [path for path in FOLDER.rglob("*.py") if path.name != "__init__.py"]
RIDDLES = {
    "about", "ahead", "asked", "beginning", "commands", "common", "cover", "cutting", "door", "found", "freeing", "helpers",
    "laid", "laid_in", "laying", "locally", "making", "matching", "parting", "picking", "proposing", "reading", "relaying",
    "seeking", "seen", "standing", "trying", "turning", "utils", "weaving", "whence", "whole",
}  # fmt: skip


def test_no_module_is_named_by_a_riddle() -> None:
    assert {str(path.relative_to(FOLDER)) for path in MODULES if path.stem in RIDDLES} == set()


def test_what_is_read_retouched_and_written_as_pdf_has_a_name_of_its_own() -> None:
    core = Counter(path.stem for path in MODULES if path.is_relative_to(FOLDER / "core"))
    assert {stem for stem in ("reading", "retouching", "pdf") if core[stem] > 1} == set()


PARTICIPLES = re.compile(
    r"^_?(?:begun|planned|afresh|having|asked|taken|told|said|found|kept|laid|drawn|made|seen|worth|one|own|at|of|"
    r"with|without|onto|from_list|in_place|about|across|again|apart|around|among|within|beyond|behind|together|once|"
    r"resolved|dressed|composed|retouched|mended|measured|painted|written|grown|moved|shifted|mirrored|turned|carried)$"
)


def test_no_function_is_named_by_a_participle_or_a_preposition_alone() -> None:
    names = {
        f"{path.relative_to(FOLDER)}: {node.name}"
        for path in MODULES
        for node in ast.walk(ast.parse(path.read_text("utf-8")))
        if isinstance(node, ast.FunctionDef | ast.AsyncFunctionDef) and PARTICIPLES.match(node.name)
    }
    assert names == set()


SAY_NOTHING = {"found", "own", "one", "said", "told", "made", "asked", "kept"}


def test_no_variable_is_named_by_what_happened_to_it() -> None:
    """A variable says what it holds. Fields of documents keep the names under which they are stored."""
    names = set()
    for path in MODULES:
        tree = ast.parse(path.read_text("utf-8"))
        classes = [node for node in ast.walk(tree) if isinstance(node, ast.ClassDef)]
        fields = {id(node.target) for one in classes for node in one.body if isinstance(node, ast.AnnAssign)}
        for node in ast.walk(tree):
            if isinstance(node, ast.Name) and isinstance(node.ctx, ast.Store) and id(node) not in fields:
                names |= {f"{path.relative_to(FOLDER)}: {node.id}"} if node.id in SAY_NOTHING else set()
            if isinstance(node, ast.arg) and node.arg in SAY_NOTHING:
                names.add(f"{path.relative_to(FOLDER)}: {node.arg}")
    assert names == set()


def test_the_map_of_the_house_is_that_of_the_imports() -> None:
    draw_map = runpy.run_path(str(FOLDER.parent / "tools" / "draw_map.py"))
    assert (FOLDER.parent / "docs" / "map.svg").read_text("utf-8") == draw_map["draw"](), "run tools/draw_map.py"


def test_no_module_is_so_long_that_it_has_two_ideas() -> None:
    assert {path.name for path in MODULES if len(path.read_text("utf-8").splitlines()) > 400} == set()
