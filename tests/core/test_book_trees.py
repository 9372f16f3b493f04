"""Trees of rows and columns, which crop nothing: against a general linear solver, and for few photos against every tree."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from sutaru.core.books.plan import PagePlan
from sutaru.core.books.trees import Tree, Trees, boxes, cost_of, parse_tree, text


@st.composite
def trees(draw: st.DrawFn, least: int = 1) -> tuple[Tree, list[float]]:
    count = draw(st.integers(least, 7))

    def made(low: int, high: int) -> Tree:
        if high - low == 1:
            return low
        cut = draw(st.integers(low + 1, high - 1))
        return (draw(st.sampled_from("rc")), made(low, cut), made(cut, high))

    return made(0, count), draw(st.lists(st.floats(0.5, 2.2), min_size=count, max_size=count))


def solved(tree: Tree, ratios: list[float], gap: float, room: tuple[float, float]) -> list[tuple[float, float]]:
    """Widths and heights of a tree's photos by a general solver: every part's width and height is an unknown, every ratio, gap
    and common side an equation (Atkins 2008, section 3); the whole is as wide or as high as the room."""
    parts: list[Tree] = []

    def listed(part: Tree) -> int:
        parts.append(part)
        return len(parts) - 1

    rows: list[dict[int, float]] = []
    right: list[float] = []

    def walk(part: Tree) -> int:
        n = listed(part)
        if isinstance(part, int):
            rows.append({2 * n: 1.0, 2 * n + 1: -ratios[part]})
            right.append(0.0)
            return n
        a, b = walk(part[1]), walk(part[2])
        along, across = (0, 1) if part[0] == "r" else (1, 0)
        for equation, value in (
            ({2 * n + along: 1.0, 2 * a + along: -1.0, 2 * b + along: -1.0}, gap),
            ({2 * n + across: 1.0, 2 * a + across: -1.0}, 0.0),
            ({2 * n + across: 1.0, 2 * b + across: -1.0}, 0.0),
        ):
            rows.append(equation)
            right.append(value)
        return n

    walk(tree)
    found = []
    for side in (0, 1):
        matrix = np.zeros((len(rows) + 1, 2 * len(parts)))
        for r, equation in enumerate(rows):
            for column, value in equation.items():
                matrix[r, column] = value
        matrix[-1, side] = 1.0
        sizes = np.linalg.solve(matrix, [*right, room[side]])
        if sizes[1 - side] <= room[1 - side] + 1e-9:
            found = sizes
    return [(found[2 * n], found[2 * n + 1]) for n, part in enumerate(parts) if isinstance(part, int)]


@given(trees(), st.floats(0, 4))
def test_a_trees_photos_keep_their_ratios_and_gaps_as_a_general_solver_has_them(
    made: tuple[Tree, list[float]], gap: float
) -> None:
    tree, ratios = made
    laid = boxes(tree, ratios, gap, (10, 20, 300, 280))
    assert parse_tree(text(tree)) == tree
    for ratio, (_, _, w, h) in zip(ratios, laid, strict=True):
        assert w / h == pytest.approx(ratio)
    left, top = min(x for x, *_ in laid), min(y for _, y, *_ in laid)
    right, bottom = max(x + w for x, _, w, _ in laid), max(y + h for _, y, _, h in laid)
    assert (left + right, top + bottom) == pytest.approx((2 * 10 + 300, 2 * 20 + 280))  # in the middle
    assert max((right - left) / 300, (bottom - top) / 280) == pytest.approx(1)  # as large as can be
    assert [size for x, y, *size in laid] == [pytest.approx(size) for size in solved(tree, ratios, gap, (300, 280))]
    for n, (x, y, w, h) in enumerate(laid):
        for x2, y2, w2, h2 in laid[n + 1 :]:
            across = max(x2 - (x + w), x - (x2 + w2))
            down = max(y2 - (y + h), y - (y2 + h2))
            assert max(across, down) == pytest.approx(gap) or max(across, down) > gap


def every(low: int, high: int) -> list[Tree]:
    """All ways to part a run of photos, each row and column once."""
    if high - low == 1:
        return [low]
    return [
        (way, a, b)
        for cut in range(low + 1, high) for way in "rc"
        for a in every(low, cut) if isinstance(a, int) or a[0] != way for b in every(cut, high)
    ]  # fmt: skip


def test_of_few_photos_no_tree_is_better_than_the_one_found() -> None:
    assert [len(every(0, n)) for n in (2, 3, 4, 5)] == [2, 6, 22, 90]  # large Schröder numbers (OEIS A006318)
    for ratios in ((1.5, 1.5, 0.667, 1.5), (0.75, 1.333, 1.333), (1.5, 0.667, 0.667, 1.5)):
        best = Trees(3.0).rank_trees(ratios, (260.0, 250.0), count=5)

        costs = []
        for tree in every(0, len(ratios)):
            laid = boxes(tree, ratios, 3.0, (0, 0, 260, 250))
            costs.append(cost_of(laid, [0.0] * len(ratios), (260, 250)))
        assert best[0].cost == pytest.approx(min(costs))
        assert [one.cost for one in best] == sorted(one.cost for one in best)


@pytest.mark.parametrize("written", ["", "r", "r(0)", "r(0,0)", "c(1,0)", "x(0,1)", "r(0,1)) ", "r(0, 1)", "c(0,2)"])
def test_what_is_no_tree_is_refused(written: str) -> None:
    with pytest.raises(ValueError, match="no tree of rows and columns"):
        parse_tree(written)
    with pytest.raises(ValueError, match=r"no tree|as many photos"):
        PagePlan(photos=("0" * 16, "1" * 16), shape=written)


def test_gaps_that_leave_no_room_are_refused() -> None:
    with pytest.raises(ValueError, match="leave no room"):
        boxes(("r", 0, 1), [1.5, 1.5], 300, (0, 0, 200, 200))
