"""What can be asked of the command line: commands, their options and values. It loads nothing but the standard library."""

import argparse
import sys
from typing import Any

from .. import __version__
from .values import (
    count_between,
    number_between,
    read_areas,
    read_country,
    read_key,
    read_month,
    read_size_mm,
    text_up_to,
)

_DATA = "default: SUTARU_DATA, else .data where there is one, else the user's data folder"
_ppi, _share = number_between(1, 1200), number_between(0, 1)
_port, _copies = count_between(0, 65535), count_between(1, 100_000)


class _Parser(argparse.ArgumentParser):
    def error(self, message: str) -> None:  # type: ignore[override]
        print(f"sutaru: {message}. See: {self.prog} --help", file=sys.stderr)
        raise SystemExit(2)


def parser() -> argparse.ArgumentParser:
    """The command line's grammar. Each command names the module and the function that does it."""
    top = _Parser(prog="sutaru", description="Fit photos into layered print templates and export print-ready files.")
    top.add_argument("--version", action="version", version=f"Sutaru {__version__}")
    commands = top.add_subparsers(dest="command", required=True, parser_class=_Parser)

    def command(name: str, run: str, what: str) -> argparse.ArgumentParser:
        sub = commands.add_parser(name, help=what, description=what)
        sub.set_defaults(run=run)
        return sub

    sub = command("shelf", "shelf.shelf", "List the templates.")
    sub.add_argument("--json", action="store_true")
    _templates(commands)
    sub = command("read", "read.read", "Import a file (PNG, JPEG, TIFF, WebP, SVG, OpenRaster, PDF) as a template.")
    sub.add_argument("file", metavar="FILE")
    sub.add_argument("-o", dest="out", metavar="TEMPLATE.sutaru-template", required=True)
    sub.add_argument("--size", type=read_size_mm, metavar="12x12in", help="default: as in the file")
    sub.add_argument("--name", metavar="NAME", type=text_up_to(120))
    sub.add_argument("--areas", type=read_areas, metavar="holes|flat|none|#rrggbb")
    sub.add_argument("--guide", action="store_true", help="import as a guide to draw on, which never prints")
    sub.add_argument("--json", action="store_true")
    sub = command("fill", "fill.fill", "Make a job bundle from a template and photos.")
    sub.add_argument("template", metavar="TEMPLATE", help="an id of the shelf, or a .sutaru-template file")
    sub.add_argument("photos", metavar="PHOTO", nargs="+")
    sub.add_argument("-o", dest="out", metavar="JOB.sutaru", required=True)
    sub.add_argument("--lab", metavar="ID", default="gullwing-300")
    sub = command("calendar", "calendar.calendar", "Make a calendar's bundle from a template and photos.")
    sub.add_argument("template", metavar="TEMPLATE", help="an id of the shelf, or a .sutaru-template file")
    sub.add_argument("photos", metavar="PHOTO", nargs="*")
    sub.add_argument("-o", dest="out", metavar="JOB.sutaru", required=True)
    sub.add_argument("--from", dest="first", metavar="2027-01", type=read_month, required=True)
    sub.add_argument("--months", type=count_between(1, 18), metavar="N", default=12)
    sub.add_argument("--locale", metavar="de_DE", default="en_GB")
    sub.add_argument("--country", metavar="DE", default="", type=read_country, help="country of the holidays")
    sub.add_argument("--region", metavar="BY", default="", type=text_up_to(10))
    sub.add_argument("--more-holidays", action="store_true", help="include widely kept days")
    sub.add_argument("--dates", metavar="FILE.csv|FILE.ics", help="the customer's own dates")
    sub.add_argument(
        "--date-order",
        choices=["day", "month"],
        help="order of day and month in 06/07/1999, where the file does not tell",
    )
    sub.add_argument("--leap", choices=["before", "after", "only"], default="before", help="29 February in other years")
    sub.add_argument("--by-month", action="store_true", help="put photos on the month in which they were taken")
    sub.add_argument("--lab", metavar="ID", default="gullwing-300")
    sub = command("book", "book.book", "Make a book's bundle from a theme or a template and photos.")
    sub.add_argument(
        "look", metavar="TEMPLATE_OR_THEME", help="a theme or template of the shelf, or a .sutaru-template file"
    )
    sub.add_argument("photos", metavar="PHOTO", nargs="+")
    sub.add_argument("-o", dest="out", metavar="JOB.sutaru", required=True)
    sub.add_argument("--pages", type=count_between(2, 1000), metavar="N", help="default: by the number of photos")
    sub.add_argument("--size", type=read_size_mm, metavar="12x12in", help="of a page; default: the lab's first size")
    sub.add_argument("--order", choices=["time", "given"], default="time", help="photos by capture time, or as given")
    sub.add_argument(
        "--per-page", type=number_between(0.5, 20), metavar="N", default=3.0, help="photos per page, about"
    )
    sub.add_argument(
        "--photos-laid",
        type=count_between(1, 100_000),
        metavar="N",
        help="number of photos to use, the best; default: all",
    )
    sub.add_argument(
        "--cropping",
        type=number_between(0, 0.3),
        metavar="0..0.3",
        default=0.1,
        help="largest share of a photo that may be cropped; 0: none",
    )
    sub.add_argument("--white", type=_share, metavar="0..1", default=0.4, help="white space")
    sub.add_argument("--lively", type=_share, metavar="0..1", default=0.4, help="variety")
    sub.add_argument(
        "--bleeds", type=_share, metavar="0..1", default=0.5, help="pictures that run off the paper; 0: none"
    )
    sub.add_argument("--chapters", action="store_true", help="each event begins on a spread, under a title")
    sub.add_argument("--keep-likes", action="store_true", help="include near-duplicates")
    sub.add_argument(
        "--keep-spoilt", action="store_true", help="include photos that are too dark, burnt out or blurred"
    )
    sub.add_argument("--paper", metavar="ID")
    sub.add_argument("--binding", metavar="ID")
    sub.add_argument("--title", metavar="TEXT", type=text_up_to(500))
    sub.add_argument("--locale", metavar="de_DE", default="en_GB")
    sub.add_argument("--lab", metavar="ID", default="gullwing-300")
    sub.add_argument("--json", action="store_true")
    sub = command("resize", "book.resize", "Make a book's bundle in another size: each spread is composed anew.")
    sub.add_argument("job", metavar="JOB.sutaru")
    sub.add_argument("--size", type=read_size_mm, metavar="8x8in", required=True, help="of a page, as the lab binds it")
    sub.add_argument("--name", metavar="NAME", type=text_up_to(120), help="default: from the file's name")
    sub.add_argument("-o", dest="out", metavar="FILE.sutaru", required=True)
    sub.add_argument("--json", action="store_true")
    sub = command("check", "check.check", "Print the findings; exit code 1 when one is a stop.")
    sub.add_argument("job", metavar="JOB.sutaru|TEMPLATE")
    sub.add_argument("--json", action="store_true")
    sub = command("export", "export.export", "Export the print files.")
    sub.add_argument("job", metavar="JOB.sutaru")
    sub.add_argument("-o", dest="out", metavar="DIR", required=True)
    sub.add_argument("--format", choices=["jpeg", "png", "tiff", "pdf", "ora"])
    sub.add_argument("--lab", metavar="ID")
    sub.add_argument("--standard", choices=["x4", "plain"], help="of PDFs; default: by the lab sheet")
    sub.add_argument("--profile", metavar="ID|FILE.icc", help="press profile: fogra39, tr006, grey, or an ICC file")
    sub.add_argument("--sharpen", choices=["none", "low", "standard", "high"], help="default: by the lab sheet")
    sub.add_argument("--live", action="store_true", help="keep layers and transparency in PDFs")
    sub.add_argument("--bits", type=int, choices=[8, 16], help="bits per channel of TIFFs; default: by the lab sheet")
    sub.add_argument("--edition", metavar="NAME|all", default="", help="default: the first")
    sub.add_argument("--transparent", action="store_true")
    sub.add_argument("--accepted-by", metavar="NAME", help="accept the stops in this name, with --reason")
    sub.add_argument("--reason", metavar="TEXT", help="why the stops are accepted; stored in the manifest")
    sub = command("contact", "contact.contact", "Make a contact sheet's bundle: all photos small, with their names.")
    sub.add_argument("photos", metavar="PHOTO", nargs="+")
    sub.add_argument("-o", dest="out", metavar="JOB.sutaru", required=True)
    sub.add_argument("--sheet", type=read_size_mm, metavar="210x297mm", default=(210.0, 297.0))
    sub.add_argument("--columns", type=count_between(1, 20), metavar="N", default=5)
    sub.add_argument("--lab", metavar="ID", default="gullwing-300")
    sub = command("impose", "impose.impose", "Impose a job's pages on print sheets, with marks, as a PDF.")
    sub.add_argument("job", metavar="JOB.sutaru")
    sub.add_argument("-o", dest="out", metavar="FILE.pdf|FILE.jpg", required=True, help="JPEGs are numbered")
    sub.add_argument("--sheet", type=read_size_mm, metavar="450x320mm", required=True)
    sub.add_argument("--copies", type=_copies, metavar="N", help="of each piece; default: by each edition")
    sub.add_argument("--duplex", choices=["long", "short"], help="double-sided, flip on that edge")
    sub.add_argument("--margin", type=number_between(0, 200), metavar="MM", default=5.0, help="non-printing margin")
    sub.add_argument(
        "--gap", type=number_between(0, 200), metavar="MM", help="between pieces; default: twice the bleed"
    )
    sub.add_argument("--grain", choices=["width", "height"], help="grain of the sheet, along this side")
    sub.add_argument(
        "--piece-grain",
        choices=["any", "along", "across"],
        default="any",
        help="grain of a piece, along its height or across",
    )
    sub.add_argument("--booklet", action="store_true", help="impose as a booklet, folded and stapled")
    sub.add_argument(
        "--signature",
        type=count_between(0, 500),
        metavar="N",
        default=0,
        help="sheets per signature of a booklet; default: all",
    )
    sub.add_argument("--creep", type=number_between(0, 5), metavar="MM", default=0.0, help="creep per sheet")
    sub.add_argument("--lab", metavar="ID")
    sub.add_argument("--json", action="store_true")
    sub = command(
        "batch", "batch.batch", "Make and export an edition for each row of a list; exit code 1 when one was left out."
    )
    sub.add_argument("job", metavar="JOB.sutaru|TEMPLATE")
    sub.add_argument("list", metavar="LIST.csv|LIST.xlsx|FOLDER", help="or a folder with one folder per customer")
    sub.add_argument("--photos", metavar="FOLDER", help="folder of the photos that the list names")
    sub.add_argument("-o", dest="out", metavar="DIR", required=True)
    sub.add_argument("--format", choices=["jpeg", "png", "tiff", "pdf"])
    sub.add_argument("--lab", metavar="ID")
    sub.add_argument("--json", action="store_true")
    sub = command(
        "verify",
        "verify.verify",
        "Check a print file; exit code 1 when something breaks its standard or the lab sheet.",
    )
    sub.add_argument("file", metavar="FILE.pdf|jpg|tif|png")
    sub.add_argument("--lab", metavar="ID", help="check against this lab sheet as well")
    sub.add_argument("--json", action="store_true")
    sub = command("render", "render.render", "Render one page as the bench shows it.")
    sub.add_argument("job", metavar="JOB.sutaru|TEMPLATE")
    sub.add_argument("--page", type=count_between(1, 100_000), metavar="N", required=True)
    sub.add_argument("--ppi", type=_ppi, metavar="P", required=True)
    sub.add_argument("-o", dest="out", metavar="FILE.png", required=True)
    sub = command("write", "write.write", "Write one page for other programs: SVG, OpenRaster or PNG.")
    sub.add_argument("job", metavar="JOB.sutaru|TEMPLATE")
    sub.add_argument("-o", dest="out", metavar="FILE.svg|FILE.ora|FILE.png", required=True)
    sub.add_argument("--page", type=count_between(1, 100_000), metavar="N", default=1)
    sub.add_argument("--ppi", type=_ppi, metavar="P", help="default: the lab sheet's")
    sub.add_argument("--transparent", action="store_true", help="transparent background")
    sub.add_argument("--without-pictures", action="store_true", help="leave out overlay pictures")
    sub = command(
        "doctor", "doctor.doctor", "Check a data folder; exit code 1 when something is wrong and not repaired."
    )
    sub.add_argument("--data", metavar="DIR", help=_DATA)
    sub.add_argument("--repair", action="store_true", help="repair what can be repaired, after copying the database")
    sub = command(
        "backup",
        "backup.backup",
        "Back up a data folder, also while it is in use, or bring a backup up to date.",
    )
    sub.add_argument("folder", metavar="FOLDER", help="where the backup is, or is to be")
    sub.add_argument("--data", metavar="DIR", help=_DATA)
    sub.add_argument("--json", action="store_true")
    sub = command("restore", "backup.restore", "Bring a backup back as a new data folder.")
    sub.add_argument("folder", metavar="FOLDER", help="the backup")
    sub.add_argument("--data", metavar="DIR", required=True, help="a folder that is not there yet, or empty")
    sub.add_argument("--json", action="store_true")
    sub = command("serve", "serve.serve", "Start the application.")
    sub.add_argument("--host", help="default: 127.0.0.1; another address than this machine's needs a passphrase")
    sub.add_argument("--port", type=_port, help="default: 8765")
    sub.add_argument("--data", metavar="DIR", help=_DATA)
    sub.add_argument(
        "--demo",
        action="store_true",
        help="make the demo jobs at the first start; simulated lab and printer run beside",
    )
    sub.add_argument("--lab", metavar="URL", help="where orders are sent: http://..., or folder:PATH for a drop folder")
    sub.add_argument(
        "--scheduler", metavar="tcp://HOST:PORT", help="a Dask scheduler whose workers see the data folder"
    )
    sub.add_argument("--printer", metavar="URL", help="where print sheets are sent")
    sub.add_argument("--watch", metavar="DIR", help="folder of the watched folders; default: DATA/watched")
    sub.add_argument("--config", metavar="FILE.toml", help="settings; what is given here comes before them")
    sub.add_argument("--allow-host", dest="allowed_hosts", metavar="NAME", action="append",
                     help="another name under which browsers reach it; again for more")  # fmt: skip
    sub.add_argument("--proxy", dest="proxies", metavar="ADDRESS", action="append",
                     help="a proxy before it whose X-Forwarded headers are believed; again for more")  # fmt: skip
    sub.add_argument(
        "--public-url", metavar="URL", help="under which customers open proofs, such as https://proofs.example"
    )
    sub.add_argument("--tls-cert", metavar="FILE.pem", help="serve by HTTPS with this certificate")
    sub.add_argument("--tls-key", metavar="FILE.pem", help="the certificate's key")
    sub.add_argument("--log-level", choices=["debug", "info", "warning", "error"], help="default: info")
    sub = command("watch", "watch.watch", "Make a watched folder: folders of photos put into it become jobs by a rule.")
    sub.add_argument("folder", metavar="DIR/NAME", help="in DATA/watched, or in the folder that serve --watch is given")
    sub.add_argument("--template", metavar="TEMPLATE", required=True)
    sub.add_argument("--lab", metavar="ID", default="gullwing-300")
    sub.add_argument("--fill", choices=["best", "order"], default="best", help="best fit, or in order")
    sub.add_argument("--format", choices=["jpeg", "png", "tiff", "pdf"])
    sub.add_argument("--wait", action="store_true", help="wait for a person before exporting")
    sub = command("lab", "lab.lab", "Start the simulated lab: it takes orders, checks files and prints by a clock.")
    sub.add_argument("--port", type=_port, default=8766)
    sub.add_argument("--data", metavar="DIR", help="default: lab in the data folder")
    sub.add_argument("--until", type=int, metavar="PID", help="end when this process ends")
    sub.add_argument(
        "--clock", type=number_between(0.0001, 1e9), metavar="FACTOR", default=1.0, help="speed of its clock, times"
    )
    sub.add_argument("--faults", metavar="LIST", default="", help="faults and how often: drop:2,slow:1,full:1")
    sub.add_argument("--drop", metavar="DIR", help="a drop folder to watch as well")
    sub = command("printer", "printer.printer", "Start the simulated printer: it prints PDFs as pictures.")
    sub.add_argument("--port", type=_port, default=8767)
    sub.add_argument("--data", metavar="DIR", help="default: printer in the data folder")
    sub.add_argument("--until", type=int, metavar="PID", help="end when this process ends")
    sub.add_argument("--faults", metavar="LIST", default="", help="faults and how often: empty:1,jam:2,wrong:1")
    sub = command(
        "order", "order.order", "Export a job and send it to a lab as an order; exit code 1 when it is refused."
    )
    sub.add_argument("job", metavar="JOB.sutaru")
    sub.add_argument("--to", metavar="ADDRESS", default="http://127.0.0.1:8766", help="http://..., or folder:PATH")
    sub.add_argument("--copies", type=_copies, metavar="N", help="default: by each edition")
    sub.add_argument("--paper", metavar="NAME", default="", type=text_up_to(200))
    sub.add_argument("--finish", metavar="NAME", default="", type=text_up_to(200))
    sub.add_argument("--cover", metavar="NAME", default="", type=text_up_to(200), help="of a book")
    sub.add_argument("--name", metavar="NAME", type=text_up_to(200), required=True, help="recipient")
    sub.add_argument("--street", metavar="STREET", type=text_up_to(200), required=True)
    sub.add_argument("--postcode", metavar="CODE", type=text_up_to(20), required=True)
    sub.add_argument("--place", metavar="PLACE", type=text_up_to(200), required=True)
    sub.add_argument("--country", metavar="GB", required=True, type=read_country, help="two letters, ISO 3166")
    sub.add_argument("--key", metavar="HEX", type=read_key, help="idempotency key; default: made from the files")
    sub.add_argument("--lab", metavar="ID")
    sub.add_argument("--json", action="store_true")
    _tokens(commands)
    sub = command("help", "help.show_help", "Show what a command does.")
    sub.add_argument("about", metavar="COMMAND", nargs="*")
    sub = command("completion", "completion.write_completion", "Write what completes commands in a shell.")
    sub.add_argument("shell", choices=["bash", "zsh", "fish"])
    return top


