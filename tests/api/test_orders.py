"""Orders to a lab that stands in: sent once however the line breaks, measured, refused with reasons, followed, printed again."""

import hashlib
import json
import signal
import subprocess
import sys
import time
from collections.abc import Iterator
from pathlib import Path

import httpx
import pytest
from fastapi.testclient import TestClient

from sutaru.api import order_desk
from sutaru.api.app import create_app
from sutaru.api.studio import Studio
from sutaru.command_line.main import main
from sutaru.core.document import LabSheet
from sutaru.core.errors import SutaruError
from sutaru.core.ordering import Address, Order, OrderFile, OrderLine
from sutaru.standins.faults import Faults
from sutaru.standins.lab import CURRENCY, FAULTS, PRICES, STEP_S, Lab, create_lab
from sutaru.work.http_line import HttpLine
from sutaru.work.sending import LabLine, NotSent
from tests.api.asking import Pile, bring, edit, ended, start, state
from tests.serving import free_port

TO = {
    "name": "Ola Brandvik", "street": "4 Pier Lane", "postcode": "SK4 2PL", "place": "Skerry Sands", "country": "GB",
}  # fmt: skip


class Running:
    """A lab in a process of its own."""

    def __init__(self, folder: Path, faults: str = "", clock: float = 1.0, port: int = 0) -> None:
        self.port = port or free_port()
        self.address = f"http://127.0.0.1:{self.port}"
        command = [sys.executable, "-m", "sutaru", "lab", "--port", str(self.port), "--data", str(folder)]
        self.process = subprocess.Popen(
            [*command, "--faults", faults, "--clock", str(clock)], stdout=subprocess.DEVNULL
        )
        line = LabLine(self.address)
        for _ in range(150):
            try:
                line.sheets()
                break
            except NotSent:
                time.sleep(0.1)
        line.close()

    def end(self) -> None:
        self.process.send_signal(signal.SIGKILL)
        self.process.wait()


@pytest.fixture
def lab(tmp_path: Path) -> Iterator[Running]:
    made = Running(tmp_path / "lab", clock=60)
    yield made
    made.end()


def exported(client: TestClient, pile: Pile) -> tuple[str, str]:
    """A job and an export of it."""
    job = start(client, "card-portrait")
    for path, _ in pile[:2]:
        bring(client, job, path)
    edit(client, job, op="fill")
    for layer in ("greeting", "names"):
        edit(client, job, op="write", sheet="inside", layer=layer, text="Hei")
    for finding in state(client, job)["findings"]:
        if finding["severity"] == "stop":
            named = [{key: finding[key] for key in ("rule", "layer", "sentence")}]
            edit(client, job, op="accept", sheet=finding["sheet"], findings=named, name="Ola", reason="a trial")
    task = client.post(f"/api/jobs/{job}/exports", json={"lab": "gullwing-300"}).json()["id"]
    assert ended(client, task)["state"] == "done"
    return job, task


def settled(client: TestClient, order: str, seconds: float = 30) -> dict:
    """An order once it is on its way no more."""
    end = time.monotonic() + seconds
    while time.monotonic() < end:
        found = next(one for one in client.get("/api/orders").json() if one["id"] == order)
        if found["state"] != "sending":
            return found
        time.sleep(0.1)
    raise AssertionError("still sending")


