"""A job open on the bench and what is stored of it; gestures, counted."""

import time
from dataclasses import dataclass
from pathlib import Path

from playwright.sync_api import APIResponse, Locator, Page, expect

from sutaru.core.document import Photo
from tests.api import asking
from tests.browser.acting import drag

Pile = list[tuple[Path, Photo]]
GESTURES = Path(__file__).parent.parent.parent / "docs" / "gestures.md"


class Asked:
    """The page's own requests, as the tests of the API ask."""

    def __init__(self, page: Page) -> None:
        self._request = page.request

    def get(self, path: str, params: dict | None = None) -> "Answer":
        return Answer(self._request.get(path, params=params))

    def post(self, path: str, json: object) -> "Answer":
        return Answer(self._request.post(path, data=json))


class Answer:
    def __init__(self, answer: APIResponse) -> None:
        self.status_code, self.json = answer.status, answer.json


@dataclass
class Given:
    """A job made through the API, open on the bench."""

    page: Page
    id: str

    def state(self) -> dict:
        """What is stored, once everything done on the page is."""
        expect(self.page.locator("[data-kept=true]")).to_be_attached()
        return asking.state(Asked(self.page), self.id)

    def edit(self, **edit: object) -> None:
        answer = asking.edit(Asked(self.page), self.id, **edit)
        assert answer.status_code == 200, answer.json()

    def layout(self) -> str:
        """Name of the first sheet's layout."""
        sheets = asking.part(Asked(self.page), "sheets", self.state()["job"]["sheets"])["sheets"]
        return sheets[0]["layout"]

    def layers(self) -> list[dict]:
        """Of the first sheet, bottom first."""
        return asking.part(Asked(self.page), "layouts", self.layout())["layers"]

    def layer(self, identity: str) -> dict:
        return next(layer for layer in self.layers() if layer["id"] == identity)

    def places(self) -> dict:
        """Where openings and echoes lie, by the same numbers as the ledger's rows."""
        return self.page.request.get(f"/api/layouts/{self.layout()}/places").json()

    def placements(self) -> dict:
        """How photos lie, by opening, as the ledger tells it."""
        return {row["opening"]: row["placement"] for row in self.state()["rows"] if row["placement"]}

    def photo_tones(self) -> dict:
        return self.state()["edition_part"].get("photo_tones", {})

    def own_tones(self) -> dict:
        """How openings mend what they show, by opening."""
        return {o: tone for filling in self.state()["fillings"].values() for o, tone in filling["tones"].items()}


class Counted:
    """Mouse and keys, each press or pull one gesture."""

    def __init__(self, page: Page) -> None:
        self.page, self.count, self.start = page, 0, time.monotonic()

    def click(self, where: Locator | tuple[float, float], modifier: str | None = None) -> None:
        self.count += 1
        if isinstance(where, tuple):
            self.page.mouse.click(*where)
        else:
            where.click(modifiers=[modifier] if modifier else None)  # type: ignore[list-item]

    def press(self, key: str) -> None:
        self.count += 1
        self.page.keyboard.press(key)

    def pull(self, start: tuple[float, float], end: tuple[float, float]) -> None:
        self.count += 1
        drag(self.page, start, end)

    def check(self, what: str) -> None:
        """The count is what the documentation says."""
        seconds = time.monotonic() - self.start
        print(f"{what}: {self.count} gestures, {seconds:.1f} s by machine")
        (row,) = [line for line in GESTURES.read_text("utf-8").splitlines() if line.startswith(f"| {what} |")]
        assert int(row.split("|")[2]) == self.count, f"docs/gestures.md is out of date: {what} takes {self.count}"
