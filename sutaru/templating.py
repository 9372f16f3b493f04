"""``sutaru template``: templates listed, shown, kept, laid out in another size. A template is an id of the shelf or a file."""

import argparse
import json
import re
import sys
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from typing import Any

from .core.arranging import resized
from .core.checks import places
from .core.colour.output import output_of
from .core.document import Job, LabSheet, Photo, Template
from .core.errors import NotFound, SutaruError
from .core.fitting import resolved
from .core.formats import Bundle, read_shelf, read_template_file, write_template_file
from .core.formats.foreign import read_foreign
from .core.formats.svg_file import written_svg
from .core.measure import MM_PER_INCH
from .core.paint import Assets, Painter, PixelGrid, items, no_assets
from .core.photos import PhotoPixels
from .core.press import openraster, raster, whole
from .shelf import FOLDER

_UNITS = {"mm": 1.0, "cm": 10.0, "in": MM_PER_INCH}


def template_of(name: str) -> tuple[Template, Assets]:
    """The template that an id of the shelf or a file's path names, and its drawings. Raises NotFound, FileRefused."""
    if name.endswith(".sutaru-template") or Path(name).is_file():
        if not Path(name).is_file():
            raise NotFound(f"There is no file {name}.")
        template, files = read_template_file(Path(name))
        return template, lambda asset: files[asset] if asset in files else no_assets(asset)
    shelf = read_shelf(FOLDER)
    if name not in shelf.templates:
        raise NotFound(f"There is no template {name}.", f"Choose one of: {', '.join(shelf.templates)}.")
    return shelf.templates[name], shelf.asset


class Opened:
    """What a command works on: a job's bundle, or a template without photos."""

    def __init__(self, name: str, lab: LabSheet | None = None) -> None:
        self._bundle: Bundle | None = None
        known = not Path(name).suffix and name in read_shelf(FOLDER).templates
        if name.endswith(".sutaru-template") or known:
            template, self.asset = template_of(name)
            lab = lab or next(iter(read_shelf(FOLDER).labs.values()))
            self.job = Job(name=template.name, template=template.id, product=template.product, sheets=template.sheets,
                           lab=lab)  # fmt: skip
        else:
            self._bundle = Bundle(Path(name))
            self.job, self.asset = self._bundle.job, self._bundle.asset

    def original(self, photo: Photo) -> bytes:
        """A photo's file."""
        if self._bundle is None:
            raise NotFound("A template holds no photos.")
        return self._bundle.original(photo)


def size_mm(text: str) -> tuple[float, float]:
    """A size as people write it: ``10x10in``, ``297x420mm``, ``20,5 x 30 cm``.

    >>> size_mm("10x8in")
    (254.0, 203.2)
    """
    found = re.fullmatch(r"\s*(\d+(?:[.,]\d+)?)\s*[x×*]\s*(\d+(?:[.,]\d+)?)\s*(mm|cm|in)\s*", text)
    if not found:
        raise argparse.ArgumentTypeError(f"{text!r} is no size: write it like 10x8in or 297x420mm")
    unit = _UNITS[found[3]]
    width, height = (round(float(side.replace(",", ".")) * unit, 6) for side in found.groups()[:2])
    if not (1 <= width <= 5000 and 1 <= height <= 5000):
        raise argparse.ArgumentTypeError(f"{text!r} is no size of a sheet: its sides are 1 mm to 5 m")
    return width, height


def _told(template: Template) -> dict[str, Any]:
    sheets = []
    for sheet in template.sheets:
        lie = places(sheet.layout)
        kinds = {o.id: o.outline.kind for o in sheet.layout.openings()}
        openings = [
            {"number": p.number, "id": p.opening, "kind": kinds[p.opening], "page_outline_mm": p.shape}
            for p in lie.openings
        ]
        sheets.append({"id": sheet.id, "name": sheet.name, "trim_mm": [sheet.layout.width_mm, sheet.layout.height_mm],
                       "openings": openings})  # fmt: skip
    return {"id": template.id, "name": template.name, "product": template.product, "revision": template.revision,
            "occasion": template.occasion, "tags": list(template.tags), "note": template.note, "sheets": sheets}  # fmt: skip


def show(args: argparse.Namespace) -> int:
    """Tells what is in a template."""
    told = _told(template_of(args.template)[0])
    if args.json:
        print(json.dumps(told, indent=1, ensure_ascii=False))
        return 0
    print(f"{told['name']}, {told['product']}, revision {told['revision']}")
    for sheet in told["sheets"]:
        width, height = sheet["trim_mm"]
        print(f"{sheet['name']}: {width:g} x {height:g} mm, {len(sheet['openings'])} openings")
        for opening in sheet["openings"]:
            xs, ys = zip(*opening["page_outline_mm"], strict=True)
            print(f"  {opening['number']:>3}  {opening['kind']:<10} {min(xs):8.1f} {min(ys):8.1f}"
                  f"  {max(xs) - min(xs):7.1f} x {max(ys) - min(ys):.1f} mm")  # fmt: skip
    return 0


def _kept(folder: Path) -> Any:
    from .store import Database, Parts, Templates

    if not folder.is_dir():
        raise NotFound(f"There is no folder {folder}.", "Give the data folder with --data.")
    database = Database(folder / "sutaru.sqlite3")
    return database, Templates(database), Parts(database)


