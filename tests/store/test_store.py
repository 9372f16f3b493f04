"""The store under any sequence of edits: a model beside it says what undo and redo must give; nothing is ever lost."""

import itertools
import sqlite3
import tempfile
import threading
from contextlib import closing
from datetime import date, timedelta
from pathlib import Path

import pytest
from hypothesis import HealthCheck, settings
from hypothesis import strategies as st
from hypothesis.stateful import RuleBasedStateMachine, initialize, invariant, precondition, rule

from sutaru.core.document import EMPTY, Found, Job, KeepArea, Pile, parts
from sutaru.core.edits.apply import apply, label
from sutaru.core.edits.kinds import (
    AddEdition,
    AddLayers,
    BringIn,
    Clear,
    Edit,
    Fill,
    Place,
    Put,
    RemoveEdition,
    RemoveLayers,
    Rename,
    SetFields,
    Spot,
    Swap,
    TakeOut,
    Write,
)
from sutaru.core.errors import EditRefused, NotFound
from sutaru.core.fitting import clamp_placement, resolve_sheets
from sutaru.store import Database, Jobs, Parts, Photos, Tasks
from sutaru.store.copies import NAME, day_copies, day_of
from tests.conftest import LABS, TEMPLATES, fake_photo

PHOTOS = [fake_photo(n, *size) for n, size in enumerate([(6000, 4000), (4000, 6000), (900, 600), (3600, 3600)], 1)]
OPENINGS = [opening.id for opening in TEMPLATES["collage-wind"].walk_openings()]
ON = {"sheet": st.just("print"), "edition": st.sampled_from(["", "", "second"])}

photo_ids = st.sampled_from([photo.id for photo in PHOTOS])
openings = st.sampled_from(OPENINGS)
spots = openings.map(lambda o: Spot(sheet="print", opening=o))
edits: st.SearchStrategy[Edit] = st.one_of(
    st.builds(BringIn, photos=st.lists(st.sampled_from(PHOTOS), min_size=1, max_size=3).map(tuple)),
    st.builds(TakeOut, photos=photo_ids.map(lambda p: (p,))),
    st.builds(Put, **ON, opening=openings, photo=photo_ids, expect=st.sampled_from([None, None, ""])),
    st.builds(
        Place,
        **ON,
        opening=openings,
        fit=st.sampled_from(["cover", "whole"]),
        centre=st.tuples(st.floats(-2, 3), st.floats(-2, 3)),
        zoom=st.floats(0.1, 40),
        turn_deg=st.floats(-400, 400),
        mirror=st.booleans(),
    ),
    st.builds(Swap, edition=ON["edition"], first=spots, second=spots),
    st.builds(Clear, **ON, openings=openings.map(lambda o: (o,))),
    st.builds(Fill, edition=ON["edition"], only_empty=st.booleans()),
    st.builds(Write, **ON, layer=st.sampled_from(["title", "year"]), text=st.one_of(st.none(), st.text(max_size=20))),
    st.builds(AddEdition, id=st.just("second"), name=st.just("Second"), like=st.sampled_from([None, "first"])),
    st.builds(RemoveEdition, edition=st.just("second")),
    st.builds(RemoveLayers, sheet=st.just("print"), layers=openings.map(lambda o: (o,))),
    st.builds(
        SetFields, sheet=st.just("print"), layers=openings.map(lambda o: (o,)),
        fields=st.sampled_from([{"opacity": 0.5}, {"border.width_mm": 3.0}, {"blend": "multiply"}, {"visible": False}]),
    ),
    st.builds(
        AddLayers, sheet=st.just("print"), below=st.sampled_from([None, "large"]),
        layers=openings.map(lambda o: (TEMPLATES["collage-wind"].sheets[0].layout.openings_by_id[o],)),
    ),
)  # fmt: skip


def start() -> Job:
    template = TEMPLATES["collage-wind"]
    return Job(name="j", template=template.id, product="collage", sheets=template.sheets, lab=LABS["gullwing-300"])


