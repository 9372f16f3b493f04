"""An export in parts: the same bytes whoever does them, a lost worker's done again, on a cluster that shares a folder alike."""

import itertools
import json
import os
import signal
import threading
import time
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from datetime import UTC, datetime
from pathlib import Path
from types import SimpleNamespace
from typing import Any

import pytest

from sutaru.core.document import (
    Edition,
    FileKind,
    Filling,
    Flat,
    Job,
    LabSheet,
    Layout,
    Opening,
    PdfRules,
    Photo,
    Pile,
    Placement,
    Press,
    Rectangle,
    Sheet,
    Text,
)  # fmt: skip
from sutaru.core.errors import ExportFailed, Stopped
from sutaru.core.paint import Painter
from sutaru.core.photos import PhotoPixels
from sutaru.core.press import exporting, pdf_pages
from sutaru.core.press.exporting import EVERY, Done, Piece, export
from sutaru.work.board import LOST, Run
from sutaru.work.executor import Workers
from sutaru.work.exports import SHARES, _collect_done, _share_out, export_job
from sutaru.work.tasks import STOP, Exported, run_pieces

MADE = datetime(2026, 6, 20, 10, 30, tzinfo=UTC)
Photos = list[tuple[Path, Photo]]


def album(pile: Photos, sheets: int, editions: int = 1, side: float = 90.0, **lab: Any) -> Job:
    """Sheets of a photo and words each."""
    opening = Opening(
        id="o", outline=Rectangle(width_mm=side - 10, height_mm=side - 20), surface=Flat(centre=(side / 2, side / 2))
    )
    made, fillings = [], {}
    for n in range(sheets):
        words = Text(id="w", text=f"Page {n + 1}", centre=(side / 2, side - 5), width_mm=60, height_mm=8, size_pt=9)
        made.append(
            Sheet(
                id=f"p{n}", name=f"Page {n + 1}", layout=Layout(width_mm=side, height_mm=side, layers=(opening, words))
            )
        )
        fillings[f"p{n}"] = Filling(placements={"o": Placement(photo=pile[n % len(pile)][1].id)})
    return Job(
        name="Album", template="t", product="album", sheets=tuple(made), pile=Pile(photos=tuple(photo for _, photo in pile)),
        lab=LabSheet(id="x", name="X", ppi_target=200, ppi_least=72, **lab),
        editions=tuple(Edition(id=f"e{n}", name=f"Family {n}", fillings=fillings, copies=n + 1) for n in range(editions)),
    )  # fmt: skip


def by_one(job: Job, pile: Photos, folder: Path, kind: FileKind, edition: str = "") -> dict[str, bytes]:
    """What one process writes."""
    pixels = PhotoPixels(lambda photo: next(path for path, own in pile if own.id == photo.id))
    files = export(job, folder, pixels, MADE, kind, painter=Painter(pixels), edition=edition)
    return {path.name: path.read_bytes() for path in files}


def by_workers(
    workers: Workers, job: Job, pile: Photos, folder: Path, kind: FileKind, edition: str = "",
    say: Callable[[Run], None] = lambda run: None,
) -> dict[str, bytes]:  # fmt: skip
    folder.mkdir(exist_ok=True)
    originals = {photo.checksum: str(path) for path, photo in pile}
    what = Exported(job.model_dump_json(), originals, {}, str(folder), kind, MADE.isoformat(), many=edition == EVERY)
    run = Run(None, folder, workers, lambda: say(run))  # type: ignore[arg-type]
    export_job(run, job, what, edition)
    return {path.name: path.read_bytes() for path in folder.iterdir()}


ONE_FILE: dict[str, Any] = {"press": Press(), "pdf": PdfRules(x4=True, one_file=True)}
LIVE: dict[str, Any] = {"pdf": PdfRules(one_file=True, live=True)}


@pytest.fixture(scope="module")
def workers():  # type: ignore[no-untyped-def]
    made = Workers()
    yield made
    made.close()


