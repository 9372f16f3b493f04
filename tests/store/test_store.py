"""The store under any sequence of edits: a model beside it says what undo and redo must give; nothing is ever lost."""

import sqlite3
import tempfile
import threading
from pathlib import Path

import pytest
from hypothesis import HealthCheck, settings
from hypothesis import strategies as st
from hypothesis.stateful import RuleBasedStateMachine, initialize, invariant, rule

from sutaru.core.document import Found, Job, KeepArea, Photo
from sutaru.core.edits import BringIn, Clear, Edit, Fill, Place, Put, Swap, TakeOut, Write, apply, label
from sutaru.core.errors import EditRefused, NotFound
from sutaru.core.fitting import clamped
from sutaru.store import Database, Exports, Jobs, Photos
from tests.conftest import LABS, TEMPLATES, fake_photo

PHOTOS = [fake_photo(n, *size) for n, size in enumerate([(6000, 4000), (4000, 6000), (900, 600), (3600, 3600)], 1)]
OPENINGS = [opening.id for opening in TEMPLATES["collage-wind"].all_openings()]

photo_ids = st.sampled_from([photo.id for photo in PHOTOS])
openings = st.sampled_from(OPENINGS)
edits: st.SearchStrategy[Edit] = st.one_of(
    st.builds(BringIn, photos=st.lists(st.sampled_from(PHOTOS), min_size=1, max_size=3).map(tuple)),
    st.builds(TakeOut, photos=photo_ids.map(lambda p: (p,))),
    st.builds(Put, opening=openings, photo=photo_ids),
    st.builds(
        Place,
        opening=openings,
        fit=st.sampled_from(["cover", "whole"]),
        centre=st.tuples(st.floats(-2, 3), st.floats(-2, 3)),
        zoom=st.floats(0.1, 40),
        turn_deg=st.floats(-400, 400),
        mirror=st.booleans(),
    ),
    st.builds(Swap, first=openings, second=openings),
    st.builds(Clear, openings=openings.map(lambda o: (o,))),
    st.builds(Fill, only_empty=st.booleans()),
    st.builds(Write, layer=st.sampled_from(["title", "year"]), text=st.one_of(st.none(), st.text(max_size=20))),
)


def start() -> Job:
    template = TEMPLATES["collage-wind"]
    return Job(name="j", template=template.id, product="collage", pages=template.pages, lab=LABS["gullwing-300"])


class Bench(RuleBasedStateMachine):
    """A list of states with a position in it, beside the store."""

    @initialize()
    def begin(self) -> None:
        self.folder = tempfile.TemporaryDirectory()
        self.database = Database(Path(self.folder.name) / "s.sqlite3")
        self.jobs = Jobs(self.database)
        self.id = self.jobs.create(start())
        self.states, self.at = [start()], 0
        self.gestures: list[str | None] = [None]

    @rule(edit=edits, gesture=st.sampled_from([None, None, "keys"]))
    def edit(self, edit: Edit, gesture: str | None) -> None:
        before = self.states[self.at]
        try:
            after = apply(before, edit)
        except EditRefused:
            with pytest.raises(EditRefused):
                self.jobs.edit(self.id, lambda job: (apply(job, edit), "x"), gesture)
            return
        head = self.jobs.edit(self.id, lambda job: (apply(job, edit), label(job, edit)), gesture)
        assert head.job == after
        if after != before:
            self.states = [*self.states[: self.at + 1], after]
            self.gestures = [*self.gestures[: self.at + 1], gesture]
            self.at += 1

    @rule()
    def undo(self) -> None:
        if self.at == 0:
            with pytest.raises(EditRefused, match="nothing to undo"):
                self.jobs.undo(self.id)
            return
        gesture = self.gestures[self.at]
        self.at -= 1
        while gesture is not None and self.at > 0 and self.gestures[self.at] == gesture:
            self.at -= 1
        assert self.jobs.undo(self.id).job == self.states[self.at]

    @rule()
    def redo(self) -> None:
        if self.at == len(self.states) - 1:
            with pytest.raises(EditRefused, match="nothing to redo"):
                self.jobs.redo(self.id)
            return
        self.at += 1
        gesture = self.gestures[self.at]
        while gesture is not None and self.at + 1 < len(self.states) and self.gestures[self.at + 1] == gesture:
            self.at += 1
        assert self.jobs.redo(self.id).job == self.states[self.at]

    @rule()
    def restart(self) -> None:
        self.database.close()
        self.database = Database(Path(self.folder.name) / "s.sqlite3")
        self.jobs = Jobs(self.database)

    @invariant()
    def the_head_is_where_it_should_be(self) -> None:
        head = self.jobs.head(self.id)
        assert head.job == self.states[self.at]
        assert bool(head.undo) == (self.at > 0)
        # The document is always whole: it validates, and no placement leaves a gap.
        again = Job.model_validate_json(head.job.model_dump_json())
        for opening, placement in again.edition.placements.items():
            photo = again.photos_by_id[placement.photo]
            settled = clamped(again.openings_by_id[opening], photo, placement)
            assert settled.centre == pytest.approx(placement.centre, abs=1e-9)
            assert settled.zoom == pytest.approx(placement.zoom)

    def teardown(self) -> None:
        if hasattr(self, "database"):
            self.database.close()
            self.folder.cleanup()


TestBench = Bench.TestCase
TestBench.settings = settings(
    max_examples=25, stateful_step_count=25, deadline=None, suppress_health_check=list(HealthCheck), derandomize=True
)


@pytest.fixture
def database(tmp_path: Path):
    made = Database(tmp_path / "s.sqlite3")
    yield made
    made.close()


