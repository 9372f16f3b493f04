"""Workers: what they take in, and the same work on a cluster's executor."""

import resource
from pathlib import Path

import numpy as np
import pytest
import tifffile

from sutaru.core.document import Photo
from sutaru.core.photos import decode, examine
from sutaru.work.executor import Workers
from sutaru.work.tasks import PROXY_SIDE, THUMB_SIDE, average_blocks, take_in
from tests.conftest import noise


def test_proxy_and_thumbnail_of_a_large_sixteen_bit_tiff(tmp_path: Path) -> None:
    path = tmp_path / "large.tif"
    picture = noise(2200, 3300)
    tifffile.imwrite(path, picture.astype(np.uint16) * 257, photometric="rgb")
    assert np.abs(decode(path, "large.tif").astype(int) - picture).max() <= 1
    photo, proxy, thumb, width = take_in(str(path), "large.tif")
    assert (photo.bits, photo.format, photo.width, photo.height) == (16, "TIFF", 3300, 2200)
    small, tiny = examine(proxy, "proxy"), examine(thumb, "thumb")
    assert small.width == width
    assert PROXY_SIDE <= width < 2 * PROXY_SIDE
    assert small.height == pytest.approx(width * 2 / 3, abs=1)
    assert THUMB_SIDE <= tiny.width < 2 * THUMB_SIDE


@pytest.mark.parametrize(("longer", "block"), [(300, 1), (1400, 4), (1650, 5), (2050, 6), (2600, 8)])
def test_a_thumbnail_is_the_mean_of_whole_blocks(longer: int, block: int) -> None:
    pixels = noise(longer * 2 // 3, longer)
    high, wide = pixels.shape[0] // block, longer // block
    means = pixels[: high * block, : wide * block].reshape(high, block, wide, block, 3).mean(axis=(1, 3))
    thumb = average_blocks(pixels, THUMB_SIDE)
    assert thumb.shape == means.shape
    assert np.abs(thumb - means).max() <= 1.5  # of 255: each of three steps rounds


@pytest.mark.filterwarnings("ignore")
def test_the_same_work_on_a_cluster(pile: list[tuple[Path, Photo]]) -> None:
    distributed = pytest.importorskip("distributed")
    path, known = pile[0]
    with distributed.LocalCluster(
        n_workers=1, threads_per_worker=3, processes=False, dashboard_address=None, silence_logs=50
    ) as cluster:
        workers = Workers(cluster.scheduler_address)
        assert (workers.count, workers.threads) == (1, 3)
        photo, *_ = workers.submit("photos", take_in, str(path), path.name).result(60)
        assert photo == known
        workers.close()


def fetched() -> int:
    """How many pages the system filled anew for eighty arrays of 1 MB, one after the other."""
    before = resource.getrusage(resource.RUSAGE_SELF).ru_minflt
    for _ in range(80):
        np.ones(1 << 20, np.uint8)
    return resource.getrusage(resource.RUSAGE_SELF).ru_minflt - before


@pytest.mark.filterwarnings("ignore")
def test_a_worker_of_a_cluster_keeps_its_memory_from_one_array_to_the_next() -> None:
    distributed = pytest.importorskip("distributed")
    with distributed.LocalCluster(n_workers=1, threads_per_worker=1, dashboard_address=None) as cluster:
        workers = Workers(cluster.scheduler_address)
        plainly = workers._cluster.submit(fetched).result(60)
        assert plainly > 10_000  # 256 pages each: such is how Dask starts its workers
        assert workers.submit("long", fetched).result(60) < plainly / 5
        workers.close()
