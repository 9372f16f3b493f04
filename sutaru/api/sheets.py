"""Sheets as they are drawn, by the key of all that decides how they look: what was measured, and their pictures.

A key never means anything else, so whatever was worked out for one is never worked out again, and never stale. It is
shared between states, editions and jobs. Everything here is bounded, in bytes or in number.
"""

import logging
import math
import threading
import time
from collections import Counter, OrderedDict, deque
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, replace

import cv2

from ..core.checks import Counts, Measured, measure_sheet, places
from ..core.checks.trial_paint import try_painting
from ..core.colour.profiles import convert_to_screen
from ..core.colour.proofing import Figures, Proof
from ..core.colour.proofing import View as ProofView
from ..core.document import Job, LabSheet, Layout, Press
from ..core.document.press import PaperSurface, Sharpening
from ..core.errors import NotFound, PhotoRefused
from ..core.fitting import Resolved, drawing_key, earlier_uses, resolve_sheet
from ..core.geometry.matrices import apply
from ..core.limits import PICTURES_AT_ONCE
from ..core.paint import Assets, LivePage, Painter, PixelGrid, items
from ..core.paint.grid import meet
from ..core.photos import Forgiving, Pixels
from ..core.press.raster import jpeg_bytes
from ..core.remembering import Kept

KNOWN_KEYS = 20_000
KNOWN_STATES = 400  # of jobs that keys were made of: each is held whole in memory
LIVE_BYTES, PATCH_BYTES, MEASURED_BYTES, JPEG_BYTES = 60 << 20, 80 << 20, 16 << 20, 24 << 20
FIGURES_WIDTH = 1600  # px across of the picture that figures are read from
BREATH_S, FIRST_BREATH_S = 0.01, 0.6
log = logging.getLogger("sutaru.sheets")


def proof_of(lab: LabSheet, assets: Assets) -> Proof:
    """A lab's press, to be seen; of a lab that names none, coated paper as most print it."""
    return Proof(lab.profile, lab.press or Press(), assets)


def _write_measured(sheet_measured: Measured) -> tuple[bytes, Counts]:
    """What was measured of a sheet as JSON, nothing of words where none have fields; and its counts."""
    return sheet_measured.model_dump_json(
        exclude=None if sheet_measured.words else {"words"}
    ).encode(), sheet_measured.counts


def _grid(sheet: Resolved, width: int) -> PixelGrid:
    """So many pixels across, the bleed included."""
    return PixelGrid.for_ppi(sheet.layout, width * 25.4 / (sheet.layout.width_mm + 2 * sheet.layout.bleed_mm))


@dataclass(frozen=True)
class Drawing:
    """What a key was made of. ``where`` is whose sheet it is: a job's id, or a template's."""

    where: str
    job: Job
    sheet: str
    edition: str
    earlier: dict[str, str]

    def resolve(self, fonts: Assets | None = None) -> Resolved:
        """The sheet as it is drawn. ``fonts``: reads the fonts it brings along; where no words are looked at none need be."""
        return resolve_sheet(self.job, self.sheet, self.edition, self.earlier, fonts)


@dataclass(frozen=True)
class Picture:
    """A picture of a sheet. Not ``whole``: a photo that cannot be read now is hatched in it, so it is not to be kept."""

    jpeg: bytes
    whole: bool = True


