"""Backups: made of a running studio, brought up to date, brought back whole or not at all."""

import json
import os
import shutil
import subprocess
import sys
import time
from pathlib import Path

import pytest

from sutaru.command_line.main import main
from sutaru.core.document import Photo
from sutaru.core.edits.kinds import BringIn, Rename
from sutaru.core.errors import FileRefused, NotFound
from sutaru.store import backup as backup_module
from sutaru.store.backup import MANIFEST, make_backup, restore_backup
from sutaru.store.copies import NAME
from sutaru.store.database import Database
from sutaru.store.jobs import Jobs
from sutaru.store.lock import FolderLock
from sutaru.store.parts import Parts
from sutaru.store.photos import Photos
from sutaru.store.trouble import StoreFailed
from tests.store.test_store import done, start


class Store:
    """A data folder in use."""

    def __init__(self, folder: Path) -> None:
        self.database = Database(folder / NAME)
        self.photos = Photos(self.database, folder / "photos")
        self.jobs = Jobs(self.database, Parts(self.database), self.photos)


@pytest.fixture
def studio(tmp_path: Path, pile: list[tuple[Path, Photo]]) -> tuple[Path, str]:
    """A data folder with a job of three photos; and the job's id."""
    folder = tmp_path / "data"
    here = Store(folder)
    photos = []
    for path, photo in pile[:3]:
        upload = here.photos.incoming / path.name
        upload.write_bytes(path.read_bytes())
        here.photos.keep(photo, upload, b"proxy", b"thumb", 100)
        photos.append(photo)
    identity = here.jobs.create(start())
    done(here.jobs, identity, BringIn(photos=tuple(photos)))
    here.database.close()
    (folder / "exports" / "e1").mkdir(parents=True)
    (folder / "exports" / "e1" / "wall.jpg").write_bytes(b"print")
    (folder / "pictures").mkdir()
    (folder / "pictures" / "x.jpg").write_bytes(b"made anew")
    return folder, identity


def names(folder: Path) -> set[str]:
    return {str(path.relative_to(folder)) for path in folder.rglob("*") if path.is_file()}


def test_a_backup_comes_back_as_it_was(studio: tuple[Path, str], tmp_path: Path) -> None:
    folder, identity = studio
    report = make_backup(folder, tmp_path / "kept")
    assert report.missing == ()
    assert report.added == report.files > 3
    brought = restore_backup(tmp_path / "kept", tmp_path / "new")
    assert brought.files == report.files
    assert names(tmp_path / "new") == {
        name for name in names(folder) if not name.startswith(("pictures", ".lock", "sutaru.log", f"{NAME}-"))
    }
    before, after = Store(folder), Store(tmp_path / "new")
    assert after.jobs.head(identity).job == before.jobs.head(identity).job
    photo = after.jobs.head(identity).job.photos[0]
    assert after.photos.path(photo.checksum).read_bytes() == before.photos.path(photo.checksum).read_bytes()
    assert (tmp_path / "new" / "exports" / "e1" / "wall.jpg").read_bytes() == b"print"
    before.database.close(), after.database.close()


def test_the_next_one_adds_what_is_new_and_photos_take_no_room_twice(studio: tuple[Path, str], tmp_path: Path) -> None:
    folder, identity = studio
    first = make_backup(folder, tmp_path / "kept")
    original = next(path for path in (folder / "photos").rglob("*") if len(path.name) == 64)
    linked = tmp_path / "kept" / original.relative_to(folder)
    assert os.path.samefile(original, linked)  # one file on the disk, two names
    here = Store(folder)  # in use meanwhile
    done(here.jobs, identity, Rename(name="Later"))
    again = make_backup(folder, tmp_path / "kept")
    assert again.added == 0
    assert again.files == first.files
    (folder / "exports" / "e1" / "wall.jpg").write_bytes(b"print, made anew")
    assert make_backup(folder, tmp_path / "kept").added == 1
    here.database.close()
    restore_backup(tmp_path / "kept", tmp_path / "new")
    later = Store(tmp_path / "new")
    assert later.jobs.head(identity).job.name == "Later"
    later.database.close()


