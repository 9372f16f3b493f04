"""A pile is stored in chunks: a photo more costs one of them; piles that were stored whole open and go on."""

from hashlib import sha256
from pathlib import Path

import pytest

from sutaru.core.document import Found, Job, Photo, Pile
from sutaru.core.document.photo import EarlierPile
from sutaru.core.edits.apply import apply
from sutaru.core.edits.kinds import BringIn, Star, TakeOut
from sutaru.core.formats.shelf import read_shelf
from sutaru.shelf import FOLDER
from sutaru.store import Database, Jobs, Parts, Photos


def photos(count: int, first: int = 0) -> tuple[Photo, ...]:
    names = [sha256(b"%d" % n).hexdigest() for n in range(first, first + count)]
    return tuple(
        Photo(id=name[:16], checksum=name, name=f"Skerry Sands {name[:9]}.jpg", format="JPEG", size_bytes=9_000_000, width=6000,
              height=4000, found=Found()) for name in names
    )  # fmt: skip


def empty_job() -> Job:
    shelf = read_shelf(FOLDER)
    template = shelf.templates["card-portrait"]
    return Job(
        name="Pile", template=template.id, product="card", sheets=template.sheets, lab=shelf.labs["gullwing-300"]
    )


class Store:
    """A data folder, opened anew by ``again``."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder
        self.database = Database(folder / "sutaru.sqlite3")
        self.parts = Parts(self.database)
        self.photos = Photos(self.database, folder / "photos")
        self.jobs = Jobs(self.database, self.parts, self.photos)

    def again(self) -> "Store":
        self.database.close()
        return Store(self.folder)

    def stored_bytes(self) -> int:
        with self.database.reading() as db:
            return db.execute("SELECT sum(length(name) + length(data)) FROM part").fetchone()[0]


@pytest.fixture
def store(tmp_path: Path) -> Store:
    return Store(tmp_path)


def bring(*some: Photo):
    return lambda job: (apply(job, BringIn(photos=some)), "bring in")


def test_one_photo_more_in_a_pile_of_5000_stores_less_than_8_kb_and_all_of_it_is_read_again(store: Store) -> None:
    job = store.jobs.create(apply(empty_job(), BringIn(photos=photos(5000))))
    before = store.stored_bytes()
    store.jobs.edit(job, bring(*photos(1, 5000)))
    assert store.stored_bytes() - before < 8_000
    names = [photo.name for photo in store.jobs.head(job).job.photos]
    again = store.again().jobs.head(job).job
    assert [photo.name for photo in again.photos] == names
    assert len(names) == 5001


def test_whatever_comes_in_or_goes_the_chunks_around_stay() -> None:
    some = photos(2000)
    pile = apply(empty_job(), BringIn(photos=some)).pile
    assert 10 < len(pile.chunks) < 80
    assert tuple(photo for chunk in pile.chunks for photo in chunk.photos) == pile.photos
    job = empty_job().copy_with(pile=pile)
    for changed in (
        apply(job, BringIn(photos=photos(1, 9000))),
        apply(job, TakeOut(photos=(some[700].id,))),
        apply(job, Star(photos=(some[700].id,), stars=4)),
    ):
        shared = {chunk.digest for chunk in pile.chunks} & {chunk.digest for chunk in changed.pile.chunks}
        assert len(shared) >= len(pile.chunks) - 2


def test_few_photos_are_put_where_sorting_puts_them() -> None:
    some = photos(40)
    one_by_one = empty_job()
    for photo in some:
        one_by_one = apply(one_by_one, BringIn(photos=(photo,)))
    assert one_by_one.pile == apply(empty_job(), BringIn(photos=some)).pile


def test_a_pile_that_was_stored_whole_keeps_its_name_and_its_changes_are_chunks(store: Store) -> None:
    whole = empty_job().copy_with(pile=EarlierPile(photos=photos(300)))
    job = store.jobs.create(whole)
    root = store.jobs.head(job).root
    store = store.again()
    opened = store.jobs.head(job)
    assert opened.root == opened.job.digest == root
    assert isinstance(opened.job.pile, EarlierPile)
    store.jobs.edit(job, lambda job: (job.copy_with(name="Renamed"), "rename"))  # its pile stays as it is stored
    store = store.again()
    assert store.jobs.head(job).job.pile == whole.pile
    store.jobs.edit(job, bring(*photos(1, 300)))
    store = store.again()
    assert type(store.jobs.head(job).job.pile) is Pile
    assert len(store.jobs.head(job).job.photos) == 301
    store.jobs.undo(job)
    store.jobs.undo(job)
    store = store.again()
    assert store.jobs.head(job).root == root
    assert len(store.jobs.head(job).job.photos) == 300


def test_what_is_found_in_a_photo_changes_no_name(store: Store) -> None:
    for kind, first in ((Pile, 0), (EarlierPile, 10)):
        blind = tuple(photo.copy_with(found=None) for photo in photos(3, first))
        pile = kind(photos=blind)
        job = store.jobs.create(empty_job().copy_with(pile=pile))
        root = store.jobs.head(job).root
        for photo in blind:
            store.photos.keep_found(photo.checksum, Found(black=12.0))
        store = store.again()
        told = store.jobs.head(job)
        assert told.root == told.job.digest == root
        assert all(photo.found and photo.found.black == 12.0 for photo in told.job.photos)
