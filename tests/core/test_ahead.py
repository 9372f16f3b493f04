"""Work done ahead: the same items in order, errors where they are taken, and no thread left behind."""

import threading
import time

import pytest

from sutaru.core.press.ahead import ahead


def test_items_come_in_order_and_one_is_made_ahead() -> None:
    made: list[int] = []

    def items():  # type: ignore[no-untyped-def]
        for n in range(6):
            made.append(n)
            yield n

    seen = []
    for n in ahead(items()):
        time.sleep(0.05)
        assert len(made) == min(6, n + 2)
        seen.append(n)
    assert seen == list(range(6))
    assert list(ahead(())) == []


def test_light_items_are_made_on_top_of_a_heavy_one() -> None:
    made: list[int] = []

    def items():  # type: ignore[no-untyped-def]
        for n in range(9):
            made.append(n)
            yield n

    for n in ahead(items(), heavy=lambda n: n % 3 == 1):
        time.sleep(0.05)
        to_come = [later for later in range(n + 1, 9) if later % 3 == 1]
        assert len(made) == (to_come[0] + 1 if to_come else 9)


def test_what_goes_wrong_is_raised_where_it_is_taken() -> None:
    def items():  # type: ignore[no-untyped-def]
        yield 1
        raise ValueError("torn")

    taken = ahead(items())
    assert next(taken) == 1
    with pytest.raises(ValueError, match="torn"):
        next(taken)


def test_nobody_taking_any_more_ends_the_thread() -> None:
    before = threading.active_count()
    taken = ahead(iter(range(1000)))
    next(taken)
    taken.close()
    assert threading.active_count() == before