class Store:
    """A database with all that stands on it."""

    def __init__(self, folder: Path) -> None:
        self.database = Database(folder / "s.sqlite3")
        self.parts = Parts(self.database)
        self.photos = Photos(self.database, folder / "photos")
        self.jobs = Jobs(self.database, self.parts, self.photos)


@pytest.fixture
def store(tmp_path: Path):
    made = Store(tmp_path)
    yield made
    made.database.close()


def done(jobs: Jobs, job: str, edit: Edit, gesture: str | None = None):
    return jobs.edit(job, lambda before: (apply(before, edit), label(before, edit)), gesture)


class Bench(RuleBasedStateMachine):
    """States with their parents and a place among them, beside the store; two clients work on it in turn."""

    @initialize()
    def begin(self) -> None:
        self.folder = tempfile.TemporaryDirectory()
        self.store = Store(Path(self.folder.name))
        self.id = self.store.jobs.create(start())
        self.states: dict[int, Job] = {1: start()}
        self.parents: dict[int, int | None] = {1: None}
        self.gestures: dict[int, str | None] = {1: None}
        self.at, self.seq, self.tip = 1, 1, 1

    def moved(self, number: int) -> None:
        if number != self.at:
            self.at, self.seq = number, self.seq + 1

    @rule(edit=edits, gesture=st.sampled_from([None, None, "keys"]))
    def edit(self, edit: Edit, gesture: str | None) -> None:
        before = self.states[self.at]
        try:
            after = apply(before, edit)
        except EditRefused:
            with pytest.raises(EditRefused):
                done(self.store.jobs, self.id, edit, gesture)
            return
        head = done(self.store.jobs, self.id, edit, gesture)
        assert head.job.digest == after.digest
        if after.digest != before.digest:
            number = len(self.states) + 1
            self.states[number], self.parents[number], self.gestures[number] = after, self.at, gesture
            self.moved(number)
            self.tip = number

    @rule(first=edits, second=edits)
    def two_clients_at_once(self, first: Edit, second: Edit) -> None:
        """The second comes in while the first is being worked out: the first is worked out again, on what is there then."""
        overtaken = threading.Event()

        def slowly(before: Job) -> tuple[Job, str]:
            if not overtaken.is_set():
                overtaken.set()
                self.edit(second, None)
            return apply(before, first), "slow"

        try:
            head = self.store.jobs.edit(self.id, slowly)
        except EditRefused:
            return
        before = self.states[self.at]
        assert head.job.digest == apply(before, first).digest
        if head.root != before.digest:
            number = len(self.states) + 1
            self.states[number], self.parents[number], self.gestures[number] = head.job, self.at, None
            self.moved(number)
            self.tip = number

    @rule()
    def undo(self) -> None:
        if self.parents[self.at] is None:
            with pytest.raises(EditRefused, match="nothing to undo"):
                self.store.jobs.undo(self.id)
            return
        gesture, to = self.gestures[self.at], self.parents[self.at]
        while gesture is not None and self.parents[to] is not None and self.gestures[to] == gesture:
            to = self.parents[to]
        self.moved(to)
        self.store.jobs.undo(self.id)

    @rule()
    def redo(self) -> None:
        undone = [n for n in self.line_of(self.tip) if n > self.at]
        if not undone:
            with pytest.raises(EditRefused, match="nothing to redo"):
                self.store.jobs.redo(self.id)
            return
        assert self.at in self.line_of(self.tip)
        to, gesture = undone[0], self.gestures[undone[0]]
        for n in undone[1:]:
            if gesture is None or self.gestures[n] != gesture:
                break
            to = n
        self.moved(to)
        self.store.jobs.redo(self.id)

    def line_of(self, number: int | None) -> list[int]:
        """A state and those that led to it, the first one first."""
        found = []
        while number is not None:
            found.append(number)
            number = self.parents[number]
        return found[::-1]

    @rule(data=st.data())
    def go_anywhere(self, data: st.DataObject) -> None:
        number = data.draw(st.sampled_from(sorted(self.states)))
        self.store.jobs.go_to(self.id, number)
        self.moved(number)
        self.tip = self.tip if number in self.line_of(self.tip) else number

    @precondition(lambda self: len(self.states) > 3)
    @rule()
    def restart(self) -> None:
        self.store.database.close()
        self.store = Store(Path(self.folder.name))

    @invariant()
    def the_head_is_where_it_should_be(self) -> None:
        head = self.store.jobs.head(self.id)
        expected = self.states[self.at]
        assert (head.number, head.seq, head.root) == (self.at, self.seq, expected.digest)
        assert head.job == expected
        assert bool(head.undo) == (self.parents[self.at] is not None)
        assert bool(head.redo) == (self.tip != self.at)
        # The document is always whole: it validates, and no placement leaves a gap.
        again = Job.model_validate_json(head.job.model_dump_json())
        assert again.digest == head.root
        for edition in again.editions:
            for sheet in resolve_sheets(again, edition.id):
                for drawn in sheet.openings:
                    if drawn.placement:
                        settled = clamp_placement(drawn.layer, drawn.photo, drawn.placement)
                        assert settled.centre == pytest.approx(drawn.placement.centre, abs=1e-9)

    def teardown(self) -> None:
        if hasattr(self, "store"):
            self.store.database.close()
            self.folder.cleanup()


