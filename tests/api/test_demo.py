"""The demo: made once, the same each time, of the sizes and kinds it should have."""

from pathlib import Path

import numpy as np
from PIL import Image

from sutaru.core.ordering import LAB_STATES
from sutaru.core.photos import decode, examine
from sutaru.demo import demo_data
from sutaru.demo.scenes import SCENES, picture
from sutaru.store import Database, Jobs, Orders, Parts, Photos, Tasks
from tests.conftest import shown


def test_scenes_are_seeded() -> None:
    for scene in SCENES:
        first, again = (picture(scene, 5, 240, 160) for _ in range(2))
        assert np.array_equal(first, again)
        assert first.shape == (160, 240, 3)
        assert first.std() > 8
    assert not np.array_equal(picture("beach", 1, 240, 160), picture("beach", 2, 240, 160))


def test_the_demo_has_photos_of_every_kind() -> None:
    shots = list(demo_data.shots())
    assert len(shots) >= 40
    assert {s.orientation for s in shots} == {1, 6, 8}
    assert any(s.worked for s in shots)
    sizes = [s.width * s.height / 1e6 for s in shots]
    assert 0.5 <= min(sizes) < 1
    assert max(sizes) == 24
    shapes = {round(s.width / s.height, 2) for s in shots}
    assert {1.5, 0.67, 1.0, 3.0} <= shapes


def test_demo_jobs_are_made_once(tmp_path: Path, monkeypatch) -> None:
    monkeypatch.setattr(demo_data, "LARGE", (3000, 2000))
    monkeypatch.setattr(demo_data, "MIDDLE", (2700, 1900))
    demo_data.make_demo(tmp_path, count=8)
    database = Database(tmp_path / "sutaru.sqlite3")
    jobs = Jobs(database, Parts(database), Photos(database, tmp_path / "photos"))
    made = {listed.name: jobs.get_state(listed.id, listed.head) for listed in jobs.search()[0]}
    filled = {name: sum(len(shown(job, sheet.id)) for sheet in job.sheets) for name, job in made.items()}
    assert filled == {
        "From the old album": 3,
        "Festival album, first spread": 4, "From dune to pier": 9, "For the festival stall": 3, "Two frames for the hall": 2,
        "Thank-you card": 1, "The kite club's year": 4, "Familienkalender Holm": 4,
        "Skerry Sands, three days of wind": 9, "Lanterns over the bay": 9, "The festival's photos, contact sheet": 8,
    }  # fmt: skip
    orders = Orders(database, tmp_path / "orders").list_newest()
    assert {order.state for order in orders} == {*LAB_STATES, "refused", "unsent"}
    (refused,) = [order for order in orders if order.state == "refused"]
    assert {"There is no paper velvet 300 here."} < {reason["reason"] for reason in refused.reasons}
    cards = next(listed.id for listed in jobs.search()[0] if listed.name == "Thank-you card")
    exported = [task for task in Tasks(database).list_of_job(cards) if task.state == "done"]
    assert sorted(len(task.outcome["files"]) for task in exported if task.outcome) == [
        1,
        6,
    ]  # print sheets; three editions
    assert all((tmp_path / "exports" / t.id / f["file"]).exists() for t in exported for f in (t.outcome or {})["files"])
    database.close()
    demo_data.make_demo(tmp_path, count=8)
    database = Database(tmp_path / "sutaru.sqlite3")
    assert Jobs(database, Parts(database), Photos(database, tmp_path / "photos")).search()[1] == 11
    database.close()
    # A camera's sideways file stands upright once read.
    path = tmp_path / "demo-photos" / "skerry-002.jpg"
    with Image.open(path) as stored:
        assert stored.width > stored.height
        assert stored.getexif()[0x0112] in (6, 8)
    photo = examine(path, path.name)
    assert photo.height > photo.width
    assert photo.taken is not None
    assert decode(path, path.name, 0.125).shape[0] > decode(path, path.name, 0.125).shape[1]
