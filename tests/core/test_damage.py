"""Files damaged at random: always a plain refusal or a picture, never any other error."""

import io
import json
import zipfile
from functools import cache
from pathlib import Path

import numpy as np
import pillow_heif
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from PIL import Image

from sutaru.core.document import Job
from sutaru.core.edits.apply import apply
from sutaru.core.edits.kinds import BringIn, Fill
from sutaru.core.errors import FileRefused, GeometryError, PhotoRefused
from sutaru.core.formats.bundle import Bundle, write_bundle
from sutaru.core.geometry.outlines import flatten
from sutaru.core.paint.svg import clean_svg
from sutaru.core.photos import decode, examine
from tests.conftest import LABS, SHELF, TEMPLATES, noise

relaxed = settings(max_examples=120, deadline=None, suppress_health_check=list(HealthCheck), derandomize=True)


@cache
def whole(kind: str) -> bytes:
    out = io.BytesIO()
    image = Image.fromarray(noise(48, 64, 3))
    if kind == "HEIF":
        pillow_heif.from_pillow(image).save(out, quality=80)
    else:
        exif = Image.Exif()
        exif[0x0112] = 6
        image.save(out, kind, **({"exif": exif} if kind in ("JPEG", "PNG", "WEBP") else {}))
    return out.getvalue()


@pytest.mark.filterwarnings("ignore")
@relaxed
@given(
    st.sampled_from(["JPEG", "PNG", "TIFF", "WEBP", "HEIF"]),
    st.lists(st.tuples(st.floats(0, 1, exclude_max=True), st.integers(0, 255)), max_size=6),
    st.floats(0, 1),
    st.booleans(),
)
def test_damaged_photos_are_refused_or_read(kind: str, changes: list, keep: float, cut: bool) -> None:
    data = bytearray(whole(kind))
    for where, value in changes:
        data[int(where * len(data))] = value
    if cut:
        data = data[: int(keep * len(data))]
    try:
        photo = examine(bytes(data), "x")
        pixels = decode(bytes(data), "x", 0.5)
    except PhotoRefused as refused:
        assert str(refused).startswith("x ")
        assert str(refused).count(".") >= 1
        return
    assert pixels.ndim == 3
    assert pixels.shape[2] == 3
    assert pixels.dtype == np.uint8
    assert photo.width >= 1


@pytest.fixture(scope="module")
def packed(pile: list, tmp_path_factory: pytest.TempPathFactory) -> Path:
    template = TEMPLATES["card-portrait"]
    paths = {photo.id: path for path, photo in pile}
    job = Job(name="c", template=template.id, product="card", sheets=template.sheets, lab=LABS["gullwing-300"])
    job = apply(apply(job, BringIn(photos=tuple(photo for _, photo in pile[:2]))), Fill())
    target = tmp_path_factory.mktemp("bundle") / "card.sutaru"
    write_bundle(target, job, lambda photo: paths[photo.id], SHELF.asset)
    return target


@relaxed
@given(st.lists(st.tuples(st.floats(0, 1, exclude_max=True), st.integers(0, 255)), min_size=1, max_size=8))
def test_damaged_bundles_are_refused_or_read(packed: Path, changes: list) -> None:
    data = bytearray(packed.read_bytes())
    for where, value in changes:
        data[int(where * len(data))] = value
    torn = packed.with_name("torn.sutaru")
    torn.write_bytes(data)
    try:
        bundle = Bundle(torn)
    except FileRefused:
        return
    try:
        for photo in bundle.job.photos:
            bundle.original(photo)
    except FileRefused:
        pass
    finally:
        bundle.close()


def layers(job: dict) -> list:
    return job["sheets"][0]["layout"]["layers"]


def lies(job: dict) -> dict:
    return job["editions"][0]["fillings"]["outside"]["placements"]["picture"]


@pytest.mark.parametrize(
    ("change", "sentence"),
    [
        (lambda job: job.update(schema_version=3), "made by a newer Sutaru"),
        (lambda job: job["sheets"].clear(), "sheets"),
        (lambda job: job["pile"]["photos"][0].update(checksum="../../x"), "checksum"),
        (lambda job: job["lab"].update(naming="{job.__class__}"), "naming"),
        (lambda job: job["lab"].update(ppi_least=900), "least ppi of a lab sheet cannot be above its target"),
        (lambda job: layers(job).append(layers(job)[0]), "Two layers are called paper"),
        (lambda job: layers(job)[1]["outline"].update(width_mm=-3), "width_mm"),
        (lambda job: lies(job).update(zoom=float("inf")), "zoom"),
    ],
)
def test_a_job_that_is_not_valid_says_what(packed: Path, tmp_path: Path, change, sentence: str) -> None:
    with zipfile.ZipFile(packed) as source:
        job = json.loads(source.read("job.json"))
        change(job)
        bad = tmp_path / "bad.sutaru"
        with zipfile.ZipFile(bad, "w") as target:
            target.writestr("job.json", json.dumps(job))
            for name in source.namelist()[1:]:
                target.writestr(name, source.read(name))
    with pytest.raises(FileRefused, match=sentence):
        Bundle(bad)


def test_names_in_a_bundle_are_never_paths(packed: Path, tmp_path: Path) -> None:
    bad = tmp_path / "bad.sutaru"
    with zipfile.ZipFile(packed) as source, zipfile.ZipFile(bad, "w") as target:
        for name in source.namelist():
            target.writestr(name, source.read(name))
        target.writestr("../../escaped", b"x")
    bundle = Bundle(bad)  # what the job does not list is not looked at
    assert len(bundle.job.photos) == 2
    bundle.close()
    assert not (tmp_path.parent.parent / "escaped").exists()


@relaxed
@given(st.text(alphabet="MmLlHhVvCcSsQqTtAaZz0123456789.,- eE", max_size=40))
def test_any_path_data_is_flattened_or_refused(text: str) -> None:
    try:
        polygons = flatten(text, 0.1)
    except GeometryError:
        return
    assert all(np.isfinite(polygon).all() for polygon in polygons)


@relaxed
@given(st.text(alphabet="<>/='\" abcgpathsvguse#:&;", max_size=80))
def test_any_svg_is_cleaned_or_refused(text: str) -> None:
    for svg in (text, f"<svg xmlns='http://www.w3.org/2000/svg' viewBox='0 0 9 9'>{text}</svg>"):
        try:
            clean = clean_svg(svg)
        except FileRefused:
            continue
        assert b"<script" not in clean
