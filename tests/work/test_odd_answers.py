"""Labs and printers that lie, stall, or never end: every answer is read within limits of size, time and tries, or refused in a
sentence; nothing raw is kept."""

import copy
import gzip
import hashlib
import json
import random
import socketserver
import threading
import time
from collections.abc import Callable, Iterator
from contextlib import closing, contextmanager
from pathlib import Path
from typing import Any

import httpx
import pytest
from pydantic import ValidationError

from sutaru.core.ordering import Address, Order, OrderFile, OrderLine
from sutaru.standins.lab import Lab
from sutaru.work import sending
from sutaru.work.answers import Offers, PrintJob, Standing, Trays
from sutaru.work.dropping import ANSWER, CANCEL, OFFERS, DropLine
from sutaru.work.http_line import MOST_BYTES, HttpLine, NoAnswer, OddAnswer
from sutaru.work.printing import NotPrinted, PrinterLine
from sutaru.work.sending import LabLine, NotSent
from tests.trial import times

TO = Address(name="Ola Brandvik", street="4 Pier Lane", postcode="SK4 2PL", place="Skerry Sands", country="GB")
ODD: tuple[Any, ...] = (
    None, True, 0, -1, 1e308, "NaN", "xyz", "free", "page 3", "", "\u0000\u202e", "x" * 5000, [], {}, [[]], [None], {"a": 1},
    ["x"] * 300, [{"reason": {"reason": "x"}}], "../../etc", "..",
)  # fmt: skip


class _Odd(socketserver.BaseRequestHandler):
    """Reads one request and does whatever the test says with its connection."""

    def handle(self) -> None:
        data = b""
        while b"\r\n\r\n" not in data:
            if not (more := self.request.recv(65536)):
                return
            data += more
        self.server.do(self.request)  # type: ignore[attr-defined]


@contextmanager
def answering(do: Callable[[Any], None]) -> Iterator[str]:
    class Server(socketserver.ThreadingTCPServer):
        allow_reuse_address = daemon_threads = True

        def handle_error(self, request: Any, client_address: Any) -> None:
            """Who hangs up on it is right."""

    with Server(("127.0.0.1", 0), _Odd) as server:
        server.do = do  # type: ignore[attr-defined]
        threading.Thread(target=server.serve_forever, daemon=True).start()
        yield f"http://127.0.0.1:{server.server_address[1]}"
        server.shutdown()


def _plain(body: bytes, status: str = "200 OK", more: str = "") -> Callable[[Any], None]:
    head = f"HTTP/1.1 {status}\r\nContent-Length: {len(body)}\r\nConnection: close\r\n{more}\r\n".encode()
    return lambda connection: connection.sendall(head + body)


def _endless(connection: Any) -> None:
    connection.sendall(b"HTTP/1.1 200 OK\r\nTransfer-Encoding: chunked\r\n\r\n")
    for _ in range(5000):
        connection.sendall(b"10000\r\n" + b" " * 65536 + b"\r\n")


def _drip(connection: Any) -> None:
    connection.sendall(b"HTTP/1.1 200 OK\r\nContent-Length: 900000\r\n\r\n")
    for _ in range(100):
        connection.sendall(b" ")
        time.sleep(0.1)


def _drip_header(connection: Any) -> None:
    connection.sendall(b"HTTP/1.1 200 OK\r\n")
    for n in range(100):
        connection.sendall(f"X-{n}: a\r\n".encode())
        time.sleep(0.1)


def _hang_up(connection: Any) -> None:
    connection.sendall(b"HTTP/1.1 200 OK\r\nContent-Length: 50\r\n\r\n{")


WAYS: dict[str, Callable[[Any], None]] = {
    "endless": _endless, "a byte at a time": _drip, "a header at a time": _drip_header, "hangs up": _hang_up,
    "packed": _plain(gzip.compress(b" " * (40 << 20)), more="Content-Encoding: gzip\r\n"),
    "elsewhere": _plain(b"", "302 Found", "Location: http://127.0.0.1:9/\r\n"), "nothing": _plain(b""),
    "a page": _plain(b"<html>Sign in</html>"), "an error page": _plain(b"<html>Oh</html>", "500 No"),
    "an odd error": _plain(b'{"sentence": 5, "remedy": []}', "409 No"), "deep": _plain(b"[" * 100_000),
    "no HTTP": lambda connection: connection.sendall(b"\xff" * 500), "no UTF-8": _plain(b'{"id": "\xff\xfe"}'),
}  # fmt: skip


