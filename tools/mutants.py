"""Changes one thing at a time in newer rooms and says which changes no test notices: ``python tools/mutants.py [SEED]``.

A mutant is a comparison turned round, a plus for a minus, an ``and`` for an ``or``, a number one larger, a branch taken
always or never. Which ones is chosen by the seed. The module is changed in a copy of the package, never in place.
"""

import ast
import os
import random
import shutil
import subprocess
import sys
import tempfile
from pathlib import Path

ROOT = Path(__file__).parent.parent
EACH = 5
ROOMS = {  # a module, and the tests that ought to notice
    "core/books/bleeds.py": "tests/core/test_bleeds.py tests/core/test_books.py",
    "core/books/trees.py": "tests/core/test_book_trees.py tests/core/test_books.py",
    "core/books/photo_choice.py": "tests/core/test_book_photos.py",
    "core/books/spread_designs.py": "tests/core/test_recomposing.py",
    "core/books/sheet_rooms.py": "tests/core/test_recomposing.py",
    "core/books/recomposing.py": "tests/core/test_recomposing.py",
    "core/cards/folding.py": "tests/core/test_cards.py",
    "core/colour/limiting.py": "tests/core/test_ink_limit.py",
    "core/fitting/spanning.py": "tests/core/test_spans_and_pages.py",
    "core/lists/column_meanings.py": "tests/core/test_lists.py",
    "core/press/imposing.py": "tests/core/test_imposing.py",
    "core/words/public_holidays.py": "tests/core/test_calendars.py tests/core/test_calendars_elsewhere.py",
    "core/edits/lists.py": "tests/core/test_lists.py",
    "store/backup.py": "tests/store/test_backup.py",
    "api/description.py": "tests/api/test_description.py",
}
TURNED = {ast.Lt: ast.GtE, ast.GtE: ast.Lt, ast.Gt: ast.LtE, ast.LtE: ast.Gt, ast.Eq: ast.NotEq, ast.NotEq: ast.Eq,
          ast.In: ast.NotIn, ast.NotIn: ast.In, ast.Is: ast.IsNot, ast.IsNot: ast.Is}  # fmt: skip
SWAPPED = {ast.Add: ast.Sub, ast.Sub: ast.Add, ast.Mult: ast.Div, ast.Div: ast.Mult}


class Mutator(ast.NodeTransformer):
    """Counts what can be changed; changes the one with the number ``chosen``."""

    def __init__(self, chosen: int = -1) -> None:
        self.chosen, self.count, self.what = chosen, 0, ""

    def _is_it(self, node: ast.AST, what: str) -> bool:
        self.count += 1
        if self.count - 1 == self.chosen:
            self.what = f"line {node.lineno}: {what}"  # type: ignore[attr-defined]
            return True
        return False

    def visit_FunctionDef(self, node: ast.FunctionDef) -> ast.AST:
        node.body = [self.visit(statement) for statement in node.body]  # no defaults, no annotations
        return node

    def visit_Compare(self, node: ast.Compare) -> ast.AST:
        self.generic_visit(node)
        if len(node.ops) == 1 and type(node.ops[0]) in TURNED and self._is_it(node, ast.unparse(node)):
            node.ops[0] = TURNED[type(node.ops[0])]()
        return node

    def visit_BinOp(self, node: ast.BinOp) -> ast.AST:
        self.generic_visit(node)
        if type(node.op) in SWAPPED and self._is_it(node, ast.unparse(node)):
            node.op = SWAPPED[type(node.op)]()
        return node

    def visit_BoolOp(self, node: ast.BoolOp) -> ast.AST:
        self.generic_visit(node)
        if self._is_it(node, ast.unparse(node)):
            node.op = ast.Or() if isinstance(node.op, ast.And) else ast.And()
        return node

    def visit_IfExp(self, node: ast.IfExp) -> ast.AST:
        self.generic_visit(node)
        return node.orelse if self._is_it(node, ast.unparse(node)) else node


def main(seed: int) -> int:
    """Tries all mutants; how many were not noticed."""
    rng, alive, tried = random.Random(seed), [], 0
    with tempfile.TemporaryDirectory() as name:
        copy = Path(name) / "house"
        shutil.copytree(ROOT, copy, ignore=shutil.ignore_patterns(".venv", "node_modules", ".git", ".stamps", "dist"))
        environment = {**os.environ, "PYTHONPATH": str(copy), "PYTHONDONTWRITEBYTECODE": "1"}
        for module, tests in ROOMS.items():
            path = copy / "sutaru" / module
            source = path.read_text("utf-8")
            counter = Mutator()
            counter.visit(ast.parse(source))
            for chosen in sorted(rng.sample(range(counter.count), min(EACH, counter.count))):
                mutator = Mutator(chosen)
                path.write_text(ast.unparse(mutator.visit(ast.parse(source))), "utf-8")
                command = [sys.executable, "-m", "pytest", "-q", "-x", "-p", "no:cacheprovider", *tests.split()]
                done = subprocess.run(command, cwd=copy, env=environment, capture_output=True, timeout=600, check=False)
                tried += 1
                if done.returncode == 0:
                    alive.append(f"{module}, {mutator.what}")
                print("." if done.returncode else "A", end="", flush=True)
            path.write_text(source, "utf-8")
    print(f"\n{tried - len(alive)} of {tried} noticed", *alive, sep="\n  ")
    return len(alive)


if __name__ == "__main__":
    sys.exit(main(int(sys.argv[1]) if len(sys.argv) > 1 else 1) > 6)
