"""The demo's orders: the thank-you cards as they were exported, printed on sheets, and ordered; an order at each state, one that
the lab refused, one that did not arrive."""

import json
import secrets
import time
from concurrent.futures import ThreadPoolExecutor
from datetime import datetime, timedelta
from pathlib import Path

from ..core.document import Job
from ..core.ordering import LAB_STATES, Address, Order, OrderFile, OrderLine
from ..core.paint import Assets, Painter
from ..core.photos import PhotoPixels
from ..core.press.exporting import EVERY, MANIFEST, export
from ..core.press.print_wishes import PrintWish
from ..core.press.printing import describe_print_files, print_sheets
from ..standins.lab import STEP_S, Lab
from ..store import Database, Orders, Photos, Tasks

CLOCK = 6.0  # how many times faster the demo's lab works than one of its own kind
TO = (
    Address(name="Ola Brandvik", street="4 Pier Lane", postcode="SK4 2PL", place="Skerry Sands", country="GB"),
    Address(name="Thessaly Moor", street="11 Dune Row", postcode="MH1 9DR", place="Marram Head", country="GB"),
    Address(
        name="Skerry Sands Parish Council",
        street="1 Church Steps",
        postcode="SK4 1CS",
        place="Skerry Sands",
        country="GB",
    ),
)


def make_orders(data: Path, database: Database, photos: Photos, assets: Assets, identity: str, job: Job) -> None:
    """Exports a job, and orders what was written."""
    tasks, orders = Tasks(database), Orders(database, data / "orders")
    made_at = datetime.now().astimezone()
    with ThreadPoolExecutor(2) as threads:
        painter = Painter(PhotoPixels(lambda photo: photos.path(photo.checksum)), threads)
        request = {"lab": job.lab.id, "edition": EVERY, "format": "jpeg", "number": 0}
        task = tasks.add("export", identity, request)
        folder = data / "exports" / task.id
        folder.mkdir(parents=True)
        tasks.begin(task.id)
        *files, manifest = export(job, folder, painter.pixels, made_at, painter=painter, assets=assets, edition=EVERY)
        manifest_data = json.loads(manifest.read_text("utf-8"))
        tasks.end(task.id, "done", "", manifest_data)
        _print_sheets(data, tasks, identity, job, painter, made_at, assets)
    for path, entry in zip(files, manifest_data["files"], strict=True):
        orders.keep(entry["sha256"], path)
    lines = []
    for edition in job.editions:
        of = [entry for entry in manifest_data["files"] if entry["edition"] == edition.name]
        named = tuple(
            OrderFile(name=entry["file"], sha256=entry["sha256"], bytes=entry["bytes"], page=entry["page"])
            for entry in of
        )
        lines.append(
            OrderLine(title=f"{job.name}, {edition.name}", lab_sheet=job.lab.id, files=named, copies=edition.copies,
                      paper="silk 170", finish="matt film")
        )  # fmt: skip
    lab = Lab(data / "lab", CLOCK)
    for n, state in enumerate((*LAB_STATES, "refused", "unsent")):
        when = made_at - timedelta(days=3 * (len(LAB_STATES) - n) if n < len(LAB_STATES) else 0, hours=n)
        line = lines[n % len(lines)]
        if state == "refused":  # a sheet that wants other formats, and a paper that is not there
            line = line.copy_with(lab_sheet="samphire-prints", paper="velvet 300")
        order = Order(
            key=secrets.token_hex(16), reference=job.order_number or job.name, lines=(line,), to=TO[n % len(TO)]
        )
        ordered = orders.add(identity, task.id, order, 0, made_at=when.isoformat(timespec="seconds"))
        if state == "unsent":
            orders.set_standing(ordered.id, "unsent", "The lab did not answer. Send it again: it takes it once.")
            continue
        past = (n + 0.2) * STEP_S / CLOCK if n < len(LAB_STATES) else 0.0
        answer = _order_at_lab(lab, orders, order, past)
        orders.set_standing(
            ordered.id,
            answer["state"],
            reasons=answer["reasons"],
            lab_order=answer["id"],
            price=answer["price"],
            currency=answer["currency"],
        )


def _order_at_lab(lab: Lab, orders: Orders, order: Order, past: float) -> dict:  # type: ignore[type-arg]
    """An order as it stands at a lab that has had it for so many seconds."""
    entry = lab.open(order)
    for sha in entry["missing"]:
        data = orders.file(sha).read_bytes()
        lab.put_piece(sha, 0, data, len(data))
    lab.submit(entry["id"])
    return lab.backdate(entry["id"], time.time() - past)


def _print_sheets(
    data: Path, tasks: Tasks, identity: str, job: Job, painter: Painter, made_at: datetime, assets: Assets
) -> None:
    """The cards of all editions on print sheets, both sides."""
    wish = PrintWish(width_mm=450, height_mm=320, duplex="long", copies=2, grain="width")
    request = {
        "lab": job.lab.id,
        "edition": EVERY,
        "format": "pdf",
        "number": 0,
        "sheets": wish.model_dump(mode="json"),
    }
    task = tasks.add("export", identity, request)
    folder = data / "exports" / task.id
    folder.mkdir(parents=True)
    tasks.begin(task.id)
    target = folder / "Thank-you-card-sheets.pdf"
    files, pages = print_sheets(job, target, wish, painter, made_at, assets)
    description = describe_print_files(files, wish, pages)
    (folder / MANIFEST).write_text(json.dumps(description, indent=1, ensure_ascii=False), "utf-8")
    tasks.end(task.id, "done", "", description)