TestBench = Bench.TestCase
TestBench.settings = settings(
    max_examples=25, stateful_step_count=25, deadline=None, suppress_health_check=list(HealthCheck), derandomize=True
)


def test_redo_means_what_was_undone_whatever_is_newer(store: Store) -> None:
    """Two ways on from one state: undone in the older one, redo goes back there and not into the newer one."""
    jobs, job = store.jobs, store.jobs.create(start())

    def named(name: str) -> int:
        return done(jobs, job, Rename(name=name)).number

    common, older = named("common"), named("older")
    jobs.undo(job)
    newer = named("newer")
    assert jobs.go_to(job, older).redo == ""
    assert jobs.undo(job).redo == "rename to older"
    assert jobs.redo(job).number == older
    # What was undone is forgotten by what is done next, and by nothing else.
    jobs.go_to(job, common)
    assert jobs.redo(job).number == older
    jobs.go_to(job, newer)
    assert jobs.head(job).redo == ""
    # A job of before went to the newest.
    jobs.go_to(job, common)
    with store.database.transaction() as db:
        db.execute("UPDATE job SET tip = NULL")
    assert jobs.head(job).redo == "rename to newer"
    assert jobs.redo(job).number == newer


def test_a_failed_transaction_changes_nothing(store: Store) -> None:
    job = store.jobs.create(start())

    def change(before: Job) -> tuple[Job, str]:
        raise EditRefused("No.")

    with pytest.raises(EditRefused):
        store.jobs.edit(job, change)
    with pytest.raises(sqlite3.IntegrityError), store.database.transaction() as db:
        db.execute("UPDATE job SET name = 'half' WHERE id = :id", {"id": job})
        db.execute("INSERT INTO state (job, number, label, made, root) VALUES ('none', 1, '', '', '')")
    assert store.jobs.search()[0][0].name == "j"
    assert store.jobs.head(job).number == 1