def test_an_order_goes_out_is_followed_and_printed_again(lab: Running, pile: Pile, tmp_path: Path) -> None:
    studio = Studio(tmp_path / "data", lab=lab.address)
    with TestClient(create_app(tmp_path / "data", opened=studio), base_url="http://localhost") as client:
        said = client.get("/api/lab").json()
        assert (said["reachable"], said["papers"][0]) == (True, "silk 170")
        job, task = exported(client, pile)
        lacking = client.post("/api/orders", json={"export": task, "to": {**TO, "street": ""}})
        assert (lacking.status_code, lacking.json()["sentence"]) == (409, "Say the street. Fill it in, then order.")
        made = client.post("/api/orders", json={"export": task, "to": TO, "paper": "silk 170", "copies": 25})
        assert made.status_code == 201, made.text
        order = settled(client, made.json()["id"])
        assert order["state"] in ("received", "checked"), order["message"]
        assert order["price"] == pytest.approx(PRICES["order"] + PRICES["page"] * 2 * 25)
        assert order["currency"] == CURRENCY
        assert not order["changed_since"]
        # The lab has the very files.
        for file in order["lines"][0]["files"]:
            there = tmp_path / "lab" / "files" / file["sha256"]
            assert hashlib.sha256(there.read_bytes()).hexdigest() == file["sha256"]
        assert edit(client, job, op="write", sheet="inside", layer="names", text="Other").status_code == 200
        again = client.post(f"/api/orders/{order['id']}/again")
        assert again.status_code == 201
        second = settled(client, again.json()["id"])
        assert second["again_of"] == order["id"]
        assert second["lines"] == order["lines"]  # exactly the files of then
        assert second["changed_since"]  # and that the job is another now is said
        assert len(list((tmp_path / "lab" / "orders").iterdir())) == 2
        assert client.post(f"/api/orders/{order['id']}/send").status_code == 404  # it is there already
        # A job that is damaged keeps nobody from the list of orders.
        with studio.database.transaction() as db:
            db.execute("UPDATE job SET head = 999 WHERE id = :id", {"id": job})
        with pytest.raises(SutaruError):
            studio.jobs.head(job)
        assert [one["job_name"] for one in client.get("/api/orders").json()] == ["Spread", "Spread"]
        assert client.post("/api/orders", json={"export": "nothing", "to": TO}).status_code == 404


def test_a_refusal_names_its_reasons(lab: Running, pile: Pile, tmp_path: Path) -> None:
    studio = Studio(tmp_path / "data", lab=lab.address)
    with TestClient(create_app(tmp_path / "data", opened=studio), base_url="http://localhost") as client:
        job = start(client, "card-portrait", lab="saltmarsh-250")
        sheet = client.get("/api/jobs/" + job).json()
        assert sheet["marks"]
        for layer in ("greeting", "names"):
            edit(client, job, op="write", sheet="inside", layer=layer, text="Hei")
        bring(client, job, pile[1][0])
        edit(client, job, op="fill")
        for finding in state(client, job)["findings"]:
            if finding["severity"] == "stop":
                named = [{key: finding[key] for key in ("rule", "layer", "sentence")}]
                edit(client, job, op="accept", sheet=finding["sheet"], findings=named, name="Ola", reason="a trial")
        task = client.post(f"/api/jobs/{job}/exports", json={"lab": "saltmarsh-250", "format": "png"}).json()["id"]
        assert ended(client, task)["state"] == "done"
        made = client.post("/api/orders", json={"export": task, "to": TO, "paper": "velvet 999"}).json()
        order = settled(client, made["id"])
        assert order["state"] == "refused"
        reasons = [reason["reason"] for reason in order["reasons"]]
        assert "There is no paper velvet 999 here." in reasons
        assert any("wants TIFF, not PNG" in reason for reason in reasons)
        assert order["reasons"][1]["page"] == "Outside"
        placed = [(reason["sheet"], reason["edition"]) for reason in order["reasons"]]
        assert {sheet for sheet, _ in placed} == {"", "outside", "inside"}  # where it is to be mended