def listed(args: argparse.Namespace) -> int:
    """Lists the templates that ship, and with ``--data`` the studio's own."""
    templates = list(read_shelf(FOLDER).templates.values())
    if args.data:
        database, own, _ = _kept(Path(args.data))
        templates = [*own.all(), *templates]
        database.close()
    if args.json:
        print(json.dumps([_told(template) for template in templates], indent=1, ensure_ascii=False))
        return 0
    for template in templates:
        first = template.sheets[0].layout
        openings = sum(1 for _ in template.all_openings())
        print(
            f"{template.id:<28} {template.product:<8} {first.width_mm:g} x {first.height_mm:g} mm  {openings} openings"
        )
    return 0


def keep(args: argparse.Namespace) -> int:
    """Puts a template's file on the shelf of a data folder, as a new template of the studio's own."""
    from .work.tasks import read_template

    if not Path(args.template).is_file():
        raise NotFound(f"There is no file {args.template}.")
    said, assets = read_template(args.template)  # every sheet of it tried out, as the server does
    template = Template.model_validate_json(said)
    if args.name:
        template = template.having(name=args.name[:120])
    database, own, parts = _kept(Path(args.data))
    try:
        parts.add_assets(assets)
        kept = own.keep(template, set(read_shelf(FOLDER).templates))
    finally:
        database.close()
    print(json.dumps({"id": kept.id, "revision": kept.revision}) if args.json else f"Kept as {kept.id}.")
    return 0


def read(args: argparse.Namespace) -> int:
    """Reads a file of another program into a template's file, and tells what was understood."""
    path = Path(args.file)
    if not path.is_file():
        raise NotFound(f"There is no file {path}.")
    found = read_foreign(path.read_bytes(), path.name, args.areas or "", args.guide, args.size)
    name = (args.name or path.stem)[:120]
    made = Template(id="read", name=name, product="collage", sheets=found.sheets)
    write_template_file(Path(args.out), made, lambda asset: found.files[asset])
    openings = [
        {"number": n, "kind": kind, "page_outline_mm": outline} for n, (kind, outline) in enumerate(found.outlines, 1)
    ]
    if args.json:
        first = found.sheets[0].layout
        print(json.dumps({"areas": found.how, "trim_mm": [first.width_mm, first.height_mm],
                          "openings": openings, "notes": list(found.notes)}, ensure_ascii=False))  # fmt: skip
        return 0
    print(f"{args.out}: {len(openings)} openings by {found.how}")
    for n, (kind, outline) in enumerate(found.outlines, 1):
        xs, ys = zip(*outline, strict=True)
        size = f"{max(xs) - min(xs):7.1f} x {max(ys) - min(ys):.1f} mm"
        print(f"  {n:>3}  {kind:<10} {min(xs):8.1f} {min(ys):8.1f}  {size}")
    for note in found.notes:
        print(note, file=sys.stderr)
    return 0


def write(args: argparse.Namespace) -> int:
    """Writes one page for other programs: as SVG without its photos, as OpenRaster with all layers, or as PNG."""
    here, target = Opened(args.job), Path(args.out)
    if not 1 <= args.page <= len(here.job.sheets):
        raise NotFound(f"There is no page {args.page}.", f"This job has pages 1 to {len(here.job.sheets)}.")
    sheet = here.job.sheets[args.page - 1]
    kind = target.suffix.lower()
    if kind not in (".svg", ".ora", ".png"):
        raise NotFound(f"A page is not written as {kind or 'a file without a suffix'}.", "Choose .svg, .ora or .png.")
    if kind == ".svg":
        with whole(target) as file:
            file.write(written_svg(sheet.layout, here.asset))
        return 0
    lab = here.job.lab
    grid = PixelGrid.of(sheet.layout, args.ppi or lab.ppi_target)
    layers = items(
        resolved(here.job, sheet.id, fonts=here.asset),
        here.asset,
        bench=False,
        notes=False,
        transparent=args.transparent,
    )
    if args.without_pictures:
        layers = [item for item in layers if item.layer.kind != "overlay"]
    with ThreadPoolExecutor(2) as threads:
        painter = Painter(PhotoPixels(here.original), threads)
        if kind == ".ora":
            openraster.write(target, sheet.layout, layers, painter, grid, lab.profile, args.transparent)
        else:
            bands = painter.bands(layers, grid, transparent=args.transparent)
            output = output_of(lab, here.asset, rgb=True)
            raster.write(target, "png", bands, grid.size, round(grid.ppi), output, lab.jpeg_quality)
    return 0


def resize(args: argparse.Namespace) -> int:
    """Lays all sheets of a template out in another size, into a file."""
    template, asset = template_of(args.template)
    width, height = args.size
    sheets = tuple(s.having(layout=resized(s.layout, width, height, args.how)) for s in template.sheets)
    name = args.name or f"{template.name}, {args.size[0]:g} x {args.size[1]:g} mm"
    try:
        made = Template.model_validate({**template.model_dump(), "name": name[:120], "sheets": [s.model_dump() for s in sheets],
                                        "revision": 1})  # fmt: skip
    except ValueError as error:
        raise SutaruError("This size cannot be had for this template.", "Choose another.") from error
    write_template_file(Path(args.out), made, asset)
    print(json.dumps(_told(made)) if args.json else args.out)
    return 0