@pytest.mark.parametrize(
    ("kind", "lab", "editions"),
    [
        ("jpeg", {}, 1),
        ("tiff", {"press": Press()}, 1),
        ("pdf", ONE_FILE, 1),
        ("pdf", ONE_FILE, 3),
        ("jpeg", {}, 3),
        ("tiff", {"tiff_bits": 16}, 1),
        ("pdf", LIVE, 3),
    ],
)
def test_many_workers_write_the_same_bytes_as_one(
    tmp_path: Path, pile: Photos, workers: Workers, kind: FileKind, lab: dict[str, Any], editions: int
) -> None:
    job, edition = album(pile, 7, editions, **lab), EVERY if editions > 1 else ""
    (tmp_path / "one").mkdir()
    alone = by_one(job, pile, tmp_path / "one", kind, edition)
    told: list[tuple[int, int]] = []

    def say(run: Run) -> None:
        assert run.progress
        told.append((run.progress["done"], run.progress["total"]))

    together = by_workers(workers, job, pile, tmp_path / "many", kind, edition, say)
    assert sorted(together) == sorted(alone)  # nothing else is left in the folder
    assert together == alone
    assert told
    assert [done for done, _ in told] == sorted(done for done, _ in told)  # never back
    assert len({total for _, total in told}) == 1
    assert told[-1][0] <= told[-1][1]


def test_what_was_begun_last_is_what_is_told(tmp_path: Path) -> None:
    """Not a piece of work that ended without a word: all of its sheets may be painted and its last told of nine tenths."""
    for name, stage, done in (
        ("a", "painting Page 1", 90),
        ("b", "painting Page 3", 190),
        ("c", "painting Page 4", 20),
    ):
        (tmp_path / name).write_text(json.dumps({"stage": stage, "done": done, "total": 200}))
    run = Run(None, tmp_path, None, lambda: None)  # type: ignore[arg-type]
    run.total = 1000
    run._pass_on(["a", "b", "c", "not begun"])
    assert run.progress == {"stage": "painting Page 4", "done": 300, "total": 1000}


def test_a_file_of_many_sheets_is_made_from_pictures_made_ahead(tmp_path: Path, pile: Photos, workers: Workers) -> None:
    """That is what is parted: a picture that somebody exchanged would be in the file."""
    job = album(pile, 3, **ONE_FILE)
    piece = Piece(edition="e0", sheets=("p0", "p1", "p2"), file="Album.pdf")
    names = {piece.picture_of(own).file for own in piece.sheets}
    seen: set[str] = set()
    stop = threading.Event()

    def look() -> None:
        while not stop.is_set():
            seen.update(name for name in os.listdir(tmp_path / "out") if name in names)

    (tmp_path / "out").mkdir()
    watching = threading.Thread(target=look)
    watching.start()
    by_workers(workers, job, pile, tmp_path / "out", "pdf")
    stop.set()
    watching.join()
    assert seen == names
    assert sorted(os.listdir(tmp_path / "out")) == ["Album.pdf", "manifest.json"]