def test_lab_sheets_are_taken_from_the_lab_and_editions_go_to_addresses_of_their_own(
    lab: Running, pile: Pile, tmp_path: Path
) -> None:
    studio = Studio(tmp_path / "data", lab=lab.address)
    with TestClient(create_app(tmp_path / "data", opened=studio), base_url="http://localhost") as client:
        here = {one["sheet"]["id"]: one["here"] for one in client.get("/api/lab").json()["sheets"]}
        assert (here["gullwing-300"], here["samphire-prints"]) == ("same", "no")
        assert client.post("/api/lab/sheets/nothing").status_code == 404
        taken = client.post("/api/lab/sheets/samphire-prints").json()
        assert taken["any_size"] is False
        assert "samphire-prints" in [sheet["id"] for sheet in client.get("/api/labs").json()]
        here = {one["sheet"]["id"]: one["here"] for one in client.get("/api/lab").json()["sheets"]}
        assert here["samphire-prints"] == "same"
        # An older one of the same id is another, and is replaced.
        studio.lab_sheets.keep(LabSheet.model_validate(taken).copy_with(ppi_target=250))
        here = {one["sheet"]["id"]: one["here"] for one in client.get("/api/lab").json()["sheets"]}
        assert here["samphire-prints"] == "other"
        client.post("/api/lab/sheets/samphire-prints")
        assert studio.catalogue.lab("samphire-prints").ppi_target == 300
        # A job for it, two editions, one of them sent elsewhere, on film.
        job = start(client, "card-portrait", lab="samphire-prints")
        bring(client, job, pile[1][0])
        edit(client, job, op="fill")
        for layer in ("greeting", "names"):
            edit(client, job, op="write", sheet="inside", layer=layer, text="Hei")
        edit(client, job, op="add_edition", id="holm", name="Holm", like="first")
        for own in ("first", "holm"):
            for finding in client.get(f"/api/jobs/{job}/findings", params={"edition": own}).json():
                if finding["severity"] == "stop":
                    named = [{key: finding[key] for key in ("rule", "layer", "sentence")}]
                    edit(
                        client,
                        job,
                        op="accept",
                        edition=own,
                        sheet=finding["sheet"],
                        findings=named,
                        name="Ola",
                        reason="x",
                    )
        task = client.post(f"/api/jobs/{job}/exports", json={"lab": "samphire-prints", "edition": "*"}).json()["id"]
        assert ended(client, task)["state"] == "done"
        holm = {**TO, "name": "Jette Holm", "street": ""}
        asked = {"export": task, "to": TO, "finish": "matt film", "each_to": {"Holm": holm}}
        lacking = client.post("/api/orders", json=asked)
        assert (lacking.status_code, lacking.json()["sentence"]) == (
            409,
            "Holm: Say the street. Fill it in, then order.",
        )
        holm["street"] = "9 Quay Road"
        order = settled(client, client.post("/api/orders", json=asked).json()["id"])
        assert order["state"] in ("received", "checked"), order
        assert [(line["finish"], line.get("to")) for line in order["lines"]] == [
            ("matt film", None),
            ("matt film", holm),
        ]


def test_a_drop_folder_is_a_lab_too(pile: Pile, tmp_path: Path) -> None:
    drop = tmp_path / "drop"
    drop.mkdir()
    there = Lab(tmp_path / "lab")
    there.look_into(drop)
    studio = Studio(tmp_path / "data", lab=f"folder:{drop}")
    with TestClient(create_app(tmp_path / "data", opened=studio), base_url="http://localhost") as client:
        assert client.get("/api/lab").json()["papers"][0] == "silk 170"
        _, task = exported(client, pile)
        order = settled(
            client, client.post("/api/orders", json={"export": task, "to": TO, "paper": "bark"}).json()["id"]
        )
        assert order["state"] == "received"
        there.look_into(drop)
        end = time.monotonic() + 20
        while (order := settled(client, order["id"]))["state"] != "refused":
            assert time.monotonic() < end
            time.sleep(0.2)
        assert "There is no paper bark here." in [reason["reason"] for reason in order["reasons"]]