def test_a_failed_transaction_changes_nothing(database: Database) -> None:
    jobs = Jobs(database)
    job = jobs.create(start())

    def change(before: Job) -> tuple[Job, str]:
        raise EditRefused("No.")

    with pytest.raises(EditRefused):
        jobs.edit(job, change)
    with pytest.raises(sqlite3.IntegrityError), database.transaction() as db:
        db.execute("UPDATE job SET name = 'half' WHERE id = :id", {"id": job})
        db.execute("INSERT INTO revision (job, number, label, made, document) VALUES ('none', 1, '', '', '')")
    assert jobs.all()[0].name == "j"
    assert jobs.head(job).revision == 1


def test_edits_from_many_threads_are_all_kept(database: Database) -> None:
    jobs = Jobs(database)
    job = jobs.create(start())

    def bring(n: int) -> None:
        photo = fake_photo(100 + n, 600, 400)
        jobs.edit(job, lambda before: (apply(before, BringIn(photos=(photo,))), "bring"))

    threads = [threading.Thread(target=bring, args=(n,)) for n in range(24)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    head = jobs.head(job)
    assert len(head.job.photos) == 24
    assert head.revision == 25


def test_migrations_run_once(tmp_path: Path) -> None:
    for _ in range(2):
        database = Database(tmp_path / "s.sqlite3")
        with database.reading() as db:
            assert db.execute("PRAGMA user_version").fetchone()[0] == 2
            assert db.execute("PRAGMA foreign_keys").fetchone()[0] == 1
            assert db.execute("PRAGMA journal_mode").fetchone()[0] == "wal"
        database.close()


def test_exports_interrupted_by_the_end_are_told_so(database: Database) -> None:
    job = Jobs(database).create(start())
    exports = Exports(database)
    left, ended = exports.add(job, 1, "gullwing-300", "jpeg"), exports.add(job, 1, "gullwing-300", "jpeg")
    exports.end(left.id, "running")
    exports.end(ended.id, "done", manifest='{"files": []}')
    again = Exports(database)
    assert again.get(left.id).state == "failed"
    assert again.get(left.id).message == "The application was closed meanwhile. Export again."
    assert again.get(ended.id).manifest == {"files": []}
    assert {export.id for export in again.of(job)} == {left.id, ended.id}
    with pytest.raises(NotFound):
        again.get("nope")


def test_photo_files_are_found_by_content_only(database: Database, tmp_path: Path) -> None:
    photos = Photos(database, tmp_path / "photos")
    for name in ("../../etc/passwd", "a" * 63, "A" * 64, ""):
        with pytest.raises(NotFound):
            photos.path(name)
    photo = fake_photo(1, 3000, 2000)
    upload = photos.incoming / "upload"
    upload.write_bytes(b"pixels")
    photos.keep(photo, upload, b"proxy", b"thumb", 750)
    assert photos.path(photo.sha256).read_bytes() == b"pixels"
    assert photos.proxy(photo) == (photos.path(photo.sha256, "proxy"), 0.25)
    (photos.incoming / "left").write_bytes(b"of a killed process")
    assert Photos(database, tmp_path / "photos").known(photo.sha256) == (photo, 750)
    assert not list(photos.incoming.iterdir())


def keep(photos: Photos, tmp_path: Path, photo: Photo) -> None:
    upload = photos.incoming / f"upload-{photo.id}"
    upload.write_bytes(b"x")
    photos.keep(photo, upload, b"proxy", b"thumb", 600)


def test_what_was_found_in_a_photo_is_known_for_good(tmp_path: Path) -> None:
    path = tmp_path / "s.sqlite3"
    photo, found = PHOTOS[0], Found(keep=(KeepArea(kind="face", left=0.2, top=0.1, width=0.2, height=0.3),))
    database = Database(path)
    photos = Photos(database, tmp_path / "photos")
    keep(photos, tmp_path, photo)
    keep(photos, tmp_path, PHOTOS[1])
    assert photos.found(photo.sha256) is None
    assert photos.unseen() == [photo.sha256, PHOTOS[1].sha256]
    photos.keep_found(photo.sha256, found)
    assert photos.found(photo.sha256) == found
    keep(photos, tmp_path, photo)  # brought in once more
    assert photos.found(photo.sha256) == found
    database.close()
    again = Photos(Database(path), tmp_path / "photos")
    assert again.found(photo.sha256) == found
    assert again.found(PHOTOS[1].sha256) is None
    assert again.found("0" * 64) is None  # never brought in
    assert again.unseen() == [PHOTOS[1].sha256]
    job = apply(start(), BringIn(photos=(photo, PHOTOS[1])))
    known = again.informed(job)
    assert [p.found for p in known.photos] == [found if p.id == photo.id else None for p in job.photos]
    assert again.informed(known) is known


def test_an_edit_asks_the_database_as_often_for_a_large_pile_as_for_a_small_one(tmp_path: Path) -> None:
    database = Database(tmp_path / "s.sqlite3")
    photos = Photos(database, tmp_path / "photos")
    jobs = Jobs(database, photos.informed)

    def statements(count: int) -> int:
        pile = tuple(fake_photo(1000 + n, 900, 600) for n in range(count))
        identity = jobs.create(apply(start(), BringIn(photos=pile)))
        for photo in pile:
            keep(photos, tmp_path, photo)
        asked: list[str] = []
        with database.reading() as connection:
            connection.set_trace_callback(asked.append)
        jobs.edit(identity, lambda job: (apply(job, Fill()), "fill"))
        with database.reading() as connection:
            connection.set_trace_callback(None)
        return len(asked)

    assert statements(4) == statements(60) < 12