@pytest.mark.parametrize("way", list(WAYS))
def test_whatever_a_lab_or_a_printer_does_it_is_a_sentence_in_time(way: str, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("sutaru.work.printing.ASK_S", 1.0)
    with answering(WAYS[way]) as address, closing(LabLine(address)) as line:
        for ask in (
            lambda: line.sheets(1.0), lambda: line.ask_standing("abc", 1.0), lambda: line.cancel("abc", 1.0),
            lambda: PrinterLine(address).trays(), lambda: PrinterLine(address).job("0" * 12),
        ):  # fmt: skip
            since = time.monotonic()
            with pytest.raises((NotSent, NotPrinted)) as refused:
                ask()
            assert time.monotonic() - since < 8
            assert str(refused.value).endswith(".")


def test_an_answer_has_a_size_and_a_time() -> None:
    with answering(_endless) as address, closing(HttpLine(address)) as line, pytest.raises(OddAnswer, match="4 MB"):
        line.fetch("GET", "/", 20.0, MOST_BYTES)
    with answering(_drip) as address, closing(HttpLine(address)) as line:
        since = time.monotonic()
        with pytest.raises(NoAnswer, match="in time"):
            line.fetch("GET", "/", 0.7)
        assert time.monotonic() - since < 4


def _order(folder: Path, count: int = 1) -> tuple[Order, dict[str, Path]]:
    data = b"kites over the bay" * 1000
    sha = hashlib.sha256(data).hexdigest()
    (folder / "a.bin").write_bytes(data)
    files = tuple(OrderFile(name=f"kite-{n}.jpg", sha256=sha, bytes=len(data), page=f"{n}") for n in range(count))
    line = OrderLine(title="Kites", lab_sheet="gullwing-300", files=files)
    return Order(key="cd" * 16, reference="S-1", lines=(line,), to=TO), {sha: folder / "a.bin"}


SOUND = {"id": "cdcdcdcdcdcd", "state": "open", "reasons": [], "missing": [], "price": 3.5, "bytes": 0, "whole": True}


def _mangled(by: random.Random, sound: dict[str, Any]) -> dict[str, Any]:
    """A sound answer with one to three of its values made odd."""
    found = json.loads(json.dumps(sound))
    for _ in range(by.randint(1, 3)):
        name = by.choice(sorted(found))
        if by.random() < 0.15:
            del found[name]
            if not found:
                return found
        elif isinstance(found[name], list) and found[name] and by.random() < 0.6:
            entry = by.randrange(len(found[name]))
            if isinstance(found[name][entry], dict) and found[name][entry]:
                found[name][entry][by.choice(sorted(found[name][entry]))] = copy.deepcopy(by.choice(ODD))
            else:
                found[name][entry] = copy.deepcopy(by.choice(ODD))
        else:
            found[name] = copy.deepcopy(by.choice(ODD))
    return found


def test_odd_values_at_every_call(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """An order is sent to a lab each of whose answers may be odd: it ends, in a standing that can be kept or in a sentence."""
    monkeypatch.setattr(sending, "PAUSE_S", 0.0)
    order, paths = _order(tmp_path)
    (sha,) = paths
    by = random.Random(20261130)
    ended: dict[str, int] = {"stands": 0, "refused": 0}
    for _ in range(times(150, 2000)):
        calls = 0

        def answered(request: httpx.Request) -> httpx.Response:
            nonlocal calls
            calls += 1
            path = request.url.path
            if path.startswith("/files/"):
                sound: dict[str, Any] = {"bytes": by.choice((0, 5, 18_000, 99_999)), "whole": by.random() < 0.4}
            else:
                reason = {"line": "Kites", "file": "kite-0.jpg", "page": "0", "number": "1", "reason": "Too small."}
                state = "refused" if path.endswith("/submit") else "open"
                sound = {**SOUND, "state": state, "reasons": [reason, reason], "missing": [sha]}
            made = _mangled(by, sound) if by.random() < 0.5 else sound
            return httpx.Response(by.choice((200, 200, 200, 200, 409, 500)), content=json.dumps(made).encode())

        line = LabLine("http://lab", HttpLine("http://lab", httpx.MockTransport(answered)))
        try:
            told = line.send(order, paths.__getitem__, lambda *said: None)
            Standing.model_validate(told.model_dump())
            assert told.price is None or told.price >= 0
            assert len(told.currency) in (0, 3)
            json.dumps(told.model_dump(mode="json"), allow_nan=False)
            ended["stands"] += 1
        except NotSent as refused:
            assert str(refused).endswith((".", "!", "?")) or len(str(refused)) > 200, str(refused)
            ended["refused"] += 1
        finally:
            line.close()
        assert calls < 200
    assert min(ended.values()) > 5


def test_a_lab_that_takes_a_piece_again_and_again_is_given_up(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(sending, "PAUSE_S", 0.0)
    order, paths = _order(tmp_path)
    (sha,) = paths
    puts = 0

    def answered(request: httpx.Request) -> httpx.Response:
        nonlocal puts
        puts += request.method == "PUT"
        if request.url.path.startswith("/files/"):
            return httpx.Response(200, json={"bytes": 0, "whole": False})
        return httpx.Response(200, json={**SOUND, "missing": [sha]})

    line = LabLine("http://lab", HttpLine("http://lab", httpx.MockTransport(answered)))
    with closing(line), pytest.raises(NotSent, match="took a piece of a file and has no more of it"):
        line.send(order, paths.__getitem__, lambda *said: None)
    assert puts == sending.TRIES


@pytest.mark.parametrize("seed", range(4))
def test_odd_offers_and_print_jobs_are_read_or_refused(seed: int, tmp_path: Path) -> None:
    by = random.Random(seed)
    offers = Lab(tmp_path / "lab").offers()
    job = {"id": "0" * 12, "tray": "1", "media": "coated 170", "copies": 1, "sheets": 2, "printed": 1, "state": "stopped",
           "why": "Jam.", "notes": ["A quarter turned."], "files": ["sheet-001-front.png"]}  # fmt: skip
    tray = {
        "name": "1",
        "width_mm": 450,
        "height_mm": 320,
        "media": "x",
        "sheets": 5,
        "profile": "grey",
        "duplex": True,
    }
    for model, sound in ((Offers, offers), (PrintJob, job), (Trays, {"trays": [tray, tray], "margin_mm": 4})):
        for _ in range(times(60, 600)):
            body = json.dumps(_mangled(by, sound)).encode()
            try:
                told = model.model_validate_json(body)  # type: ignore[attr-defined]
            except ValueError:
                continue
            json.dumps(told.model_dump(mode="json"), allow_nan=False)


def test_of_a_lab_s_sheets_those_that_can_be_read_count(tmp_path: Path) -> None:
    offers = Lab(tmp_path).offers()
    offers["sheets"][0]["ppi_target"] = "many"
    offers["sheets"].append("nothing")
    told = Offers.model_validate_json(json.dumps(offers))
    assert [sheet.id for sheet in told.sheets] == [sheet["id"] for sheet in offers["sheets"][1:-1]]
    assert told.unread[offers["sheets"][0]["id"]] == (
        "The ppi target must be a whole number."
    )  # fmt: skip
    assert len(told.unread) == 2


def test_reasons_are_read_one_by_one() -> None:
    said = {
        "id": "a",
        "state": "refused",
        "reasons": [{"reason": "Too small.", "number": "page 3"}, "xyz", {"number": 2}],
    }
    told = Standing.model_validate_json(json.dumps(said))
    assert [(one.reason, one.number) for one in told.reasons] == [("Too small.", 0), ("", 2)]
    for odd in ({**said, "reasons": "xyz"}, {**said, "price": "free"}, {**said, "price": -1}, {**said, "state": "lost"},
                {**said, "id": ".."}, {**said, "id": "a/b"}):  # fmt: skip
        with pytest.raises(ValidationError):
            Standing.model_validate_json(json.dumps(odd))


@pytest.mark.parametrize(
    ("said", "read"), [("GBP", "GBP"), ("eur", "EUR"), ("pounds", ""), (3, ""), (None, ""), ("£££", "")]
)
def test_a_currency_is_three_letters_or_none(said: object, read: str) -> None:
    assert Standing.model_validate({"state": "sent", "price": 4, "currency": said}).currency == read


# --- the drop folder -------------------------------------------------------------------------------------------------


def test_two_sheets_that_are_the_same_picture_arrive_as_two_files(tmp_path: Path) -> None:
    drop, lab = tmp_path / "drop", Lab(tmp_path / "lab")
    drop.mkdir()
    order, paths = _order(tmp_path, 3)
    line = DropLine(drop)
    told = line.send(order, paths.__getitem__, lambda *said: None)
    own = drop / told.id
    assert sorted(path.name for path in own.glob("*.jpg")) == ["kite-0.jpg", "kite-1.jpg", "kite-2.jpg"]
    lab.look_into(drop)
    assert "is not in this folder" not in (own / ANSWER).read_text()
    # The lab misses a file that the ticket names.
    (own / "kite-1.jpg").unlink()
    Lab(tmp_path / "another").look_into(drop)
    assert "The file kite-1.jpg is not in this folder." in (own / ANSWER).read_text()
    # Two different files of one name would be one: that is said before anything is laid in.
    (line_of,) = order.lines
    other = line_of.files[0].copy_with(sha256="0" * 64, name="KITE-1.jpg")
    clash = order.copy_with(key="ef" * 16, lines=(line_of.copy_with(files=(*line_of.files, other)),))
    with pytest.raises(NotSent, match="Two files of this order are called"):
        line.send(clash, paths.__getitem__, lambda *said: None)
    assert not (drop / ("ef" * 6)).exists()


def test_odd_files_of_a_lab_in_a_drop_folder(tmp_path: Path) -> None:
    drop, lab = tmp_path / "drop", Lab(tmp_path / "lab")
    drop.mkdir()
    order, paths = _order(tmp_path)
    line = DropLine(drop)
    own = drop / line.send(order, paths.__getitem__, lambda *said: None).id
    for odd in (
        b"{",
        b"[]",
        b"\xff",
        b'{"state": "lost"}',
        b" " * (MOST_BYTES + 9),
        b'{"state": "refused", "reasons": "xyz"}',
    ):
        (own / ANSWER).write_bytes(odd)
        (drop / OFFERS).write_bytes(odd)
        with pytest.raises(NotSent, match="cannot be understood"):
            line.ask_standing(own.name)
        with pytest.raises(NotSent):
            line.sheets()
    (own / ANSWER).unlink()
    lab.look_into(drop)
    assert line.ask_standing(own.name).state in ("refused", "received")


def test_an_order_in_a_drop_folder_is_cancelled_until_it_is_begun(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    drop, lab = tmp_path / "drop", Lab(tmp_path / "lab")
    monkeypatch.setattr(lab, "_reasons", lambda order: [])
    drop.mkdir()
    order, paths = _order(tmp_path)
    line = DropLine(drop)
    own = drop / line.send(order, paths.__getitem__, lambda *said: None).id
    with pytest.raises(NotSent, match="has not said yet"):
        line.cancel(own.name, 0.2)
    lab.look_into(drop)
    assert line.ask_standing(own.name).state == "cancelled"
    assert not (own / CANCEL).exists()
    begun = order.copy_with(key="ab" * 16)
    own = drop / line.send(begun, paths.__getitem__, lambda *said: None).id
    lab.look_into(drop)
    lab.backdate(own.name, time.time() - 5000)
    lab.look_into(drop)
    threading.Timer(0.4, lab.look_into, [drop]).start()
    with pytest.raises(NotSent, match="The lab has begun this order"):
        line.cancel(own.name, 5.0)
    assert line.ask_standing(own.name).state not in ("cancelled", "received")
