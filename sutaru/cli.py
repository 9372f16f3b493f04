"""The command line: the same job as in the browser, on bundles. Errors go to stderr in one sentence, exit code 2.

This module is the grammar only; what a command needs is imported when it runs, so that asking costs nothing.
"""

import argparse
import io
import os
import sys
from collections.abc import Callable, Sequence
from importlib import import_module
from typing import Any


def _number(low: float, high: float) -> Callable[[str], float]:
    """Reads a number from ``low`` to ``high``."""

    def read(text: str) -> float:
        try:
            value = float(text.replace(",", "."))
        except ValueError:
            value = float("nan")
        if not low <= value <= high:  # nan is neither
            raise argparse.ArgumentTypeError(f"{text!r} is no number from {low:g} to {high:g}")
        return value

    return read


def _count(low: int, high: int) -> Callable[[str], int]:
    """Reads a whole number from ``low`` to ``high``."""

    def read(text: str) -> int:
        if not text.strip().removeprefix("-").isdecimal() or len(text) > 12 or not low <= int(text) <= high:
            raise argparse.ArgumentTypeError(f"{text!r} is no whole number from {low} to {high}")
        return int(text)

    return read


def _text(most: int) -> Callable[[str], str]:
    """Reads words of at most so many letters."""

    def read(text: str) -> str:
        if len(text) > most or not text.isprintable():
            raise argparse.ArgumentTypeError(f"this is longer than {most} letters, or cannot be printed")
        return text

    return read


_ppi, _share = _number(1, 1200), _number(0, 1)
_port, _copies = _count(0, 65535), _count(1, 100_000)


class _Parser(argparse.ArgumentParser):
    def error(self, message: str) -> None:  # type: ignore[override]
        print(f"sutaru: {message}. See: {self.prog} --help", file=sys.stderr)
        raise SystemExit(2)