class Sheets:
    """Measures and paints sheets by key."""

    def __init__(self, pixels: Pixels, asset: Assets, say: Callable[[str], None]) -> None:
        """``say`` is told the id of a job whose sheets were measured in the background."""
        cv2.setNumThreads(1)
        self._asset, self._say = asset, say
        self._threads = ThreadPoolExecutor(2, "paint")
        self._painter = Painter(pixels, self._threads, patches_kept=Painter.room(PATCH_BYTES))
        self._forgiving = Painter(Forgiving(pixels), self._threads)
        self._lock = threading.Lock()
        self._painting = threading.Semaphore(PICTURES_AT_ONCE)
        self._known: OrderedDict[str, Drawing] = OrderedDict()
        self._states: Counter[str] = Counter()  # how many keys know a state, by its digest
        self._measured: Kept[str, tuple[bytes, Counts]] = Kept(MEASURED_BYTES, lambda m: len(m[0]))
        self._places: Kept[str, bytes] = Kept(MEASURED_BYTES // 4, len)
        self._pictures: Kept[tuple[object, ...], bytes] = Kept(JPEG_BYTES, len)
        self._live: OrderedDict[tuple[object, ...], tuple[LivePage, threading.Lock]] = OrderedDict()
        self._todo: deque[str] = deque()
        self._wake = threading.Condition()
        self._closed = False
        self._measurer = threading.Thread(target=self._measure_all, name="measurer", daemon=True)
        self._measurer.start()

    def keys(self, where: str, job: Job, edition: str = "") -> list[str]:
        """The keys of all sheets of an edition, in order; each can be asked for from now on. Raises KeyError."""
        filled, earlier, names = job.edition(edition), earlier_uses(job, edition), []
        for sheet in job.sheets:
            key = drawing_key(job, sheet.id, filled, earlier[sheet.id])
            names.append(key)
            with self._lock:
                if before := self._known.pop(key, None):
                    self._forget_state(before)
                # What was drawn of an earlier state is drawn the same of this one.
                self._known[key] = Drawing(where, job, sheet.id, edition, earlier[sheet.id])
                self._states[job.digest] += 1
        with self._lock:
            while len(self._known) > KNOWN_KEYS or len(self._states) > KNOWN_STATES:
                self._forget_state(self._known.popitem(last=False)[1])
        return names

    def _forget_state(self, drawing: Drawing) -> None:
        digest = drawing.job.digest
        self._states[digest] -= 1
        if not self._states[digest]:
            del self._states[digest]

    def drawing(self, key: str) -> Drawing:
        """What a key was made of. Raises NotFound when that is known no more: the job must be asked for anew."""
        with self._lock:
            kept_drawing = self._known.get(key)
        if kept_drawing is None:
            raise NotFound("This state of the sheet is not at hand any more.", "Ask for the job again.")
        return kept_drawing

    def measure(self, key: str) -> bytes:
        """A sheet's ledger and findings as JSON (Measured). Raises NotFound."""
        return self._measure(key)[0]

    def _measure(self, key: str) -> tuple[bytes, Counts]:
        answer = self._measured.get(key)
        if answer is None:
            answer = _write_measured(measure_sheet(self.drawing(key).resolve(self._asset)))
            self._measured.put(key, answer)
        return answer

    def try_out(self, key: str, before: Resolved | None) -> None:
        """Measures a sheet and paints what is new in it since ``before``, small. Raises whatever cannot be worked out."""
        measured = try_painting(self.drawing(key).resolve(self._asset), self._asset, before)
        self._measured.put(key, _write_measured(measured))

    def counts(self, key: str, now: bool = False) -> Counts | None:
        """What is counted of a sheet; None when that is not worked out, unless asked for ``now``."""
        answer = self._measure(key) if now else self._measured.get(key)
        return answer[1] if answer else None

    def measure_soon(self, keys: list[str]) -> None:
        """Has sheets measured in the background, the last asked for first; ``say`` tells when it is done."""
        if keys:
            with self._wake:
                self._todo.extendleft(reversed(keys))
                while len(self._todo) > KNOWN_KEYS:
                    self._todo.pop()
                self._wake.notify()

    def _measure_all(self) -> None:
        busy = False
        while True:
            with self._wake:
                self._wake.wait_for(lambda: self._closed or bool(self._todo))
                if self._closed:
                    return
                key = self._todo.popleft()
                after = self._known.get(self._todo[0]) if self._todo else None
            try:
                where = self.drawing(key).where
                if self._measured.get(key) is None:
                    # What a person waits for comes first: a breath after each sheet, a longer one when work begins.
                    time.sleep(BREATH_S if busy else FIRST_BREATH_S)
                    self._measure(key)
                busy = after is not None
            except NotFound:
                continue  # nobody can ask for it any more
            except Exception:
                log.exception("a sheet could not be measured")
                continue
            if after is None or after.where != where:
                self._say(where)

    def places(self, layout: Layout) -> bytes:
        """Where a layout's openings lie, as JSON (Places)."""
        places_here = self._places.get(layout.digest)
        if places_here is None:
            places_here = places(layout).model_dump_json().encode()
            self._places.put(layout.digest, places_here)
        return places_here

    def picture(
        self, key: str, width: int, notes: bool = False, mending: bool = True, proof: ProofView | None = None
    ) -> Picture:  # fmt: skip
        """A sheet as JPEG, ``width`` px wide (bleed included); ``proof``: as its lab's press shows it. Raises NotFound,
        FileRefused."""
        if kept_picture := self.get_kept_picture(key, width, notes, mending, proof):
            return kept_picture
        painted = self.paint(self.drawing(key), width, notes, mending, proof)
        if painted.whole:
            self._pictures.put((key, width, notes, mending, proof), painted.jpeg)
        return painted

    def get_kept_picture(
        self, key: str, width: int, notes: bool, mending: bool, proof: ProofView | None
    ) -> Picture | None:
        """A picture that was painted before; None when it is not kept."""
        kept_picture = self._pictures.get((key, width, notes, mending, proof))
        return None if kept_picture is None else Picture(kept_picture)

    def figures(self, key: str, at_mm: tuple[float, float]) -> Figures | None:
        """What a sheet's press makes of one place of it; None off the sheet. Raises NotFound, PhotoRefused."""
        sheet = self.drawing(key).resolve(self._asset)
        grid = _grid(sheet, FIGURES_WIDTH)
        x, y = (math.floor(v) for v in apply(grid.px_from_page, [at_mm])[0].tolist())
        box = meet((x, y, x + 1, y + 1), grid.box)
        if box is None:
            return None
        with self._painting:
            rgb, _ = self._painter.render(items(sheet, self._asset, bench=True, notes=False), grid, box)
        return proof_of(sheet.lab, self._asset).figures(rgb[0, 0])

    def paint_print(
        self, key: str, at_mm: tuple[float, float], side: int, how: Sharpening, surface: PaperSurface
    ) -> bytes:
        """A square of ``side`` px about a place of a sheet, at the lab's ppi and sharpened so, as JPEG of the best quality.
        Raises NotFound off the sheet, PhotoRefused."""
        sheet = self.drawing(key).resolve(self._asset)
        sheet = replace(sheet, lab=sheet.lab.copy_with(sharpen=how, surface=surface))
        grid = PixelGrid.for_print(sheet.layout, sheet.lab)
        x, y = (math.floor(v) - side // 2 for v in apply(grid.px_from_page, [at_mm])[0].tolist())
        x, y = max(0, min(x, grid.size[0] - side)), max(0, min(y, grid.size[1] - side))
        box = meet((x, y, x + side, y + side), grid.box)
        if box is None:
            raise NotFound("This place is not on the sheet.")
        layers = items(sheet, self._asset, bench=False, notes=False, printing=True)
        with self._painting:
            rgb, _ = self._painter.render(layers, grid, box)
        return jpeg_bytes(convert_to_screen(rgb, sheet.lab.profile), 95)

    def paint(
        self, drawing: Drawing, width: int, notes: bool = False, mending: bool = True, proof: ProofView | None = None
    ) -> Picture:  # fmt: skip
        """A sheet as JPEG. Of one that was painted before only what has changed is painted again."""
        sheet = drawing.resolve(self._asset)
        grid = _grid(sheet, width)
        place = (drawing.where, drawing.edition, drawing.sheet, grid, notes)
        with self._lock:
            live = self._live.setdefault(place, (LivePage(self._painter, grid), threading.Lock()))
            self._live.move_to_end(place)
            while len(self._live) > 1 and sum(page.nbytes for page, _ in self._live.values()) > LIVE_BYTES:
                self._live.popitem(last=False)
        layers = items(sheet, self._asset, bench=True, notes=notes, mending=mending)
        whole = True
        with self._painting, live[1]:
            try:
                rgb = live[0].picture(layers)
            except PhotoRefused:
                whole = False
                rgb, _ = self._forgiving.render(layers, grid)
        seen = proof_of(sheet.lab, self._asset).view(rgb, proof) if proof else convert_to_screen(rgb, sheet.lab.profile)
        return Picture(jpeg_bytes(seen, 90, "444" if width <= 700 or proof else "420"), whole)

    def close(self) -> None:
        """Ends the threads."""
        with self._wake:
            self._closed = True
            self._wake.notify_all()
        self._measurer.join(timeout=5)
        self._threads.shutdown()