@pytest.mark.parametrize("fails", ["opening the line", "sending"])
def test_what_nobody_foresaw_leaves_an_order_that_can_be_sent_again(
    fails: str, pile: Pile, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    real = order_desk.line_to

    def broken(address: str):
        if fails == "opening the line":
            raise ZeroDivisionError
        line = real(address)
        monkeypatch.setattr(line, "send", lambda *asked: 1 / 0)
        return line

    (tmp_path / "drop").mkdir()
    studio = Studio(tmp_path / "data", lab=f"folder:{tmp_path / 'drop'}")
    with TestClient(create_app(tmp_path / "data", opened=studio), base_url="http://localhost") as client:
        _, task = exported(client, pile)
        monkeypatch.setattr(order_desk, "line_to", broken)
        order = settled(client, client.post("/api/orders", json={"export": task, "to": TO}).json()["id"])
        assert order["state"] == "unsent"
        assert order["message"] == "It was not sent, for a reason that nobody foresaw. Send it again."
        monkeypatch.setattr(order_desk, "line_to", real)
        client.post(f"/api/orders/{order['id']}/send")
        assert settled(client, order["id"])["state"] not in ("unsent", "refused")


def test_a_lab_that_is_not_there_is_waited_for_and_the_order_sent_once(pile: Pile, tmp_path: Path) -> None:
    port = free_port()
    studio = Studio(tmp_path / "data", lab=f"http://127.0.0.1:{port}")
    with TestClient(create_app(tmp_path / "data", opened=studio), base_url="http://localhost") as client:
        assert not client.get("/api/lab").json()["reachable"]
        _, task = exported(client, pile)
        made = client.post("/api/orders", json={"export": task, "to": TO}).json()
        order = settled(client, made["id"])
        assert order["state"] == "unsent"
        assert "does not answer" in order["message"]
        lab = Running(tmp_path / "lab", "drop:2,full:1", port=port)
        try:
            assert client.post(f"/api/orders/{made['id']}/send").status_code == 200
            assert settled(client, made["id"])["state"] == "received"
            assert len(list((tmp_path / "lab" / "orders").iterdir())) == 1
        finally:
            lab.end()
        # It stands as it was told last while the lab is away.
        assert settled(client, made["id"])["state"] == "received"


# --- the line, without the application ---------------------------------------------------------------------------------


def an_order(folder: Path, size: int = 300_000) -> tuple[Order, dict[str, Path]]:
    paths = {}
    files = []
    for n in range(2):
        data = hashlib.sha256(str(n).encode()).digest() * (size // 32)
        sha = hashlib.sha256(data).hexdigest()
        paths[sha] = folder / f"{n}.bin"
        paths[sha].write_bytes(data)
        files.append(OrderFile(name=f"{n}.jpg", sha256=sha, bytes=len(data)))
    line = OrderLine(title="Kites", lab_sheet="gullwing-300", files=tuple(files))
    return Order(key="ab" * 16, reference="S-1", lines=(line,), to=Address(**TO)), paths


@pytest.mark.parametrize("faults", ["", "drop:3", "full:2", "slow:1", "drop:1,full:1,drop:1"])
def test_whatever_breaks_the_lab_has_it_once_and_whole(faults: str, tmp_path: Path) -> None:
    lab = Running(tmp_path / "lab", faults)
    order, paths = an_order(tmp_path)
    line = LabLine(lab.address)
    try:
        first = line.send(order, paths.__getitem__, lambda *told: None)
        second = line.send(order, paths.__getitem__, lambda *told: None)  # sent again, it is the same order
        assert first.id == second.id
        assert first.state == "refused"  # these are no pictures, and it says so
        assert all("cannot be read" in reason.reason for reason in first.reasons)
    finally:
        line.close()
        lab.end()
    for sha, path in paths.items():
        assert (tmp_path / "lab" / "files" / sha).read_bytes() == path.read_bytes()
    assert len(list((tmp_path / "lab" / "orders").iterdir())) == 1


def test_a_broken_piece_is_gone_on_with_and_nothing_is_sent_twice(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr("sutaru.work.sending.PAUSE_S", 0.0)
    lab = Lab(tmp_path / "lab")
    order, paths = an_order(tmp_path)
    came: list[tuple[str, int, bytes]] = []

    def answered(request: httpx.Request) -> httpx.Response:
        what, _, name = request.url.path.strip("/").partition("/")
        if what == "files" and request.method == "PUT":
            at, size = int(request.url.params["at"]), int(request.url.params["size"])
            data = request.read()
            came.append((name, at, data))
            if len(came) == 1:
                lab.put_piece(name, at, data[:100_001], size)  # so much arrives before the line breaks
                raise httpx.ReadError("broken")
            here, whole = lab.put_piece(name, at, data, size)
            return httpx.Response(200, json={"bytes": here, "whole": whole})
        if what == "files":
            here, whole = lab.has(name)
            return httpx.Response(200, json={"bytes": here, "whole": whole})
        if name:
            return httpx.Response(200, json=lab.submit(name.partition("/")[0]))
        return httpx.Response(201, json=lab.open(order))

    line = LabLine("http://lab", HttpLine("http://lab", httpx.MockTransport(answered)))
    line.send(order, paths.__getitem__, lambda *told: None)
    line.close()
    for name, at, data in came:
        assert data == paths[name].read_bytes()[at : at + len(data)]
    first = came[0][0]
    assert [at for name, at, _ in came if name == first] == [0, 100_001]
    assert len(came) == 3


def test_killed_on_its_way_it_is_sent_once_when_it_is_sent_again(tmp_path: Path) -> None:
    """The sender is killed in the middle of an upload; the next one goes on where it was."""
    lab = Running(tmp_path / "lab")
    order, paths = an_order(tmp_path, 24 << 20)
    (tmp_path / "order.json").write_text(order.model_dump_json())
    script = f"""
import json, sys, time
from pathlib import Path
from sutaru.core.ordering import Order
from sutaru.work.sending import LabLine
order = Order.model_validate_json(Path({str(tmp_path / "order.json")!r}).read_text())
paths = json.loads({json.dumps({sha: str(path) for sha, path in paths.items()})!r})
def tell(name, at, of):
    print(at, flush=True)
    time.sleep(0.2)
LabLine({lab.address!r}).send(order, lambda sha: Path(paths[sha]), tell)
"""
    sender = subprocess.Popen([sys.executable, "-c", script], stdout=subprocess.PIPE, text=True)
    assert sender.stdout is not None
    while int(sender.stdout.readline()) == 0:
        pass
    sender.send_signal(signal.SIGKILL)
    sender.communicate()
    line = LabLine(lab.address)
    told: list[int] = []
    try:
        half = line.ask_standing(order.key[:12])
        assert half.state == "open"  # not sent, and the lab says so
        assert line.send(order, paths.__getitem__, lambda name, at, of: told.append(at)).state == "refused"
        assert told[0] > 0 or len(half.missing) < 2  # it went on where it was
    finally:
        line.close()
        lab.end()
    assert len(list((tmp_path / "lab" / "orders").iterdir())) == 1


def test_states_follow_the_clock(tmp_path: Path) -> None:
    now = Lab(tmp_path / "a", clock=1.0)
    order, _ = an_order(tmp_path)
    told = now.open(order)
    found = now.order(told["id"])
    for past, wanted in (
        (0, "received"),
        (1.2, "checked"),
        (2.5, "printing"),
        (3.1, "cut"),
        (4.9, "packed"),
        (77, "sent"),
    ):
        seen = now.describe_order({**found, "state": "taken", "submitted": time.time() - past * STEP_S})
        assert seen["state"] == wanted
    quick = Lab(tmp_path / "b", clock=1000.0)
    quick.open(order)
    assert quick.describe_order({**found, "state": "taken", "submitted": time.time() - 2})["state"] == "cut"


def test_pieces_that_do_not_follow_and_other_files_are_not_taken(tmp_path: Path) -> None:
    lab = Lab(tmp_path)
    data = b"kites over the bay"
    sha = hashlib.sha256(data).hexdigest()
    assert lab.put_piece(sha, 0, data[:5], len(data)) == (5, False)
    with pytest.raises(SutaruError, match=r"5 bytes of this file are here\. Go on at 5\."):
        lab.put_piece(sha, 9, data[9:], len(data))
    assert lab.put_piece(sha, 5, data[5:], len(data)) == (len(data), True)
    other = hashlib.sha256(b"another").hexdigest()
    with pytest.raises(SutaruError, match="another file than was named"):
        lab.put_piece(other, 0, data, len(data))
    assert lab.has(other) == (0, False)
    with TestClient(create_lab(lab)) as client:
        assert client.get("/files/..%2f..%2fetc").status_code == 404
        assert client.get("/orders/none").status_code == 404
        assert client.put(f"/files/{sha}", params={"at": 9, "size": 3}, content=b"x").status_code == 409
    with pytest.raises(SutaruError, match="There is no fault fire"):
        Faults("fire:2", FAULTS)


def test_from_the_command_line(pile: Pile, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    lab = Running(tmp_path / "lab")
    try:
        bundle = tmp_path / "card.sutaru"
        assert main(["fill", "card-portrait", str(pile[0][0]), "-o", str(bundle)]) == 0
        capsys.readouterr()
        to = ["--to", lab.address, "--name", TO["name"], "--street", TO["street"]]
        to += ["--postcode", TO["postcode"], "--place", TO["place"], "--country", "gb", "--json"]
        assert main(["order", str(bundle), "--copies", "3", *to]) == 0
        first = json.loads(capsys.readouterr().out)
        assert first["state"] == "received"
        assert main(["order", str(bundle), "--copies", "3", "--key", first["key"], *to]) == 0
        assert json.loads(capsys.readouterr().out)["id"] == first["id"]
        # What can be asked before is asked before the export.
        assert main(["order", str(bundle), "--paper", "velvet", *to]) == 2
        assert "The lab has no paper velvet. Choose one of: silk 170" in capsys.readouterr().err
        assert main(["order", str(bundle), *to[:-1], "--postcode", "?"]) == 2
        assert "? is no postcode." in capsys.readouterr().err
        assert main(["order", str(bundle), *to[2:], "--to", f"http://127.0.0.1:{free_port()}"]) == 2
        assert "does not answer" in capsys.readouterr().err
    finally:
        lab.end()


def test_one_token_is_one_order_however_often_it_is_asked_for(lab: Running, pile: Pile, tmp_path: Path) -> None:
    studio = Studio(tmp_path / "data", lab=lab.address)
    with TestClient(create_app(tmp_path / "data", opened=studio), base_url="http://localhost") as client:
        _, task = exported(client, pile)
        asked = {"export": task, "to": TO, "token": "one-dialog"}
        first = client.post("/api/orders", json=asked).json()
        assert client.post("/api/orders", json=asked).json()["id"] == first["id"]  # while it is on its way
        settled(client, first["id"])
        assert client.post("/api/orders", json=asked).json()["id"] == first["id"]  # and when it has arrived
        other = client.post("/api/orders", json={**asked, "token": "another"}).json()["id"]
        assert other != first["id"]
        again = f"/api/orders/{first['id']}/again"
        second = client.post(again, json={"token": "a-press"}).json()["id"]
        assert client.post(again, json={"token": "a-press"}).json()["id"] == second
        # The same press on another order is another order.
        assert client.post(f"/api/orders/{other}/again", json={"token": "a-press"}).json()["id"] != second
        for order in client.get("/api/orders").json():
            settled(client, order["id"])
        assert len(client.get("/api/orders").json()) == len(list((tmp_path / "lab" / "orders").iterdir())) == 4


def test_an_order_is_cancelled_until_the_lab_has_begun_it(pile: Pile, tmp_path: Path) -> None:
    slow = Running(tmp_path / "lab", clock=0.001)
    studio = Studio(tmp_path / "data", lab=slow.address)
    with TestClient(create_app(tmp_path / "data", opened=studio), base_url="http://localhost") as client:
        _, task = exported(client, pile)
        made = [client.post("/api/orders", json={"export": task, "to": TO}).json()["id"] for _ in range(2)]
        first, second = (settled(client, identity) for identity in made)
        assert first["state"] == "received"
        gone = client.post(f"/api/orders/{first['id']}/cancel").json()
        assert gone["state"] == "cancelled"
        line = LabLine(slow.address)
        assert line.ask_standing(first["lab_order"]).state == "cancelled"  # the lab knows, and prints nothing
        assert (
            line.send(studio.orders.get(first["id"]).order, studio.orders.file, lambda *said: None).state == "cancelled"
        )
        line.close()
        assert client.post(f"/api/orders/{first['id']}/cancel").json()["state"] == "cancelled"
        # One that is begun is printed, and its customer hears so.
        Lab(tmp_path / "lab").backdate(second["lab_order"], time.time() - 1e9)
        refused = client.post(f"/api/orders/{second['id']}/cancel")
        assert (refused.status_code, refused.json()["sentence"]) == (
            422, "This order is being printed already. Ring up, and we shall see.",
        )  # fmt: skip
        slow.end()
        # One that never reached a lab is cancelled without it.
        unsent = settled(client, client.post("/api/orders", json={"export": task, "to": TO}).json()["id"])
        assert unsent["state"] == "unsent"
        assert client.post(f"/api/orders/{unsent['id']}/cancel").json()["state"] == "cancelled"
        # One that the lab may have is not, while the lab does not answer.
        studio.orders.set_standing(second["id"], "unsent", lab_order=second["lab_order"])
        assert "does not answer" in client.post(f"/api/orders/{second['id']}/cancel").json()["sentence"]


BAD = [
    ("reasons", '"xyz"'),
    ("reasons", json.dumps([{"number": "page 3", "reason": 7, "line": None}, "x", 5])),
    ("reasons", "{"),
    ("price", "free"),
    ("message", "\x00"),
    ("lab_order", "[1]"),
    ("document", "{}"),
]


def test_orders_that_hold_what_a_lab_once_said_open(pile: Pile, tmp_path: Path) -> None:
    """An earlier version stored answers as they came. What cannot be an order is left out; the others are there."""
    studio = Studio(tmp_path / "data", lab=f"http://127.0.0.1:{free_port()}")
    with TestClient(create_app(tmp_path / "data", opened=studio), base_url="http://localhost") as client:
        _, task = exported(client, pile)
        made = [client.post("/api/orders", json={"export": task, "to": TO}).json()["id"] for _ in range(len(BAD) + 1)]
        for identity in made:
            settled(client, identity)
        wanted = set(made)
        for identity, (column, value) in zip(made, BAD, strict=False):
            with studio.database.transaction() as db:
                db.execute(f"UPDATE print_order SET {column} = ? WHERE id = ?", [value, identity])
            if column == "document":
                wanted.discard(identity)
            answer = client.get("/api/orders")
            assert answer.status_code == 200, (column, value, answer.text)
            assert {order["id"] for order in answer.json()} == wanted, (column, value)
