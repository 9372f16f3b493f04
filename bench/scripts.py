"""The same spread by other means, each run in a process of its own: ``python -m bench.scripts NAME JOB.sutaru OUT``.

``floor``: the photos decoded shrunk in two threads, and one encode of that size, with Pillow; ``hard_floor``: with the
application's own JPEG library. ``pillow`` and ``pyvips``: the
straightforward scripts one would write with those libraries. ``sutaru``: our export. Each prints seconds and peak MB.
"""

import resource
import sys
import time
from concurrent.futures import ThreadPoolExecutor
from datetime import datetime
from pathlib import Path

from bench.photos import photos
from sutaru.core.colour.profiles import profile_bytes
from sutaru.core.document import Job
from sutaru.core.geometry import outlines

WIDTH, HEIGHT, PPI, QUALITY = 7271, 3671, 300, 95


def boxes(job: Job) -> list[tuple[Path, tuple[int, int, int, int]]]:
    """Which photo goes to which pixels."""
    page, lies = job.sheets[0].layout, job.filling("spread").placements
    paths = {path.name: path for path in photos()}
    found = []
    for opening in page.openings():
        points = opening.page_from_opening.apply(opening.outline.polygons()[0])
        x0, y0, x1, y1 = (round((v + page.bleed_mm) / 25.4 * PPI) for v in outlines.bounds([points]))
        photo = job.pile.by_id[lies[opening.id].photo]
        found.append((paths[photo.name], (x0, y0, x1, y1)))
    return found


def floor(job: Job, out: Path) -> None:
    from PIL import Image

    sheet = Image.open(out.with_name("sutaru") / "spread_01.jpg").convert("RGB")
    started = time.perf_counter()

    def decode(entry: tuple[Path, tuple[int, int, int, int]]) -> None:
        path, (x0, y0, x1, y1) = entry
        with Image.open(path) as image:
            image.draft(None, (x1 - x0, y1 - y0))
            image.load()

    with ThreadPoolExecutor(2) as threads:
        list(threads.map(decode, boxes(job)))
    sheet.save(out, quality=QUALITY, subsampling=0)
    report(started)


def hard_floor(job: Job, out: Path) -> None:
    """The same with the decoder and encoder that the application uses, which are faster than Pillow's."""
    import numpy as np
    import simplejpeg
    from PIL import Image

    sheet = np.asarray(Image.open(out.with_name("sutaru") / "spread_01.jpg").convert("RGB"))
    started = time.perf_counter()

    def decode(entry: tuple[Path, tuple[int, int, int, int]]) -> None:
        path, _ = entry
        data = path.read_bytes()
        height, width, *_ = simplejpeg.decode_jpeg_header(data)
        simplejpeg.decode_jpeg(data, "RGB", min_width=width // 2, min_height=height // 2, min_factor=1)

    with ThreadPoolExecutor(2) as threads:
        list(threads.map(decode, boxes(job)))
    out.write_bytes(simplejpeg.encode_jpeg(sheet, QUALITY, "RGB", "444"))
    report(started)


def pillow_script(job: Job, out: Path) -> None:
    from PIL import Image, ImageOps

    started = time.perf_counter()
    sheet = Image.new("RGB", (WIDTH, HEIGHT), "#fdfcf8")
    for path, (x0, y0, x1, y1) in boxes(job):
        with Image.open(path) as image:
            upright = ImageOps.exif_transpose(image)
            sheet.paste(ImageOps.fit(upright, (x1 - x0, y1 - y0), Image.Resampling.LANCZOS), (x0, y0))
    sheet.save(out, quality=QUALITY, subsampling=0, dpi=(PPI, PPI), icc_profile=profile_bytes("srgb"))
    report(started)


def vips_script(job: Job, out: Path) -> None:
    import pyvips

    started = time.perf_counter()
    sheet = (pyvips.Image.black(WIDTH, HEIGHT, bands=3) + [253, 252, 248]).cast("uchar").copy(interpretation="srgb")
    for path, (x0, y0, x1, y1) in boxes(job):
        image = pyvips.Image.thumbnail(str(path), x1 - x0, height=y1 - y0, crop="centre")
        sheet = sheet.insert(image, x0, y0)
    sheet.copy(xres=PPI / 25.4, yres=PPI / 25.4).jpegsave(str(out), Q=QUALITY, subsample_mode="off", profile="srgb")
    report(started)


def sutaru(job: Job, out: Path) -> None:
    import cv2

    from sutaru.core.paint import Painter
    from sutaru.core.photos import PhotoPixels
    from sutaru.core.press.exporting import export
    from sutaru.work.tasks import load_compiled

    by_name = {path.name: path for path in photos()}
    paths = {photo.id: by_name[photo.name] for photo in job.pile.photos}
    cv2.setNumThreads(1)
    load_compiled()  # as the libraries of the other scripts are, before the clock
    started = time.perf_counter()
    with ThreadPoolExecutor(2) as threads:
        painter = Painter(PhotoPixels(lambda photo: paths[photo.id]), threads)
        export(job, out, painter.pixels, datetime.now().astimezone(), "jpeg", painter=painter)
    report(started)


def report(started: float) -> None:
    seconds = time.perf_counter() - started
    print(f"{seconds:.3f} {resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1000:.0f}")


SCRIPTS = {
    "floor": floor, "hard_floor": hard_floor, "pillow": pillow_script, "pyvips": vips_script, "sutaru": sutaru,
}  # fmt: skip

if __name__ == "__main__":
    name, job_json, target = sys.argv[1:]
    document = Job.model_validate_json(Path(job_json).read_text())
    {"floor": floor, "hard_floor": hard_floor, "pillow": pillow_script, "pyvips": vips_script, "sutaru": sutaru}[name](
        document, Path(target)
    )
