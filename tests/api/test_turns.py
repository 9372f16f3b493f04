"""Pictures are painted in turn, and only for those who still wait."""

import asyncio
from pathlib import Path

import pytest
from fastapi.testclient import TestClient

from sutaru.api.app import create_app
from sutaru.api.turns import GONE, NobodyWaits, Turns
from tests.api.asking import Pile, filled_job, head


class Asker:
    """A request whose asker goes at once, or stays."""

    def __init__(self, gone: bool) -> None:
        self._gone = gone

    async def is_disconnected(self) -> bool:
        return self._gone


def test_only_so_many_at_a_time_and_nothing_for_who_has_gone() -> None:
    painting = most = 0
    painted: list[int] = []

    def paint(number: int) -> int:
        nonlocal painting, most
        painting += 1
        most = max(most, painting)
        painted.append(number)
        painting -= 1
        return number

    async def ask() -> list[object]:
        turns = Turns(1)
        asked = [turns.paint(Asker(gone=number % 2 == 1), lambda number=number: paint(number)) for number in range(6)]  # type: ignore[arg-type]
        return await asyncio.gather(*asked, return_exceptions=True)

    answers = asyncio.run(ask())
    assert [answer for answer in answers if not isinstance(answer, NobodyWaits)] == painted == [0, 2, 4]
    assert most == 1


@pytest.mark.parametrize("gone", [True, False])
def test_a_picture_is_not_painted_for_a_request_that_was_given_up(tmp_path: Path, pile: Pile, gone: bool) -> None:
    app = create_app(tmp_path, ("testserver",))
    with TestClient(app) as client:
        key = head(client, filled_job(client, "card-portrait", pile[:2]))["marks"][0]["key"]
        painted: list[object] = []
        sheets = app.state.studio.sheets
        real = sheets.paint
        sheets.paint = lambda *asked, **more: painted.append(asked) or real(*asked, **more)
        sent: list[dict] = []

        async def receive() -> dict:
            if not gone:
                await asyncio.sleep(60)
            return {"type": "http.disconnect"}

        async def send(message: dict) -> None:
            sent.append(message)

        scope = {
            "type": "http", "method": "GET", "path": f"/api/drawn/{key}/picture", "query_string": b"width=333",
            "headers": [(b"host", b"testserver")], "http_version": "1.1", "scheme": "http", "client": ("127.0.0.1", 1),
            "server": ("testserver", 80), "root_path": "", "raw_path": b"", "app": app, "state": {},
        }  # fmt: skip
        client.portal.call(app, scope, receive, send)  # type: ignore[union-attr]
    assert sent[0]["status"] == (GONE if gone else 200)
    assert bool(painted) is not gone