def test_sheets_are_checked_once_and_what_is_made_ahead_is_not_put_on_the_disk(
    tmp_path: Path, pile: Photos, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Where their pictures are made, by many."""
    job = album(pile, 3, **ONE_FILE)
    originals = {photo.checksum: str(path) for path, photo in pile}
    what = Exported(job.model_dump_json(), originals, {}, str(tmp_path), "pdf", MADE.isoformat())
    piece = Piece(edition="e0", sheets=("p0", "p1", "p2"), file="Album.pdf")
    done: list[str] = []
    check, fsync = exporting.check, os.fsync
    monkeypatch.setattr(exporting, "check", lambda drawn: (done.append(drawn.sheet), check(drawn))[1])
    monkeypatch.setattr(os, "fsync", lambda file: (done.append("disk"), fsync(file))[1])
    run_pieces(what, [piece.picture_of(own) for own in piece.sheets], 1, "news")
    assert done == ["p0", "p1", "p2"]
    done.clear()
    run_pieces(what, [piece.copy_with(ahead=True)], 1, "news")
    assert done == ["disk"]


@pytest.fixture
def together(tmp_path: Path, pile: Photos) -> tuple[Exported, Piece, bytes]:
    """A file of three sheets whose pictures others make, and what is to be in it."""
    job = album(pile, 3, **ONE_FILE)
    (tmp_path / "one").mkdir()
    alone = by_one(job, pile, tmp_path / "one", "pdf")["Album.pdf"]
    originals = {photo.checksum: str(path) for path, photo in pile}
    what = Exported(job.model_dump_json(), originals, {}, str(tmp_path), "pdf", MADE.isoformat())
    return what, Piece(edition="e0", sheets=("p0", "p1", "p2"), file="Album.pdf", ahead=True), alone


def test_a_file_is_put_together_while_its_last_pictures_are_made_and_they_go_with_it(
    tmp_path: Path, together: tuple[Exported, Piece, bytes], monkeypatch: pytest.MonkeyPatch
) -> None:
    what, piece, alone = together
    waits = threading.Event()
    clock = SimpleNamespace(sleep=lambda seconds: (waits.set(), time.sleep(seconds)), monotonic=time.monotonic)
    monkeypatch.setattr(exporting, "time", clock)
    with ThreadPoolExecutor(1) as other:
        run_pieces(what, [piece.picture_of("p0")], 1, "news")
        made = other.submit(run_pieces, what, [piece], 1, "joined")
        assert waits.wait(60)
        assert not made.done()
        run_pieces(what, [piece.picture_of("p1"), piece.picture_of("p2")], 1, "news")
        assert len(made.result(60)) == 1
    assert (tmp_path / "Album.pdf").read_bytes() == alone
    assert not any((tmp_path / piece.picture_of(own).file).exists() for own in piece.sheets)


def test_a_file_is_handed_out_with_its_pictures_and_after_them(together: tuple[Exported, Piece, bytes]) -> None:
    what, piece, _ = together
    pictures = [piece.picture_of(own) for own in piece.sheets]
    asked: list[list[Piece]] = []

    def run_in_workers(work: Callable[..., Any], groups: list[tuple[Exported, list[Piece], int]]) -> list[list[Done]]:
        asked.append([one for _, group, _ in groups for one in group])
        return [[Done(edition=one.edition, file={"file": one.file}) for one in group] for _, group, _ in groups]

    run = SimpleNamespace(workers=SimpleNamespace(count=2, threads=1), run_in_workers=run_in_workers)
    (done,) = _collect_done(run, what, pictures, [piece])  # type: ignore[arg-type]
    assert asked == [[*pictures, piece]]
    assert done.file == {"file": "Album.pdf"}


def test_a_picture_that_does_not_come_is_painted_where_it_is_wanted(
    tmp_path: Path, together: tuple[Exported, Piece, bytes], monkeypatch: pytest.MonkeyPatch
) -> None:
    """All that do not are waited for once, and their sheets are checked there."""
    what, piece, alone = together
    slept, checked = list[float](), list[str]()
    ticks, check = itertools.count(), exporting.check
    clock = SimpleNamespace(sleep=slept.append, monotonic=lambda: 10.0 * next(ticks))
    monkeypatch.setattr(exporting, "time", clock)
    monkeypatch.setattr(exporting, "check", lambda drawn: (checked.append(drawn.sheet), check(drawn))[1])
    run_pieces(what, [piece.picture_of("p1")], 1, "news")
    checked.clear()
    run_pieces(what, [piece], 1, "news")
    assert len(slept) == 3
    assert checked == ["p0", "p2"]
    assert (tmp_path / "Album.pdf").read_bytes() == alone


def test_who_waits_for_a_picture_hears_of_a_stop(
    tmp_path: Path, together: tuple[Exported, Piece, bytes], monkeypatch: pytest.MonkeyPatch
) -> None:
    what, piece, _ = together
    clock = SimpleNamespace(sleep=lambda seconds: (tmp_path / STOP).touch(exist_ok=False), monotonic=time.monotonic)
    monkeypatch.setattr(exporting, "time", clock)
    with pytest.raises(Stopped):
        run_pieces(what, [piece], 1, "news")
    assert not (tmp_path / "Album.pdf").exists()


def test_a_worker_of_one_thread_does_one_thing_at_a_time(
    tmp_path: Path, pile: Photos, monkeypatch: pytest.MonkeyPatch
) -> None:
    job = album(pile, 3, **ONE_FILE)
    originals = {photo.checksum: str(path) for path, photo in pile}
    piece = Piece(edition="e0", sheets=("p0", "p1", "p2"), file="Album.pdf")
    painting: set[str] = set()
    cells, real = Painter._patches, pdf_pages.prefetch

    def patches(self: Painter, *args: Any) -> Any:
        painting.add(threading.current_thread().name)
        return cells(self, *args)

    monkeypatch.setattr(Painter, "_patches", patches)
    written: list[bytes] = []
    for threads in (1, 2):
        painting.clear()
        folder = tmp_path / str(threads)
        folder.mkdir()
        what = Exported(job.model_dump_json(), originals, {}, str(folder), "pdf", MADE.isoformat())
        if threads == 1:
            monkeypatch.setattr(pdf_pages, "prefetch", None)  # not called
        run_pieces(what, [piece], threads, "news")
        monkeypatch.setattr(pdf_pages, "prefetch", real)
        written.append((folder / "Album.pdf").read_bytes())
        assert (painting == {threading.current_thread().name}) == (threads == 1)
    assert written[0] == written[1]


@pytest.mark.parametrize(("asked", "count"), [(1, 2), (7, 2), (40, 2), (200, 8), (3, 5)])
def test_shares_grow_small_towards_the_end(asked: int, count: int) -> None:
    pieces = [Piece(edition="e", sheets=(f"p{n}",), file=f"{n}.jpg") for n in range(asked)]
    shares = list(_share_out(pieces, count))
    assert [piece for share in shares for piece in share] == pieces
    sizes = [len(share) for share in shares]
    assert sizes == sorted(sizes, reverse=True)
    assert sizes[0] <= max(1, asked // (count * SHARES))
    assert sizes[-count:] == [1] * min(count, len(sizes))


def _dies_at_first(mark: str, n: int, news: str) -> int:
    """In a worker: the first time it is asked for the second piece, its process ends as when memory has run out."""
    if n == 1 and not Path(mark).exists():
        Path(mark).touch()
        os.kill(os.getpid(), signal.SIGKILL)
    return n * n


def _dies(n: int, news: str) -> int:
    if n == 1:
        os.kill(os.getpid(), signal.SIGKILL)
    return n


def test_what_a_lost_worker_had_is_done_again_but_not_for_ever(tmp_path: Path, workers: Workers) -> None:
    run = Run(None, tmp_path, workers, lambda: None)  # type: ignore[arg-type]
    mark = str(tmp_path / "died")
    assert run.run_in_workers(_dies_at_first, [(mark, n) for n in range(5)]) == [0, 1, 4, 9, 16]
    assert Path(mark).exists()
    with pytest.raises(Exception, match="(?i)abnormal|expired"):
        run.run_in_workers(_dies, [(n,) for n in range(LOST)])


def test_a_refusal_ends_all_pieces_and_a_stop_too(tmp_path: Path, pile: Photos, workers: Workers) -> None:
    job = album(pile, 4)
    gone = [(tmp_path / "gone.jpg", photo) for _, photo in pile]
    with pytest.raises(Exception, match="(?i)gone|missing|read|no such file"):
        by_workers(workers, job, gone, tmp_path / "out", "jpeg")
    with pytest.raises(Stopped):
        by_workers(workers, album(pile, 12, side=300), pile, tmp_path / "stopped", "tiff", say=lambda run: run.stop())
    with pytest.raises(ExportFailed, match="transparent"):
        what = Exported(job.model_dump_json(), {}, {}, str(tmp_path), "jpeg", MADE.isoformat(), transparent=True)
        export_job(Run(None, tmp_path, workers, lambda: None), job, what, "")  # type: ignore[arg-type]


@pytest.mark.filterwarnings("ignore")
def test_a_cluster_of_two_with_one_killed_writes_the_same_bytes(tmp_path: Path, pile: Photos) -> None:
    distributed = pytest.importorskip("distributed")
    job = album(pile, 10, side=200, **ONE_FILE)
    (tmp_path / "one").mkdir()
    alone = by_one(job, pile, tmp_path / "one", "pdf")
    with distributed.LocalCluster(
        n_workers=2, threads_per_worker=1, dashboard_address=None, silence_logs=50
    ) as cluster:
        workers = Workers(cluster.scheduler_address)
        pids = list(workers._cluster.run(os.getpid).values())
        assert len(set(pids)) == 2
        assert (workers.count, workers.threads) == (2, 1)
        killed: list[int] = []

        def say(run: Run) -> None:
            if not killed and run.progress and run.progress["done"] > 150:
                killed.append(pids[0])
                os.kill(pids[0], signal.SIGKILL)

        together = by_workers(workers, job, pile, tmp_path / "many", "pdf", say=say)
        assert killed == pids[:1]
        deadline = time.monotonic() + 60
        while workers.count < 2 and time.monotonic() < deadline:  # its nanny begins another
            time.sleep(0.1)
        workers.close()
    assert together == alone


def test_findings_go_through_pieces_whole(tmp_path: Path, pile: Photos, workers: Workers) -> None:
    """What is found is in the manifest alike, also where pictures are made ahead."""
    for kind, pdf_rules in (("png", PdfRules()), ("pdf", PdfRules(one_file=True))):
        job = album(pile, 3, 2).copy_with(lab=LabSheet(id="x", name="X", ppi_target=200, ppi_least=150, pdf=pdf_rules))
        (tmp_path / kind).mkdir()
        alone = by_one(job, pile, tmp_path / kind, kind, EVERY)
        many = by_workers(workers, job, pile, tmp_path / f"{kind}-many", kind, EVERY)
        assert many["manifest.json"] == alone["manifest.json"]
        assert len(json.loads(alone["manifest.json"])["stops"]) > 2