def test_edits_from_many_threads_are_all_kept(store: Store) -> None:
    job = store.jobs.create(start())

    def bring(n: int) -> None:
        done(store.jobs, job, BringIn(photos=(fake_photo(100 + n, 600, 400),)))

    threads = [threading.Thread(target=bring, args=(n,)) for n in range(24)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    head = store.jobs.head(job)
    assert len(head.job.photos) == 24
    assert (head.number, head.seq) == (25, 25)


def test_one_job_never_waits_for_another(store: Store) -> None:
    slow, quick = store.jobs.create(start()), store.jobs.create(start())
    begun, goes_on = threading.Event(), threading.Event()

    def slowly(before: Job) -> tuple[Job, str]:
        begun.set()
        assert goes_on.wait(10)
        return apply(before, Rename(name="slow")), "slow"

    thread = threading.Thread(target=store.jobs.edit, args=(slow, slowly))
    thread.start()
    assert begun.wait(10)
    assert done(store.jobs, quick, Rename(name="quick")).number == 2  # while the other is being worked out
    goes_on.set()
    thread.join()
    assert store.jobs.head(slow).job.name == "slow"


def test_parts_are_stored_once_and_a_state_costs_what_changed(store: Store) -> None:
    job = store.jobs.create(apply(start(), BringIn(photos=tuple(PHOTOS))))
    twin = store.jobs.create(apply(start(), BringIn(photos=tuple(PHOTOS))))

    def count() -> int:
        with store.database.reading() as db:
            return db.execute("SELECT count(*) FROM part").fetchone()[0]

    before = count()
    done(store.jobs, job, Put(sheet="print", opening="large", photo=PHOTOS[0].id))
    assert count() == before + 3  # a filling, its edition, the root
    done(store.jobs, twin, Put(sheet="print", opening="large", photo=PHOTOS[0].id))
    assert count() == before + 3  # the same content has the same names
    done(store.jobs, job, SetFields(sheet="print", layers=("large",), fields={"opacity": 0.5}))
    assert count() == before + 6  # a layout, the list of sheets, the root
    # A state loads alone, whatever came before it.
    head = store.jobs.head(job)
    needed = {part.digest for part in parts(head.job)}
    with store.database.reading() as db:
        stored = {row["name"] for row in db.execute("SELECT name FROM part")}
    assert needed <= stored


def test_a_damaged_or_missing_part_is_said(store: Store, tmp_path: Path) -> None:
    job = store.jobs.create(start())
    done(store.jobs, job, Rename(name="later"))
    root = store.jobs.head(job).root
    store.database.close()
    with sqlite3.connect(tmp_path / "s.sqlite3") as db:
        db.execute("PRAGMA foreign_keys = OFF")
        db.execute("UPDATE part SET data = X'00' WHERE name = ?", (root,))
    db.close()
    again = Store(tmp_path)
    with pytest.raises(Exception, match="damaged on the disk. Go back to an earlier state"):
        again.jobs.head(job)
    assert again.jobs.get_state(job, 1).name == "j"  # the state before it is as good as ever
    again.database.close()
    store.database = Database(tmp_path / "s.sqlite3")


def test_migrations_run_once(tmp_path: Path) -> None:
    for _ in range(2):
        database = Database(tmp_path / "s.sqlite3")
        with database.reading() as db:
            assert db.execute("PRAGMA user_version").fetchone()[0] == 18
            assert db.execute("PRAGMA foreign_keys").fetchone()[0] == 1
            assert db.execute("PRAGMA journal_mode").fetchone()[0] == "wal"
        database.close()


def test_tasks_interrupted_by_the_end_are_told_so(store: Store) -> None:
    job = store.jobs.create(start())
    tasks = Tasks(store.database)
    left, over = tasks.add("export", job, {"lab": "gullwing-300"}), tasks.add("fill", job, {})
    tasks.begin(left.id)
    tasks.end(over.id, "done", outcome={"files": []})
    assert tasks.end(over.id, "failed", "late").state == "done"  # what has ended stays as it is
    again = Tasks(store.database)
    assert again.get(left.id).state == "failed"
    assert again.get(left.id).message == "The application was closed meanwhile. Run it again."
    assert again.get(left.id).asked == {"lab": "gullwing-300"}
    assert again.get(over.id).outcome == {"files": []}
    assert {task.id for task in again.list_of_job(job)} == {left.id, over.id}
    with pytest.raises(NotFound):
        again.get("nope")


def test_photo_files_are_found_by_content_only(store: Store, tmp_path: Path) -> None:
    photos = store.photos
    for name in ("../../etc/passwd", "a" * 63, "A" * 64, ""):
        with pytest.raises(NotFound):
            photos.path(name)
    photo = fake_photo(1, 3000, 2000)
    upload = photos.incoming / "upload"
    upload.write_bytes(b"pixels")
    photos.keep(photo, upload, b"proxy", b"thumb", 750)
    assert photos.path(photo.checksum).read_bytes() == b"pixels"
    assert photos.proxy(photo) == (photos.path(photo.checksum, "proxy"), 0.25)
    (photos.incoming / "left").write_bytes(b"of a killed process")
    assert Photos(store.database, tmp_path / "photos").find_known(photo.checksum) == (photo, 750)
    assert not list(photos.incoming.iterdir())


def keep(photos: Photos, photo) -> None:
    upload = photos.incoming / f"upload-{photo.id}"
    upload.write_bytes(b"x")
    photos.keep(photo, upload, b"proxy", b"thumb", 600)


def test_what_was_found_in_a_photo_is_known_for_good_and_is_no_edit(tmp_path: Path) -> None:
    photo, found = PHOTOS[0], Found(keep=(KeepArea(kind="face", left=0.2, top=0.1, width=0.2, height=0.3),))
    store = Store(tmp_path)
    keep(store.photos, photo)
    keep(store.photos, PHOTOS[1])
    job = store.jobs.create(apply(start(), BringIn(photos=(photo, PHOTOS[1]))))
    before = store.jobs.head(job)
    assert store.photos.get_found(photo.checksum) is None
    assert store.photos.unseen() == [photo.checksum, PHOTOS[1].checksum]
    store.photos.keep_found(photo.checksum, found)
    keep(store.photos, photo)  # brought in once more
    assert store.photos.get_found(photo.checksum) == found
    after = store.jobs.head(job)
    assert (after.root, after.seq) == (before.root, before.seq)
    assert [p.found for p in after.job.photos] == [found, None]
    store.database.close()
    again = Store(tmp_path)
    assert again.jobs.head(job).job.photos[0].found == found
    assert again.photos.get_found("0" * 64) is None  # never brought in
    assert again.photos.unseen() == [PHOTOS[1].checksum]
    again.database.close()


def test_names_and_what_is_said_stay_with_the_job(store: Store) -> None:
    """Two customers with the same file under other names: neither sees the other's."""
    mine = PHOTOS[0].copy_with(name="mine.jpg")
    first = store.jobs.create(apply(start(), BringIn(photos=(mine,))))
    second = store.jobs.create(
        apply(start(), BringIn(photos=(PHOTOS[0].copy_with(name="theirs.jpg", already_worked=True),)))
    )
    store.jobs._loaded.clear()
    store.parts.kept.clear()
    assert [store.jobs.head(job).job.photos[0].name for job in (first, second)] == ["mine.jpg", "theirs.jpg"]
    assert [store.jobs.head(job).job.photos[0].already_worked for job in (first, second)] == [False, True]


def test_an_edit_asks_the_database_as_often_for_a_large_job_as_for_a_small_one(store: Store) -> None:
    def statements(count: int) -> int:
        pile = tuple(fake_photo(1000 + n, 900, 600) for n in range(count))
        identity = store.jobs.create(apply(start(), BringIn(photos=pile)))
        asked: list[str] = []
        with store.database.transaction() as db:
            db.set_trace_callback(asked.append)
        done(store.jobs, identity, Fill())
        with store.database.transaction() as db:
            db.set_trace_callback(None)
        return len(asked)

    assert statements(4) == statements(60) < 12


def test_parts_let_go_of_the_longest_unused() -> None:
    from sutaru.store.parts import KeptParts

    kept = KeptParts(most=3 * len(EMPTY.pack()))
    fillings = [EMPTY.copy_with(pins=(f"o{n}",)) for n in range(9)]
    for filling in fillings:
        kept[filling.digest] = filling
    assert fillings[-1].digest in kept
    assert fillings[0].digest not in kept
    assert sum(len(part.pack()) for part in kept.values()) <= 3 * len(EMPTY.pack())
    del kept[fillings[-1].digest]
    assert len(kept) == len(list(itertools.islice(kept, 99)))
    assert Pile().pack() == b'{"chunks":[]}'


def test_a_state_that_could_not_be_read_again_is_not_stored(store: Store) -> None:
    job = store.jobs.create(start())
    before = store.jobs.head(job)

    def twice(now: Job) -> tuple[Job, str]:
        layout = now.sheets[0].layout
        doubled = layout.copy_with(layers=(*layout.layers, layout.layers[0]))
        return now.copy_with(sheets=(now.sheets[0].copy_with(layout=doubled),)), "harm it"

    def odd(now: Job) -> tuple[Job, str]:
        return now.copy_with(name=""), "harm it"

    def no_copies(now: Job) -> tuple[Job, str]:
        return now.copy_with(editions=(now.editions[0].copy_with(copies=0),)), "harm it"

    def same_photo(now: Job) -> tuple[Job, str]:
        return now.copy_with(pile=Pile.model_construct(photos=(PHOTOS[0], PHOTOS[0]))), "harm it"

    harms = {twice: "Two layers are called", odd: "at least 1", no_copies: "greater than", same_photo: "listed twice"}
    for harm, why in harms.items():
        with pytest.raises(EditRefused, match=f"This cannot be stored: .*{why}"):
            store.jobs.edit(job, harm)
    assert store.jobs.head(job).seq == before.seq
    with store.database.reading() as db:
        assert db.execute("SELECT count(*) FROM state").fetchone()[0] == 1


def test_what_is_stored_is_what_will_be_read(store: Store) -> None:
    """A whole number where there may be fractions is written otherwise than it will be read: the latter is stored."""
    job = store.jobs.create(start())

    def whole(now: Job) -> tuple[Job, str]:
        layout = now.sheets[0].layout.copy_with(safe_mm=7)
        return now.copy_with(sheets=(now.sheets[0].copy_with(layout=layout),)), "widen"

    head = store.jobs.edit(job, whole)
    assert head.root == head.job.digest
    store.parts.kept.clear()
    assert Jobs(store.database, store.parts, store.photos).head(job).job.digest == head.root


def test_what_was_found_in_a_photo_for_one_job_is_known_in_the_next(store: Store) -> None:
    photo = PHOTOS[0]
    first = store.jobs.create(start())
    done(store.jobs, first, BringIn(photos=(photo,)))
    found = Found(keep=(KeepArea(kind="face", left=0.1, top=0.1, width=0.2, height=0.2),))
    store.photos.keep_found(photo.checksum, found)
    second = store.jobs.create(start())
    head = done(store.jobs, second, BringIn(photos=(photo,)))
    assert head.job.photos[0].found == found
    assert store.jobs.head(second).job.photos[0].found == found
    third = store.jobs.create(start().copy_with(pile=Pile(photos=(photo,))))
    assert store.jobs.head(third).job.photos[0].found == found


def test_a_copy_of_the_day_is_made_anew_after_changes_and_only_then(store: Store, tmp_path: Path) -> None:
    day = date(2026, 11, 26)
    store.jobs.create(start())
    source = Database(tmp_path / "d" / NAME)
    source.keep_copy(day)
    copy = tmp_path / "d" / f"{NAME}.day-2026-11-26"
    before = copy.stat().st_mtime_ns
    source.keep_copy(day)
    assert copy.stat().st_mtime_ns == before  # nothing was written since
    with source.transaction() as db:
        db.execute("INSERT INTO recipe (name, document, kept) VALUES ('a', '{}', 'now')")
    source.keep_copy(day)
    with sqlite3.connect(f"file:{copy}?immutable=1", uri=True) as held:
        assert held.execute("SELECT count(*) FROM recipe").fetchone()[0] == 1
    for n in range(1, 12):
        source.keep_copy(day + timedelta(n))
    (tmp_path / "d" / f"{NAME}.day-2026-11-27-wal").touch()  # called alike
    assert [day_of(path) for path in day_copies(tmp_path / "d")] == [f"2026-12-{n:02d}" for n in range(7, 0, -1)]
    assert not list((tmp_path / "d").glob("*.part"))
    source.close()


def test_threads_that_come_and_go_leave_no_open_files(tmp_path: Path) -> None:
    path = tmp_path / "s.sqlite3"
    with closing(Database(path)) as database:

        def read() -> None:
            with database.reading() as one, database.reading() as other:
                assert one is not other
                assert one.execute("SELECT count(*) FROM job").fetchone()[0] == 0

        for _ in range(40):
            thread = threading.Thread(target=read)
            thread.start()
            thread.join()
        held = [fd for fd in Path("/proc/self/fd").iterdir() if fd.exists() and fd.resolve() == path]
        assert len(held) <= 3  # that which writes, and the two that were read by at once
