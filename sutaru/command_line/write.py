"""``sutaru write``: one page for other programs."""

import argparse
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

from ..core.colour.output import output_of
from ..core.errors import NotFound
from ..core.fitting import resolve_sheet
from ..core.formats.svg_file import write_svg
from ..core.paint import PixelGrid, items
from ..core.press import openraster, raster
from ..core.press.files import write_whole
from ..scripting.photos import painter_of
from ..scripting.shelf import open_job


def write(args: argparse.Namespace) -> int:
    """Writes one page for other programs: as SVG without its photos, as OpenRaster with all layers, or as PNG."""
    opened, target = open_job(args.job), Path(args.out)
    sheet = opened.sheet(args.page)
    kind = target.suffix.lower()
    if kind not in (".svg", ".ora", ".png"):
        raise NotFound(f"A page is not written as {kind or 'a file without a suffix'}.", "Choose .svg, .ora or .png.")
    if kind == ".svg":
        with write_whole(target) as file:
            file.write(write_svg(sheet.layout, opened.asset))
        return 0
    lab = opened.job.lab
    grid = PixelGrid.for_ppi(sheet.layout, args.ppi or lab.ppi_target)
    layers = items(
        resolve_sheet(opened.job, sheet.id, fonts=opened.asset),
        opened.asset,
        bench=False,
        notes=False,
        transparent=args.transparent,
    )
    if args.without_pictures:
        layers = [item for item in layers if item.layer.kind != "overlay"]
    with ThreadPoolExecutor(2) as threads:
        painter = painter_of(opened.original, threads)
        if kind == ".ora":
            openraster.write(target, sheet.layout, layers, painter, grid, lab.profile, args.transparent)
        else:
            bands = painter.bands(layers, grid, transparent=args.transparent)
            output = output_of(lab, opened.asset, rgb=True)
            raster.write(target, "png", bands, grid.size, round(grid.ppi), output, lab.jpeg_quality)
    return 0