def test_a_backup_that_was_cut_short_is_no_backup_and_the_one_before_stays(
    studio: tuple[Path, str], tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    folder, _ = studio

    def full(*asked: object, **more: object) -> None:
        raise OSError(28, "No space left on device")

    with monkeypatch.context() as disk:
        disk.setattr(backup_module, "_bring", full)
        with pytest.raises(OSError, match="No space"):
            make_backup(folder, tmp_path / "kept")
    with pytest.raises(NotFound, match="no finished backup"):
        restore_backup(tmp_path / "kept", tmp_path / "new")
    make_backup(folder, tmp_path / "kept")
    with monkeypatch.context() as disk:
        disk.setattr(backup_module, "_bring", full)
        with pytest.raises(OSError, match="No space"):
            restore_backup(tmp_path / "kept", tmp_path / "new")
    assert not (tmp_path / "new").exists()
    assert not list(tmp_path.glob(".new*"))
    assert restore_backup(tmp_path / "kept", tmp_path / "new").missing == ()


def test_backups_while_edits_come_in_are_each_of_one_moment(studio: tuple[Path, str], tmp_path: Path) -> None:
    """Another process writes all the time; what comes back opens, each time at a later state, which is whole."""
    folder, identity = studio
    code = (
        "import sys, pathlib; from tests.store.test_backup import Store; from tests.store.test_store import done\n"
        "from sutaru.core.edits.kinds import Rename\n"
        "here = Store(pathlib.Path(sys.argv[1])); print('ready', flush=True)\n"
        "for n in range(100_000): done(here.jobs, sys.argv[2], Rename(name=f'n{n}'))\n"
    )
    root = Path(__file__).parent.parent.parent
    here = Store(folder)
    before = here.jobs.head(identity).number
    here.database.close()
    writer = subprocess.Popen([sys.executable, "-c", code, str(folder), identity], stdout=subprocess.PIPE, cwd=root)
    try:
        assert writer.stdout
        assert writer.stdout.readline()
        seen = []
        for n in range(3):
            time.sleep(0.3)
            make_backup(folder, tmp_path / "kept")
            restore_backup(tmp_path / "kept", tmp_path / f"new-{n}")
            after = Store(tmp_path / f"new-{n}")
            head = after.jobs.head(identity)
            assert head.job.name == f"n{head.number - before - 1}"  # the state and its number are of one moment
            seen.append(head.seq)
            after.database.close()
        assert seen == sorted(set(seen))  # each later than the one before
    finally:
        writer.kill()
        writer.communicate()


def test_what_is_no_place_for_a_backup_is_said(studio: tuple[Path, str], tmp_path: Path) -> None:
    folder, _ = studio
    for target, said in (
        (folder / "kept", "lies in the data folder itself"),
        (folder / "exports" / "e1" / "wall.jpg", "lies in the data folder itself"),
        (tmp_path, "holds other things"),
    ):
        with pytest.raises(FileRefused, match=said):
            make_backup(folder, target)
    with pytest.raises(NotFound, match="There is no database"):
        make_backup(tmp_path / "nowhere", tmp_path / "kept")
    make_backup(folder, tmp_path / "kept")
    lock = FolderLock(tmp_path / "kept")
    with pytest.raises(StoreFailed, match="Another Sutaru is using the folder"):
        make_backup(folder, tmp_path / "kept")
    lock.release()
    with pytest.raises(FileRefused, match="is not empty"):
        restore_backup(tmp_path / "kept", folder)
    (tmp_path / "kept" / NAME).write_bytes(b"SQLite format 3\0" + bytes(4000))
    with pytest.raises(FileRefused, match="is damaged"):
        restore_backup(tmp_path / "kept", tmp_path / "new")
    (tmp_path / "kept" / MANIFEST).write_text("[]")
    with pytest.raises(NotFound, match="no finished backup"):
        restore_backup(tmp_path / "kept", tmp_path / "new")


def test_a_photo_that_is_missing_is_told_by_the_command(
    studio: tuple[Path, str], tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    folder, _ = studio
    assert main(["backup", str(tmp_path / "kept"), "--data", str(folder)]) == 0
    assert "new (" in capsys.readouterr().out
    lost = next(path for path in (folder / "photos").rglob("*") if len(path.name) == 64)
    lost.unlink()
    shutil.rmtree(tmp_path / "kept")
    assert main(["backup", str(tmp_path / "kept"), "--data", str(folder), "--json"]) == 1
    assert json.loads(capsys.readouterr().out)["missing"] == [lost.name]
    assert main(["restore", str(tmp_path / "kept"), "--data", str(tmp_path / "new")]) == 1
    assert "sutaru doctor says of which jobs" in capsys.readouterr().err
    assert main(["restore", str(tmp_path / "kept"), "--data", str(tmp_path / "new")]) == 2
    assert "is not empty. Give a new folder" in capsys.readouterr().err


def test_a_full_disk_and_a_damaged_database_are_a_sentence_each(
    studio: tuple[Path, str], tmp_path: Path, capsys: pytest.CaptureFixture[str], monkeypatch: pytest.MonkeyPatch
) -> None:
    folder, _ = studio

    def full(*asked: object, **more: object) -> None:
        raise OSError(28, "No space left on device")

    with monkeypatch.context() as disk:
        disk.setattr(backup_module, "_bring", full)
        assert main(["backup", str(tmp_path / "kept"), "--data", str(folder)]) == 2
    assert "The disk is full" in capsys.readouterr().err
    (folder / NAME).write_bytes(b"SQLite format 3\0" + bytes(9000))
    assert main(["backup", str(tmp_path / "kept"), "--data", str(folder)]) == 2
    assert "is damaged. See what can be saved: sutaru doctor." in capsys.readouterr().err