def parser() -> argparse.ArgumentParser:
    """The command line's grammar. Each command names the function of ``commands`` that does it."""
    top = _Parser(prog="sutaru", description="Fits photos into layered print templates and exports print-ready files.")
    commands = top.add_subparsers(dest="command", required=True, parser_class=_Parser)

    def command(name: str, run: str, what: str) -> argparse.ArgumentParser:
        sub = commands.add_parser(name, help=what, description=what)
        sub.set_defaults(run=run)
        return sub

    sub = command("shelf", "listing.shelf", "Lists the templates.")
    sub.add_argument("--json", action="store_true")
    _templates(commands)
    sub = command(
        "read", "templating.read", "Reads a file (PNG, JPEG, TIFF, WebP, SVG, OpenRaster, PDF) into a template."
    )
    sub.add_argument("file", metavar="FILE")
    sub.add_argument("-o", dest="out", metavar="TEMPLATE.sutaru-template", required=True)
    sub.add_argument("--size", type=_size, metavar="12x12in", help="else as the file says")
    sub.add_argument("--name", metavar="NAME", type=_text(120))
    sub.add_argument("--areas", type=_areas, metavar="holes|flat|none|#rrggbb")
    sub.add_argument("--guide", action="store_true", help="lay it as a guide to draw on, which never prints")
    sub.add_argument("--json", action="store_true")
    sub = command("fill", "commands.fill", "Makes a bundle from a template and photos.")
    sub.add_argument("template", metavar="TEMPLATE", help="an id of the shelf, or a .sutaru-template file")
    sub.add_argument("photos", metavar="PHOTO", nargs="+")
    sub.add_argument("-o", dest="out", metavar="JOB.sutaru", required=True)
    sub.add_argument("--lab", metavar="ID", default="gullwing-300")
    sub = command("calendar", "calendaring.calendar", "Makes a calendar's bundle from a template and photos.")
    sub.add_argument("template", metavar="TEMPLATE", help="an id of the shelf, or a .sutaru-template file")
    sub.add_argument("photos", metavar="PHOTO", nargs="*")
    sub.add_argument("-o", dest="out", metavar="JOB.sutaru", required=True)
    sub.add_argument("--from", dest="first", metavar="2027-01", type=_month, required=True)
    sub.add_argument("--months", type=_count(1, 18), metavar="N", default=12)
    sub.add_argument("--locale", metavar="de_DE", default="en_GB")
    sub.add_argument("--country", metavar="DE", default="", type=_country, help="whose holidays count")
    sub.add_argument("--region", metavar="BY", default="", type=_text(10))
    sub.add_argument("--more-holidays", action="store_true", help="also days that many there keep, though not all must")
    sub.add_argument("--dates", metavar="FILE.csv|FILE.ics", help="dates of the customer's own")
    sub.add_argument(
        "--date-order", choices=["day", "month"], help="which comes first in 06/07/1999, where the file does not tell"
    )
    sub.add_argument("--leap", choices=["before", "after", "only"], default="before", help="29 February in other years")
    sub.add_argument("--by-month", action="store_true", help="photos on the month they were taken in")
    sub.add_argument("--lab", metavar="ID", default="gullwing-300")
    sub = command("book", "booking.book", "Makes a book's bundle from a theme or a template and photos.")
    sub.add_argument(
        "look", metavar="TEMPLATE_OR_THEME", help="a theme or template of the shelf, or a .sutaru-template file"
    )
    sub.add_argument("photos", metavar="PHOTO", nargs="+")
    sub.add_argument("-o", dest="out", metavar="JOB.sutaru", required=True)
    sub.add_argument("--pages", type=_count(2, 1000), metavar="N", help="else as many as the photos ask for")
    sub.add_argument("--size", type=_size, metavar="12x12in", help="of a page; else the lab's first")
    sub.add_argument(
        "--order", choices=["time", "given"], default="time", help="photos by capture time, or as they are given"
    )
    sub.add_argument("--per-page", type=_number(0.5, 20), metavar="N", default=3.0, help="photos on a page, about")
    sub.add_argument("--photos-laid", type=_count(1, 100_000), metavar="N", help="those that tell most; else all")
    sub.add_argument(
        "--cropping",
        type=_number(0, 0.3),
        metavar="0..0.3",
        default=0.1,
        help="how much of a photo may be cut; 0 for nothing",
    )
    sub.add_argument("--white", type=_share, metavar="0..1", default=0.4, help="how much paper stays white")
    sub.add_argument("--lively", type=_share, metavar="0..1", default=0.4, help="how unlike pages may be")
    sub.add_argument("--keep-likes", action="store_true", help="lay photos that are nearly others too")
    sub.add_argument(
        "--keep-spoilt", action="store_true", help="lay photos that are too dark, burnt out or blurred too"
    )
    sub.add_argument("--paper", metavar="ID")
    sub.add_argument("--binding", metavar="ID")
    sub.add_argument("--title", metavar="TEXT", type=_text(500))
    sub.add_argument("--locale", metavar="de_DE", default="en_GB")
    sub.add_argument("--lab", metavar="ID", default="gullwing-300")
    sub.add_argument("--json", action="store_true")
    sub = command("check", "commands.check", "Prints the findings; 1 when one is a stop.")
    sub.add_argument("job", metavar="JOB.sutaru|TEMPLATE")
    sub.add_argument("--json", action="store_true")
    sub = command("export", "commands.export", "Writes the print files.")
    sub.add_argument("job", metavar="JOB.sutaru")
    sub.add_argument("-o", dest="out", metavar="DIR", required=True)
    sub.add_argument("--format", choices=["jpeg", "png", "tiff", "pdf", "ora"])
    sub.add_argument("--lab", metavar="ID")
    sub.add_argument("--standard", choices=["x4", "plain"], help="of PDFs; else as the lab sheet says")
    sub.add_argument("--profile", metavar="ID|FILE.icc", help="the press: fogra39, tr006, grey, or a lab's own file")
    sub.add_argument("--sharpen", choices=["none", "low", "standard", "high"], help="else as the lab sheet says")
    sub.add_argument("--live", action="store_true", help="layers lie on one another in PDFs, not in one picture")
    sub.add_argument("--bits", type=int, choices=[8, 16], help="a channel, of TIFFs; else as the lab sheet says")
    sub.add_argument("--edition", metavar="NAME|all", default="", help="else the first")
    sub.add_argument("--transparent", action="store_true")
    sub.add_argument("--accepted-by", metavar="NAME", help="who accepts the stops that there are, with --reason")
    sub.add_argument("--reason", metavar="TEXT", help="why the stops are accepted; it goes into the manifest")
    sub = command("contact", "commands.contact", "Makes a contact sheet's bundle: all photos small, with their names.")
    sub.add_argument("photos", metavar="PHOTO", nargs="+")
    sub.add_argument("-o", dest="out", metavar="JOB.sutaru", required=True)
    sub.add_argument("--sheet", type=_size, metavar="210x297mm", default=(210.0, 297.0))
    sub.add_argument("--columns", type=_count(1, 20), metavar="N", default=5)
    sub.add_argument("--lab", metavar="ID", default="gullwing-300")
    sub = command("impose", "imposing.impose", "Lays a job's pages on print sheets, with marks, as a PDF.")
    sub.add_argument("job", metavar="JOB.sutaru")
    sub.add_argument("-o", dest="out", metavar="FILE.pdf|FILE.jpg", required=True, help="pictures are numbered")
    sub.add_argument("--sheet", type=_size, metavar="450x320mm", required=True)
    sub.add_argument("--copies", type=_copies, metavar="N", help="of each piece; else as many as each edition says")
    sub.add_argument("--duplex", choices=["long", "short"], help="print backs, the sheet turned over about that edge")
    sub.add_argument(
        "--margin", type=_number(0, 200), metavar="MM", default=5.0, help="where the printer does not print"
    )
    sub.add_argument("--gap", type=_number(0, 200), metavar="MM", help="between pieces; else twice the bleed")
    sub.add_argument("--grain", choices=["width", "height"], help="along which side of the sheet its fibres run")
    sub.add_argument(
        "--piece-grain", choices=["any", "along", "across"], default="any", help="along a piece's height or across"
    )
    sub.add_argument("--booklet", action="store_true", help="pages two by two, to be folded and stapled")
    sub.add_argument(
        "--signature", type=_count(0, 500), metavar="N", default=0, help="sheets of a booklet folded together; else all"
    )
    sub.add_argument(
        "--creep", type=_number(0, 5), metavar="MM", default=0.0, help="how far each sheet further in moves to the fold"
    )
    sub.add_argument("--lab", metavar="ID")
    sub.add_argument("--json", action="store_true")
    sub = command(
        "batch", "batching.batch", "Makes and exports an edition for each row of a list; 1 when one was left out."
    )
    sub.add_argument("job", metavar="JOB.sutaru|TEMPLATE")
    sub.add_argument("list", metavar="LIST.csv|LIST.xlsx|FOLDER", help="or a folder with a folder for each customer")
    sub.add_argument("--photos", metavar="FOLDER", help="where the photos lie that the list names")
    sub.add_argument("-o", dest="out", metavar="DIR", required=True)
    sub.add_argument("--format", choices=["jpeg", "png", "tiff", "pdf"])
    sub.add_argument("--lab", metavar="ID")
    sub.add_argument("--json", action="store_true")
    sub = command(
        "verify", "verifying.verify", "Reads a print file back; 1 when something is against its standard or the lab."
    )
    sub.add_argument("file", metavar="FILE.pdf|jpg|tif|png")
    sub.add_argument("--lab", metavar="ID", help="hold it against this lab sheet as well")
    sub.add_argument("--json", action="store_true")
    sub = command("render", "commands.render", "Writes one page as the bench shows it.")
    sub.add_argument("job", metavar="JOB.sutaru|TEMPLATE")
    sub.add_argument("--page", type=_count(1, 100_000), metavar="N", required=True)
    sub.add_argument("--ppi", type=_ppi, metavar="P", required=True)
    sub.add_argument("-o", dest="out", metavar="FILE.png", required=True)
    sub = command("write", "templating.write", "Writes one page for other programs: SVG, OpenRaster or PNG.")
    sub.add_argument("job", metavar="JOB.sutaru|TEMPLATE")
    sub.add_argument("-o", dest="out", metavar="FILE.svg|FILE.ora|FILE.png", required=True)
    sub.add_argument("--page", type=_count(1, 100_000), metavar="N", default=1)
    sub.add_argument("--ppi", type=_ppi, metavar="P", help="else the lab sheet's")
    sub.add_argument("--transparent", action="store_true", help="without its background")
    sub.add_argument("--without-pictures", action="store_true", help="without the pictures that lie over all")
    sub = command("doctor", "commands.doctor", "Looks a data folder over; 1 when something is wrong and not mended.")
    sub.add_argument("--data", default=".data")
    sub.add_argument("--repair", action="store_true", help="mend what can be mended, after a copy of the database")
    sub = command("serve", "commands.serve", "Starts the application.")
    sub.add_argument("--host", default="127.0.0.1", help="another than this machine needs a passphrase")
    sub.add_argument("--port", type=_port, default=8765)
    sub.add_argument("--data", default=".data")
    sub.add_argument(
        "--demo", action="store_true", help="make the demo jobs at the first start; a lab stands in beside"
    )
    sub.add_argument("--lab", metavar="URL", help="where orders go: http://..., or folder:PATH for a drop folder")
    sub.add_argument(
        "--scheduler", metavar="tcp://HOST:PORT", help="a Dask scheduler whose workers see the data folder"
    )
    sub.add_argument("--printer", metavar="URL", help="where print sheets go")
    sub.add_argument("--watch", metavar="DIR", help="where watched folders lie, each with a rule; else DATA/watched")
    sub = command("watch", "watching.watch", "Makes a watched folder: what is laid into it becomes jobs by a rule.")
    sub.add_argument("folder", metavar="DIR/NAME", help="in DATA/watched, or in the folder that serve --watch is given")
    sub.add_argument("--template", metavar="TEMPLATE", required=True)
    sub.add_argument("--lab", metavar="ID", default="gullwing-300")
    sub.add_argument(
        "--fill", choices=["best", "order"], default="best", help="photos where they fit best, or in order"
    )
    sub.add_argument("--format", choices=["jpeg", "png", "tiff", "pdf"])
    sub.add_argument("--wait", action="store_true", help="for a person, though nothing stops it")
    sub = command("lab", "laboratory.lab", "Starts a lab that stands in: takes orders, measures, prints by a clock.")
    sub.add_argument("--port", type=_port, default=8766)
    sub.add_argument("--data", metavar="DIR", default=".data/lab")
    sub.add_argument("--until", type=int, metavar="PID", help="ends when that process is gone, which started it")
    sub.add_argument(
        "--clock", type=_number(0.0001, 1e9), metavar="FACTOR", default=1.0, help="how many times faster its clock runs"
    )
    sub.add_argument("--faults", metavar="LIST", default="", help="what goes wrong, how often: drop:2,slow:1,full:1")
    sub.add_argument("--drop", metavar="DIR", help="a drop folder that it looks into as well")
    sub = command("printer", "laboratory.printer", "Starts a printer that stands in: prints PDFs into pictures.")
    sub.add_argument("--port", type=_port, default=8767)
    sub.add_argument("--data", metavar="DIR", default=".data/printer")
    sub.add_argument("--until", type=int, metavar="PID", help="ends when that process is gone, which started it")
    sub.add_argument("--faults", metavar="LIST", default="", help="what goes wrong, how often: empty:1,jam:2,wrong:1")
    sub = command("order", "laboratory.order", "Exports a job and sends it to a lab as an order; 1 when it is refused.")
    sub.add_argument("job", metavar="JOB.sutaru")
    sub.add_argument("--to", metavar="ADDRESS", default="http://127.0.0.1:8766", help="http://..., or folder:PATH")
    sub.add_argument("--copies", type=_copies, metavar="N", help="else as many as each edition says")
    sub.add_argument("--paper", metavar="NAME", default="", type=_text(200))
    sub.add_argument("--finish", metavar="NAME", default="", type=_text(200))
    sub.add_argument("--cover", metavar="NAME", default="", type=_text(200), help="of a book")
    sub.add_argument("--name", metavar="NAME", type=_text(200), required=True, help="who it is sent to")
    sub.add_argument("--street", metavar="STREET", type=_text(200), required=True)
    sub.add_argument("--postcode", metavar="CODE", type=_text(20), required=True)
    sub.add_argument("--place", metavar="PLACE", type=_text(200), required=True)
    sub.add_argument("--country", metavar="GB", required=True, type=_country, help="two letters, as in ISO 3166")
    sub.add_argument("--key", metavar="HEX", type=_key, help="the same key is the same order; else made from the files")
    sub.add_argument("--lab", metavar="ID")
    sub.add_argument("--json", action="store_true")
    return top


