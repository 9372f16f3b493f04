"""Cutting a subject out of a photo, begun with a rough stroke on it (C. Rother, V. Kolmogorov and A. Blake, "GrabCut", SIGGRAPH
2004, as OpenCV has it). What is cut out are lines, in fractions of the photo, so that it holds at any size of it."""

import cv2
import numpy as np
from numpy.typing import NDArray

from ..document import Cut, Stroke
from .areas import Size, coverage
from .edge_colours import extend_colours, mix_share

Bytes = NDArray[np.uint8]
Flags = NDArray[np.bool_]
_SIDE = 420  # px of the longer side on which it is worked out
_ROUNDS = 4
_EDGE = 0.015  # of the longer side: what lies so near the photo's edge is backdrop where the stroke does not touch it
_NEAR = 0.16  # about the stroke so far it is more likely subject than not
_MIXED_PX = 2  # about its edge, in which pixels may be of both
_SMALLEST = 0.0003  # of the photo: what even a drawn piece is at least
_SMALL = 0.002  # of the photo: smaller pieces and holes are none


def select_subject(image: Bytes, stroke: Stroke, begun: Cut | None = None, away: bool = False) -> Cut | None:
    """The subject that a stroke passes over. ``image``: all of the photo, (h, w, 3). None when nothing is told apart.

    With one that was ``begun``, what the stroke passes over comes to it, or goes ``away`` from it; further off it stays.
    """
    share = min(1.0, _SIDE / max(image.shape[:2]))
    size = Size(max(8, round(image.shape[1] * share)), max(8, round(image.shape[0] * share)))
    small = np.asarray(cv2.resize(image, (size.width, size.height), interpolation=cv2.INTER_AREA), np.uint8)
    sure = coverage(stroke, size, size.box) > 0.5
    if not sure.any():
        return None
    about = coverage(stroke.copy_with(radius=stroke.radius + _NEAR, soft=0.0, pressed=()), size, size.box) > 0.5
    before = None if begun is None else coverage(begun.copy_with(outside=False), size, size.box) > 0.5
    mask = _mark_known(sure, about, size) if before is None else _mark_known_around(before, sure, about, away)
    if not (np.isin(mask, (cv2.GC_BGD, cv2.GC_PR_BGD)).any() and np.isin(mask, (cv2.GC_FGD, cv2.GC_PR_FGD)).any()):
        return None
    cv2.setRNGSeed(1)
    models = np.zeros((1, 65)), np.zeros((1, 65))
    cv2.grabCut(small[..., ::-1].copy(), mask, None, *models, _ROUNDS, cv2.GC_INIT_WITH_MASK)  # type: ignore[call-overload]
    inside = ((mask == cv2.GC_FGD) | (mask == cv2.GC_PR_FGD)).astype(np.uint8)
    inside = _keep_touched_pieces(inside, sure if before is None else before | sure)
    lines = _lines(_soften_edge(small, inside, ~sure if before is None else about & ~sure), size)
    return lines.copy_with(soft=begun.soft, outside=begun.outside) if lines and begun else lines


def _mark_known(sure: Flags, about: Flags, size: Size) -> Bytes:
    """What is known before anything is told apart: the stroke is subject, the photo's edge is not."""
    mask = np.full(sure.shape, cv2.GC_PR_BGD, np.uint8)
    mask[about] = cv2.GC_PR_FGD
    edge = max(1, round(_EDGE * size.longer_side))
    border = np.ones(sure.shape, np.bool_)
    border[edge:-edge, edge:-edge] = False
    border[-edge:, edge:-edge] = False  # people stand on the lower edge
    mask[border] = cv2.GC_BGD
    mask[sure] = cv2.GC_FGD
    return mask


def _mark_known_around(before: Flags, sure: Flags, about: Flags, away: bool) -> Bytes:
    """The same, where a subject is known: only about the stroke is anything open."""
    mask = np.where(before, cv2.GC_FGD, cv2.GC_BGD).astype(np.uint8)
    mask[about & before] = cv2.GC_PR_FGD
    mask[about & ~before] = cv2.GC_PR_BGD
    mask[sure] = cv2.GC_BGD if away else cv2.GC_FGD
    return mask


def _keep_touched_pieces(inside: Bytes, sure: Flags) -> Bytes:
    """Only the pieces that the stroke passes over, small holes in them filled."""
    _, pieces = cv2.connectedComponents(inside)
    touched = np.isin(pieces, np.unique(pieces[sure & (inside > 0)])) & (inside > 0)
    count, holes, stats, _ = cv2.connectedComponentsWithStats((~touched).astype(np.uint8))
    for n in range(1, count):
        if stats[n, 4] < _SMALL * touched.size:
            touched[holes == n] = True
    return touched.astype(np.uint8)


def _soften_edge(small: Bytes, inside: Bytes, open_: Flags) -> Bytes:
    """How far pixels are of the subject, 0 to 255. What is told apart by likeness alone takes mixed pixels for the subject's.
    What is not ``open_`` stays as it is."""
    ball = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (2 * _MIXED_PX + 1, 2 * _MIXED_PX + 1))
    inner, outer = cv2.erode(inside, ball) > 0, cv2.dilate(inside, ball) == 0
    edge = ~(inner | outer) & open_
    share = inside.astype(np.float32)
    if inner.any() and outer.any():
        seen = small.astype(np.float32)
        follows, sure = mix_share(seen[edge], extend_colours(seen, inner)[edge], extend_colours(seen, outer)[edge])
        share[edge] += (follows - share[edge]) * sure
    return np.asarray(np.rint(share * 255), np.uint8)


def _lines(inside: Bytes, size: Size) -> Cut | None:
    # Twice as fine and smoothed, so that its edge is a line and no stair.
    fine = cv2.resize(inside, (size.width * 2, size.height * 2), interpolation=cv2.INTER_LINEAR)
    fine = (cv2.GaussianBlur(fine, (0, 0), 1.6) > 127).astype(np.uint8)
    # A piece that reaches the photo's edge goes on a little beyond it.
    wide = cv2.copyMakeBorder(fine, 4, 4, 4, 4, cv2.BORDER_REPLICATE)
    wide = cv2.copyMakeBorder(wide, 1, 1, 1, 1, cv2.BORDER_CONSTANT, value=0)
    contours, _ = cv2.findContours(wide, cv2.RETR_CCOMP, cv2.CHAIN_APPROX_NONE)
    rings = []
    for line in sorted(contours, key=lambda contour: -abs(cv2.contourArea(contour)))[:200]:
        if abs(cv2.contourArea(line)) < _SMALLEST * fine.size:
            continue
        points = cv2.approxPolyDP(line, 0.7, closed=True).reshape(-1, 2) - 4.5
        places = points / (size.width * 2, size.height * 2)
        if len(places) >= 3:
            rings.append(tuple((round(x, 5), round(y, 5)) for x, y in places.tolist()))
    return Cut(rings=tuple(rings)) if rings else None
