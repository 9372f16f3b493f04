"""What the tests share: a job of the shelf, small photos, the command line's folder."""

from collections.abc import Callable
from pathlib import Path

import cv2
import numpy as np
import pytest
from hypothesis import settings
from PIL import Image

from sutaru.core.document import (
    Edition,
    Filling,
    Job,
    LabSheet,
    Layout,
    Opening,
    Photo,
    Pile,
    Placement,
    Sheet,
    StudioCard,
    Template,
)
from sutaru.core.fitting import Resolved, resolve_sheet
from sutaru.core.formats.shelf import read_shelf
from sutaru.core.paint import Item, items
from sutaru.core.photos import examine
from sutaru.demo.scenes import picture
from sutaru.shelf import FOLDER

settings.register_profile("untimed", deadline=None)  # a busy machine is slow, and nothing is wrong
settings.load_profile("untimed")
cv2.setNumThreads(1)
SHELF = read_shelf(FOLDER)
TEMPLATES, LABS = SHELF.templates, SHELF.labs


@pytest.fixture(scope="session")
def templates() -> dict[str, Template]:
    return TEMPLATES


@pytest.fixture(scope="session")
def lab() -> LabSheet:
    return LABS["gullwing-300"]


@pytest.fixture(scope="session")
def pile(tmp_path_factory: pytest.TempPathFactory) -> list[tuple[Path, Photo]]:
    """Twenty-four photos of the festival, small, both ways up, two of them stored sideways."""
    folder = tmp_path_factory.mktemp("pile")
    found = []
    scenes = ["beach", "kite", "dunes", "maker", "workshop", "makers"]
    for n in range(24):
        w, h = (960, 640) if n % 3 else (640, 960)
        if n % 3 == 0 and n % 2:
            image, exif = (
                Image.fromarray(picture(scenes[n % 6], n, w, h)).transpose(Image.Transpose.ROTATE_90),
                Image.Exif(),
            )
            exif[0x0112] = 6
        else:
            image, exif = Image.fromarray(picture(scenes[n % 6], n, w, h)), Image.Exif()
        path = folder / f"festival-{n:02d}.jpg"
        image.save(path, quality=90, exif=exif)
        found.append((path, examine(path, path.name)))
    return found


CARD = StudioCard(name="Marram Studio", web="marram-studio.example")


@pytest.fixture
def job_of(lab: LabSheet) -> Callable[[str], Job]:
    def make(template: str) -> Job:
        found = TEMPLATES[template]
        return Job(name="Test", template=found.id, product=found.product, sheets=found.sheets, lab=lab, studio=CARD)

    return make


def fake_photo(number: int, width: int, height: int, **more: object) -> Photo:
    """What is known of a photo, without a file."""
    digest = f"{number:064x}"[::-1]
    fields = {"id": digest[:16], "checksum": digest, "name": f"p{number}.jpg", "format": "JPEG", "size_bytes": 1}
    return Photo.model_validate({**fields, "width": width, "height": height, **more})


def noise(height: int, width: int, seed: int = 0) -> np.ndarray:
    """Smooth random colours, RGB."""
    small = np.random.default_rng(seed).integers(0, 255, (height // 8 + 1, width // 8 + 1, 3), np.uint8)
    return cv2.resize(small, (width, height), interpolation=cv2.INTER_CUBIC)


def one_sheet(layout: Layout, photos: tuple[Photo, ...] = (), placements: dict[str, Placement] | None = None) -> Job:
    """A job of one sheet, "p"."""
    return Job(
        name="j", template="t", product="collage", sheets=(Sheet(id="p", name="P", layout=layout),),
        lab=LABS["gullwing-300"], pile=Pile(photos=photos),
        editions=(Edition(fillings={"p": Filling(placements=placements or {})}),),
    )  # fmt: skip


def first(job: Job) -> Resolved:
    """A job's first sheet as it is drawn."""
    return resolve_sheet(job, job.sheets[0].id)


def drawn_items(job: Job, bench: bool = False, notes: bool = False, **more: bool) -> list[Item]:
    """What a job's first sheet is painted from."""
    return items(first(job), SHELF.asset, bench, notes, **more)


def shown(job: Job, sheet: str = "") -> dict[str, Placement]:
    """How the photos of a sheet (the first) lie, by opening, those of spans as well."""
    drawn = resolve_sheet(job, sheet or job.sheets[0].id).openings
    return {entry.layer.id: entry.placement for entry in drawn if entry.placement}


def opening_of(job: Job, identity: str) -> Opening:
    """An opening by its id, on whatever sheet."""
    return next(found for s in job.sheets if (found := s.layout.openings_by_id.get(identity)))
