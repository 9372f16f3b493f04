"""Work done ahead: the same items in order, errors where they are taken, and no thread left behind."""

import threading
import time

import pytest

from sutaru.core.press.prefetch import prefetch


@pytest.mark.parametrize("every", [1, 3])
def test_items_come_in_order_and_one_heavy_one_is_made_ahead(every: int) -> None:
    """One of so many is heavy; the others come on top."""
    made: list[int] = []

    def items():  # type: ignore[no-untyped-def]
        for n in range(9):
            made.append(n)
            yield n

    def heavy(n: int) -> bool:
        return n % every == 0

    seen = []
    for n in prefetch(items(), heavy=heavy):
        most = next((later + 1 for later in range(n + 1, 9) if heavy(later)), 9)
        until = time.monotonic() + 30
        while len(made) < most and time.monotonic() < until:
            time.sleep(0.005)
        time.sleep(0.02)  # for one that should not be made
        assert len(made) == most
        seen.append(n)
    assert seen == list(range(9))
    assert list(prefetch(())) == []


def test_what_goes_wrong_is_raised_where_it_is_taken() -> None:
    def items():  # type: ignore[no-untyped-def]
        yield 1
        raise ValueError("torn")

    taken = prefetch(items())
    assert next(taken) == 1
    with pytest.raises(ValueError, match="torn"):
        next(taken)


def test_nobody_taking_any_more_ends_the_thread() -> None:
    before = threading.active_count()
    taken = prefetch(iter(range(1000)))
    next(taken)
    taken.close()
    assert threading.active_count() == before