def _templates(commands: Any) -> None:
    what = "Lists, shows, keeps templates, and lays them out in another size."
    own = commands.add_parser("template", help=what, description=what)
    inner = own.add_subparsers(dest="what", required=True, parser_class=_Parser)

    def command(name: str, run: str, what: str) -> argparse.ArgumentParser:
        sub: argparse.ArgumentParser = inner.add_parser(name, help=what, description=what)
        sub.set_defaults(run=run)
        sub.add_argument("--json", action="store_true")
        return sub

    sub = command("list", "templating.listed", "Lists the templates that ship, and those of a data folder.")
    sub.add_argument("--data", metavar="DIR", default="")
    sub = command("show", "templating.show", "Tells what is in a template: each opening's kind and page outline.")
    sub.add_argument("template", metavar="ID|FILE")
    sub = command("keep", "templating.keep", "Puts a template's file on the shelf of a data folder.")
    sub.add_argument("template", metavar="FILE")
    sub.add_argument("--data", metavar="DIR", default=".data")
    sub.add_argument("--name", metavar="NAME", type=_text(120))
    sub = command("resize", "templating.resize", "Lays a template out in another size, into a file.")
    sub.add_argument("template", metavar="ID|FILE")
    sub.add_argument("--size", type=_size, metavar="10x8in", required=True)
    sub.add_argument("--how", choices=["auto", "fill", "ratios"], default="auto")
    sub.add_argument("--name", metavar="NAME", type=_text(120))
    sub.add_argument("-o", dest="out", metavar="FILE", required=True)


