"""``sutaru order``: a job exported and sent to a lab as an order."""

import argparse
import hashlib
import json
import tempfile
from concurrent.futures import ThreadPoolExecutor
from contextlib import closing
from datetime import datetime
from pathlib import Path

from ..core.errors import NotFound
from ..core.formats.bundle import Bundle
from ..core.ordering import Address, Order, OrderFile, OrderLine, list_missing
from ..core.press.exporting import EVERY, export
from ..scripting.labs import find_lab
from ..scripting.photos import look_at_photos, painter_of
from ..work.answers import Offers
from ..work.dropping import line_to
from .screen import MARK, show_progress


def order(args: argparse.Namespace) -> int:
    """Exports a job and orders it; 1 when the lab refuses it. What can be asked before is asked before the export."""
    to = Address(name=args.name, street=args.street, postcode=args.postcode, place=args.place, country=args.country)
    if lacking := list_missing(to):
        raise NotFound(lacking[0], "Say it, then order.")
    with closing(line_to(args.to)) as line:
        _check_offered(line.sheets(), args)
    bundle = Bundle(Path(args.job))
    job = look_at_photos(bundle.job, bundle.original)
    job = job.copy_with(lab=find_lab(args.lab)) if args.lab else job
    with tempfile.TemporaryDirectory() as folder, ThreadPoolExecutor(2) as threads:
        painter = painter_of(bundle.original, threads)
        made_at = datetime.now().astimezone()
        *_, manifest = export(
            job, Path(folder), painter.pixels, made_at, painter=painter, assets=bundle.asset, edition=EVERY
        )
        manifest_data = json.loads(manifest.read_text("utf-8"))
        paths, lines = {}, []
        for edition in job.editions:
            files = []
            for entry in manifest_data["files"]:
                if entry["edition_id"] == edition.id:
                    paths[entry["sha256"]] = Path(folder) / entry["file"]
                    named = {key: entry[key] for key in ("sha256", "bytes", "page")}
                    files.append(OrderFile(name=entry["file"], **named))
            copies = args.copies or edition.copies
            lines.append(
                OrderLine(title=edition.name, lab_sheet=job.lab.id, files=tuple(files), copies=copies, paper=args.paper,
                          finish=args.finish, cover=args.cover)
            )  # fmt: skip
        lines_json = json.dumps([line.model_dump(mode="json") for line in lines]).encode()
        key = args.key or hashlib.sha256(lines_json).hexdigest()[:32]
        new_order = Order(key=key, reference=job.order_number or job.name, lines=tuple(lines), to=to)
        with closing(line_to(args.to)) as line:
            stands = line.send(new_order, lambda sha: paths[sha], show_progress)
    if args.json:
        print(json.dumps({**stands.model_dump(mode="json"), "key": key}, indent=1, ensure_ascii=False))
    else:
        price = "" if stands.price is None else f", {stands.price:.2f} {stands.currency}".rstrip()
        print(f"Order {stands.id}: {stands.state}{price}")
        for reason in stands.reasons:
            print(f"{MARK['stop']} {reason.file or reason.line}: {reason.reason}")
    return 1 if stands.state == "refused" else 0


def _check_offered(offers: Offers, args: argparse.Namespace) -> None:
    """Raises NotFound for what the lab does not offer."""
    for what, named, offered in (
        ("paper", args.paper, offers.papers), ("finish", args.finish, offers.finishes), ("cover", args.cover, offers.covers),
    ):  # fmt: skip
        if named and named not in offered:
            raise NotFound(f"The lab has no {what} {named}.", f"Choose one of: {', '.join(offered) or 'none'}.")