def _tokens(commands: Any) -> None:
    what = "Make, list and remove tokens by which scripts come in where a passphrase is asked for."
    actions = commands.add_parser("token", help=what, description=what)
    inner = actions.add_subparsers(dest="what", required=True, parser_class=_Parser)
    for name, run, what in (
        ("add", "token.add", "Make a token and show it, this once."),
        ("list", "token.list_all", "List tokens by their names, and when each was used last."),
        ("remove", "token.remove", "Remove a token: whoever has it comes in no more."),
    ):
        sub = inner.add_parser(name, help=what, description=what)
        sub.set_defaults(run=run)
        if name != "list":
            sub.add_argument("name", metavar="NAME", type=text_up_to(60))
        sub.add_argument("--data", metavar="DIR", help=_DATA)
        sub.add_argument("--json", action="store_true")


def _templates(commands: Any) -> None:
    what = "List, show and save templates, and resize them."
    actions = commands.add_parser("template", help=what, description=what)
    inner = actions.add_subparsers(dest="what", required=True, parser_class=_Parser)

    def command(name: str, run: str, what: str) -> argparse.ArgumentParser:
        sub: argparse.ArgumentParser = inner.add_parser(name, help=what, description=what)
        sub.set_defaults(run=run)
        sub.add_argument("--json", action="store_true")
        return sub

    sub = command("list", "template.list_templates", "List the templates that ship, and those of a data folder.")
    sub.add_argument("--data", metavar="DIR", default="")
    sub = command("show", "template.show", "Show a template: each opening's kind and page outline.")
    sub.add_argument("template", metavar="ID|FILE")
    sub = command("keep", "template.keep", "Save a template's file to the shelf of a data folder.")
    sub.add_argument("template", metavar="FILE")
    sub.add_argument("--data", metavar="DIR", help=_DATA)
    sub.add_argument("--name", metavar="NAME", type=text_up_to(120))
    sub = command("resize", "template.resize", "Resize a template, into a file.")
    sub.add_argument("template", metavar="ID|FILE")
    sub.add_argument("--size", type=read_size_mm, metavar="10x8in", required=True)
    sub.add_argument("--how", choices=["auto", "fill", "ratios"], default="auto")
    sub.add_argument("--name", metavar="NAME", type=text_up_to(120))
    sub.add_argument("-o", dest="out", metavar="FILE", required=True)
