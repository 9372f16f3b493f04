"""Which photos of a pile go into a book, in what order, how much each counts, and where one event ends and the next begins."""

import math
from collections.abc import Sequence
from datetime import datetime
from itertools import pairwise
from statistics import median

import numpy as np

from ..document import Photo
from ..document.base import Frozen
from ..photos.likeness import hash_distance

LIKE = 10  # bits of 64 in which photos of one scene differ at most; others differ in about half of them
TOGETHER_S = 120.0  # photos of one scene are taken within so many seconds
_EVENT, _STRETCH = 0.5, 8  # how surely an event ends, that another is counted; photos of a stretch of a long one
LONG_S, DAY_S = 20 * 60.0, 6 * 3600.0  # a pause that may end an event, and one that surely does


class LaidAside(Frozen):
    """A photo that is not laid, and why: it is spoilt, or nearly another one (``like``) that is sharper or has more stars; or
    others tell more of the day."""

    photo: str
    like: str = ""
    why: str


def set_spoilt_aside(photos: Sequence[Photo]) -> tuple[list[Photo], list[LaidAside]]:
    """Photos, and those that are spoilt: too dark, burnt out, blurred. Whoever gave a photo stars wants it."""
    spoilt = [photo for photo in photos if photo.found and photo.found.flaw and not photo.stars]
    away = {photo.id for photo in spoilt}
    kept_photos = [photo for photo in photos if photo.id not in away]
    return kept_photos, [LaidAside(photo=photo.id, why=photo.found.flaw) for photo in spoilt if photo.found]


def most_telling(photos: Sequence[Photo], count: int) -> tuple[list[Photo], list[LaidAside]]:
    """So many photos that tell of all that there is: of every event, of a long one of each stretch, and those that count most;
    and the others.

    Greedily, each time the one that adds most: what it is worth, less for every photo of its event that is there already
    (a submodular sum, after H. Lin and J. Bilmes, "A Class of Submodular Functions for Document Summarization", ACL 2011).
    ``photos``: in order of capture.
    """
    if count >= len(photos):
        return list(photos), []
    within, events = 0, list[int]()
    for entry in breaks(photos):
        within = 0 if entry >= _EVENT else within + 1
        events.append((events[-1] if events else -1) + (within % _STRETCH == 0))
    sizes = np.bincount(events)
    taken = np.zeros(len(sizes))
    values = np.array([photo_worth(photo) for photo in photos])
    share = np.sqrt(sizes)  # a long event tells more, but not as much more as it is longer
    left = np.ones(len(photos), bool)
    for _ in range(count):
        gains = np.where(left, values / (1.0 + 2.0 * taken[events] / share[events]), -1.0)
        best = int(np.argmax(gains))
        left[best] = False
        taken[events[best]] += 1
    aside = [
        LaidAside(photo=photo.id, why="not among the best")
        for photo, out in zip(photos, left, strict=True) if out
    ]  # fmt: skip
    return [photo for photo, out in zip(photos, left, strict=True) if not out], aside


def sort_by_time(photos: Sequence[Photo]) -> list[Photo]:
    """Photos in order of capture; those whose time nobody knows stay behind the one that they come after in the pile."""
    last = datetime.min
    order = []
    for index, photo in enumerate(photos):
        last = photo.taken.replace(tzinfo=None) if photo.taken else last
        order.append((last, index))
    return [photos[index] for _, index in sorted(order)]


def set_likes_aside(photos: Sequence[Photo]) -> tuple[list[Photo], list[LaidAside]]:
    """Photos, of each scene the best one alone, and those laid aside. ``photos``: in order of capture.

    Of one scene are photos that look alike and were taken one soon after another. The best has most stars, or is sharpest.
    """
    scenes: list[list[Photo]] = []
    for photo in photos:
        scene = next((s for s in reversed(scenes[-4:]) if any(_is_same_scene(photo, other) for other in s[-3:])), None)
        if scene is None:
            scenes.append([photo])
        else:
            scene.append(photo)
    kept_ids, aside = set(), []
    for scene in scenes:
        best = max(scene, key=lambda photo: (photo.stars, _detail(photo), photo.width * photo.height))
        kept_ids.add(best.id)
        for photo in scene:
            if photo is not best:
                why = "fewer stars" if photo.stars < best.stars else "less sharp"
                aside.append(LaidAside(photo=photo.id, like=best.id, why=why))
    return [photo for photo in photos if photo.id in kept_ids], aside


def _detail(photo: Photo) -> float:
    return photo.found.detail if photo.found else 0.0


def _is_same_scene(first: Photo, other: Photo) -> bool:
    if not first.found or not other.found or hash_distance(first.found.likeness, other.found.likeness) > LIKE:
        return False
    if (first.width > first.height) != (other.width > other.height):
        return False
    if first.taken and other.taken:
        return abs(first.taken.replace(tzinfo=None) - other.taken.replace(tzinfo=None)).total_seconds() <= TOGETHER_S
    return True


def photo_worth(photo: Photo) -> float:
    """How much a photo counts beside others, 1 for one of which nothing is known: by its stars, and by how large faces are
    in it."""
    faces = [area for area in photo.keep_areas if area.kind in ("face", "hand")]
    largest = max((area.height for area in faces), default=0.0)
    return 1.0 + 0.45 * photo.stars + min(0.6, 1.5 * largest)


def breaks(photos: Sequence[Photo]) -> list[float]:
    """How surely an event ends before each photo, 0 to 1: by the pause before it, beside the pauses about it. The first: 1."""
    times = [photo.taken.replace(tzinfo=None) if photo.taken else None for photo in photos]
    pauses = [
        max(0.0, (later - earlier).total_seconds()) if earlier and later else 0.0 for earlier, later in pairwise(times)
    ]
    gaps = [1.0]
    for n, pause in enumerate(pauses):
        usual = median(pauses[max(0, n - 8) : n + 9])
        gaps.append(_break(pause, usual))
    return gaps


def _break(pause: float, usual: float) -> float:
    if pause >= DAY_S:
        return 1.0
    if pause < LONG_S / 4:
        return 0.0
    longer = math.log(pause / max(usual, 30.0)) / math.log(40.0)
    return min(0.9, max(0.0, longer) * min(1.0, pause / LONG_S))
