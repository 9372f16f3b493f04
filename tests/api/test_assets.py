"""The interface's files: compressed where the browser takes that, kept for a year, and few of them for the first screen."""

import gzip
import re
from collections.abc import Iterator
from pathlib import Path

import pytest
from fastapi.testclient import TestClient

from sutaru.api.app import create_app, find_interface

WEB = find_interface() or Path("web/dist")
ASSETS = WEB / "assets"
MOST_SCRIPT = 165_000  # bytes, compressed, until the shelf stands


@pytest.fixture(scope="module")
def client(tmp_path_factory: pytest.TempPathFactory) -> Iterator[TestClient]:
    with TestClient(create_app(tmp_path_factory.mktemp("data")), base_url="http://localhost") as made:
        yield made


def script() -> Path:
    return next(path for path in ASSETS.glob("index-*.js"))


@pytest.mark.parametrize(
    ("accepts", "coding"), [("gzip, deflate, br, zstd", "br"), ("gzip;q=1.0", "gzip"), ("identity", None), ("", None)]
)
def test_a_script_is_sent_as_the_browser_takes_it(client: TestClient, accepts: str, coding: str | None) -> None:
    path = script()
    answer = client.get(f"/assets/{path.name}", headers={"Accept-Encoding": accepts})
    assert answer.status_code == 200
    assert answer.headers.get("content-encoding") == coding
    assert answer.headers["cache-control"] == "public, max-age=31536000, immutable"
    assert answer.headers["vary"] == "Accept-Encoding"
    assert answer.headers["content-type"].startswith("text/javascript")
    if coding == "gzip":
        assert answer.content == path.read_bytes()  # as the client unpacks it
        assert int(answer.headers["content-length"]) < len(path.read_bytes()) / 2
    if coding is None:
        assert answer.content == path.read_bytes()


def test_what_lies_compressed_is_what_lies_plain() -> None:
    for path in ASSETS.glob("*.js"):
        assert gzip.decompress(path.with_name(path.name + ".gz").read_bytes()) == path.read_bytes()


def test_what_is_not_there_is_not_found(client: TestClient) -> None:
    for name in ("none.js", "../index.html", "%2e%2e/index.html"):
        assert client.get(f"/assets/{name}").status_code == 404


def test_the_shelf_stands_after_few_bytes_of_script() -> None:
    page = (WEB / "index.html").read_text()
    wanted = {*re.findall(r"assets/([\w-]+\.js)", page), next(ASSETS.glob("Shelf-*.js")).name}
    known: set[str] = set()
    while new := wanted - known:
        known |= new
        for name in new:  # what each fetches at once; what it fetches later is asked for as it is needed
            wanted |= set(re.findall(r'(?:from|import)"\./([\w-]+\.js)"', (ASSETS / name).read_text()))
    assert sum((ASSETS / f"{name}.br").stat().st_size for name in known) < MOST_SCRIPT
