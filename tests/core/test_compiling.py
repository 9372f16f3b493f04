"""Compiled functions: the same as Python works out, loaded without the compiler, and refusing what they were not made for."""

import subprocess
import sys
from pathlib import Path

import numpy as np
import pytest

from sutaru.core.compiling import compile_for, helper


@helper
def _twice(value: int) -> int:
    return 2 * value


@compile_for("uint8 2, int64, int64 1", "uint16 2, int64, int64 1")
def add_rows(picture, times, made):
    """Twice the sum of each row, so many times."""
    for y in range(picture.shape[0]):
        made[y] = 0
        for x in range(picture.shape[1]):
            made[y] += _twice(times * picture[y, x])


@pytest.mark.parametrize("kind", [np.uint8, np.uint16])
def test_a_compiled_function_does_what_python_does(kind: type) -> None:
    picture = np.random.default_rng(1).integers(0, np.iinfo(kind).max, (7, 300), kind, endpoint=True)
    made = np.empty(7, np.int64)
    add_rows(picture, 3, made)
    assert made.tolist() == (6 * picture.astype(np.int64).sum(axis=1)).tolist()


@pytest.mark.parametrize("picture", [
    np.zeros((4, 4), np.float32),  # another kind
    np.zeros(4, np.uint8),  # another number of dimensions
    np.zeros((4, 8), np.uint8)[:, ::2],  # not contiguous
    np.zeros((4, 4), np.uint8, order="F"),
])  # fmt: skip
def test_what_it_was_not_made_for_is_refused(picture: np.ndarray) -> None:
    with pytest.raises(TypeError, match="add_rows takes"):
        add_rows(picture, 1, np.empty(4, np.int64))


def test_another_process_loads_what_was_compiled_without_the_compiler() -> None:
    add_rows(np.zeros((1, 1), np.uint8), 1, np.empty(1, np.int64))  # compiled by now
    script = """
import sys
import numpy as np
from tests.core.test_compiling import add_rows
made = np.empty(2, np.int64)
add_rows(np.full((2, 5), 7, np.uint8), 1, made)
print(made.tolist(), "numba" in sys.modules)
"""
    root = Path(__file__).parent.parent.parent
    ended = subprocess.run(
        [sys.executable, "-c", script], cwd=root, capture_output=True, text=True, check=True, timeout=60
    )
    assert ended.stdout.split("\n")[0] == "[70, 70] False"


def test_where_nothing_can_be_kept_it_compiles_for_itself(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("sutaru.core.compiling._USER_CACHE", tmp_path / "file" / "cache")
    (tmp_path / "file").write_text("no folder")
    monkeypatch.setattr("inspect.getfile", lambda work: str(tmp_path / "source.py"))
    (tmp_path / "source.py").write_text("# elsewhere")
    (tmp_path / "__pycache__").write_text("no folder either")

    @compile_for("uint8 1")
    def clear(values):
        for n in range(len(values)):
            values[n] = 0

    values = np.ones(9, np.uint8)
    clear(values)
    assert values.tolist() == [0] * 9
    assert sorted(path.name for path in tmp_path.iterdir()) == ["__pycache__", "file", "source.py"]


def test_a_user_without_a_home_is_served(tmp_path: Path) -> None:
    """As in a container that runs under a number alone: importing must not ask for a home, nor make a folder called ~."""
    script = "import os, pwd, sutaru.core.compiling as c; print(c._USER_CACHE.is_absolute())"
    blind = "import os.path; os.path.expanduser = lambda path: path\n"
    root = Path(__file__).parent.parent.parent
    env = {"PATH": "/usr/bin:/bin", "PYTHONPATH": str(root)}
    ended = subprocess.run(
        [sys.executable, "-c", blind + script], cwd=tmp_path, env=env, capture_output=True, text=True, check=True
    )
    assert ended.stdout.split() == ["False"]
    assert list(tmp_path.iterdir()) == []
