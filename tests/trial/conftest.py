"""After each trial whatever hung is let go of here, not in some later test: a client does not close a connection that the
server hung up on in the middle of a request."""

import gc
import warnings
from collections.abc import Iterator

import pytest


@pytest.fixture(autouse=True)
def let_go() -> Iterator[None]:
    yield
    with warnings.catch_warnings():
        warnings.simplefilter("ignore", ResourceWarning)
        gc.collect()