def _month(text: str) -> str:
    import re

    if not re.fullmatch(r"[12]\d{3}-(0[1-9]|1[0-2])", text, re.ASCII):
        raise argparse.ArgumentTypeError(f"{text!r} is no month from 1000 to 2999, as 2027-01")
    return text


def _country(text: str) -> str:
    import babel

    if not text:
        return ""
    if text.upper() not in babel.Locale("en").territories or len(text) != 2:
        raise argparse.ArgumentTypeError(f"{text!r} is no country: write two letters, as GB or DE")
    return text.upper()


def _key(text: str) -> str:
    import re

    if not re.fullmatch(r"[0-9a-f]{16,64}", text):
        raise argparse.ArgumentTypeError(f"{text!r} is no key: write 16 to 64 of the letters 0 to 9 and a to f")
    return text


def _areas(text: str) -> str:
    if text not in ("holes", "flat", "none") and not (text.startswith("#") and len(text) == 7):
        raise argparse.ArgumentTypeError(f"{text!r} is none of: holes, flat, none, a colour like #ffffff")
    return text.lower()


def _size(text: str) -> tuple[float, float]:
    from .templating import size_mm

    return size_mm(text)


def main(argv: Sequence[str] | None = None) -> int:
    """Runs a command; its exit code."""
    for stream in (sys.stdout, sys.stderr):  # a file's name may be no text
        if isinstance(stream, io.TextIOWrapper):
            stream.reconfigure(errors="backslashreplace")
    args = parser().parse_args(argv)
    from .core.errors import SutaruError

    module, _, name = args.run.partition(".")
    try:
        return int(getattr(import_module(f".{module}", __package__), name)(args))
    except SutaruError as error:
        print(f"sutaru: {error}", file=sys.stderr)
    except BrokenPipeError:  # whoever was told does not listen any more
        sys.stdout = open(os.devnull, "w")  # noqa: SIM115
    except OSError as error:
        print(f"sutaru: {error.strerror or error}: {error.filename or ''}", file=sys.stderr)
    except KeyboardInterrupt:
        print("sutaru: stopped.", file=sys.stderr)
    except MemoryError:
        print(
            "sutaru: This needs more memory than there is now. Close other programs and run it again.", file=sys.stderr
        )
    except Exception as error:
        if os.environ.get("SUTARU_TRACE"):
            raise
        said = _validation(error) or "This failed in a way that nobody foresaw."
        print(f"sutaru: {said} Run it with SUTARU_TRACE=1 to see where.", file=sys.stderr)
    return 2


def _validation(error: Exception) -> str:
    """What is wrong with what was asked, when that is what an error says; "" else."""
    from pydantic import ValidationError

    from .core.errors import in_words

    return in_words(error.errors()[0]) if isinstance(error, ValidationError) else ""


if __name__ == "__main__":
    sys.exit(main())
