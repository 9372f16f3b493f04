"""``sutaru template``: templates listed, shown, kept, laid out in another size."""

import argparse
import json
from pathlib import Path
from typing import Any

from ..core.arranging.sizing import resize_layout
from ..core.checks import places
from ..core.document import Template
from ..core.errors import NotFound, SutaruError
from ..core.formats.shelf import read_shelf
from ..core.formats.template_file import write_template_file
from ..scripting.shelf import find_template
from ..settings import find_data
from ..shelf import FOLDER


def describe_template(template: Template) -> dict[str, Any]:
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
    description = describe_template(find_template(args.template)[0])
    if args.json:
        print(json.dumps(description, indent=1, ensure_ascii=False))
        return 0
    print(f"{description['name']}, {description['product']}, revision {description['revision']}")
    for sheet in description["sheets"]:
        width, height = sheet["trim_mm"]
        print(f"{sheet['name']}: {width:g} x {height:g} mm, {len(sheet['openings'])} openings")
        for opening in sheet["openings"]:
            xs, ys = zip(*opening["page_outline_mm"], strict=True)
            print(f"  {opening['number']:>3}  {opening['kind']:<10} {min(xs):8.1f} {min(ys):8.1f}"
                  f"  {max(xs) - min(xs):7.1f} x {max(ys) - min(ys):.1f} mm")  # fmt: skip
    return 0


def open_shelf(folder: Path) -> Any:
    from ..store import Database, Parts, Templates

    if not folder.is_dir():
        raise NotFound(f"There is no folder {folder}.", "Give the data folder with --data.")
    database = Database(folder / "sutaru.sqlite3")
    return database, Templates(database), Parts(database)


def list_templates(args: argparse.Namespace) -> int:
    """Lists the templates that ship, and with ``--data`` the studio's own."""
    templates = list(read_shelf(FOLDER).templates.values())
    if args.data:
        database, own_templates, _ = open_shelf(Path(args.data))
        templates = [*own_templates.list_all(), *templates]
        database.close()
    if args.json:
        print(json.dumps([describe_template(template) for template in templates], indent=1, ensure_ascii=False))
        return 0
    for template in templates:
        first = template.sheets[0].layout
        openings = sum(1 for _ in template.walk_openings())
        print(
            f"{template.id:<28} {template.product:<8} {first.width_mm:g} x {first.height_mm:g} mm  {openings} openings"
        )
    return 0


def keep(args: argparse.Namespace) -> int:
    """Puts a template's file on the shelf of a data folder, as a new template of the studio's own."""
    from ..work.tasks import read_template

    if not Path(args.template).is_file():
        raise NotFound(f"There is no file {args.template}.")
    template_json, assets = read_template(args.template)  # every sheet of it tried out, as the server does
    template = Template.model_validate_json(template_json)
    if args.name:
        template = template.copy_with(name=args.name[:120])
    database, templates, parts = open_shelf(find_data(args.data))
    try:
        parts.add_assets(assets)
        kept_template = templates.keep(template, set(read_shelf(FOLDER).templates))
    finally:
        database.close()
    print(
        json.dumps({"id": kept_template.id, "revision": kept_template.revision})
        if args.json
        else f"Kept as {kept_template.id}."
    )
    return 0


def resize(args: argparse.Namespace) -> int:
    """Lays all sheets of a template out in another size, into a file."""
    template, asset = find_template(args.template)
    width, height = args.size
    sheets = tuple(s.copy_with(layout=resize_layout(s.layout, width, height, args.how)) for s in template.sheets)
    name = args.name or f"{template.name}, {args.size[0]:g} x {args.size[1]:g} mm"
    try:
        result = Template.model_validate({**template.model_dump(), "name": name[:120], "sheets": [s.model_dump() for s in sheets],
                                        "revision": 1})  # fmt: skip
    except ValueError as error:
        raise SutaruError("This size cannot be had for this template.", "Choose another.") from error
    write_template_file(Path(args.out), result, asset)
    print(json.dumps(describe_template(result)) if args.json else args.out)
    return 0
