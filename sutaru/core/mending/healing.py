"""What runs over an area from what lies around it.

``membrane``: values within it that are everywhere the mean of their four neighbours (the discrete Laplace equation), those
around it given. Laid under a source's own gradients it heals (P. Perez, M. Gangnet and A. Blake, "Poisson Image Editing",
SIGGRAPH 2003). ``continued``: values that go on as smoothly as they come, slopes and all (the biharmonic equation), for what
is thin. At the edge of the picture nothing is known beyond, and nothing is asked (Neumann).
"""

import cv2
import numpy as np
import scipy
from numpy.typing import NDArray

Floats = NDArray[np.float32]
Where = NDArray[np.bool_]

# Up to so many unknown pixels a sparse factorisation is exact and fast; beyond, a multigrid is faster.
_FACTORED = 30_000
# Cycles go on until the coarser levels find nothing as far off as this, of 255.
_CYCLES, _SWEEPS, _COARSEST, _STILL = 8, 4, 60, 0.15
_DAMPED = 0.8
_LAPLACE = np.array([[0, 1, 0], [1, -4, 1], [0, 1, 0]], np.float32)
_SWEEP = np.array([[0, 0, 0], [0, 1, 0], [0, 0, 0]], np.float32) + _LAPLACE * np.float32(_DAMPED / 4)
# The biharmonic operator's thirteen points: the Laplacian of the Laplacian.
_THIRTEEN = {
    (0, 0): 20, (0, 1): -8, (0, -1): -8, (1, 0): -8, (-1, 0): -8, (1, 1): 2, (1, -1): 2, (-1, 1): 2, (-1, -1): 2,
    (0, 2): 1, (0, -2): 1, (2, 0): 1, (-2, 0): 1,
}  # fmt: skip


def membrane(values: Floats, unknown: Where) -> Floats:
    """Values (h, w, c) with those of ``unknown`` (h, w) found from the others. At least one is known, or all become 0."""
    if not unknown.any():
        return values
    if unknown.all():
        return np.zeros_like(values)
    if int(unknown.sum()) <= _FACTORED:
        return _solve_factored(values, unknown)
    return _multigrid(values, unknown)


def _solve_factored(values: Floats, unknown: Where) -> Floats:
    height, width = unknown.shape
    ys, xs = np.nonzero(unknown)
    count = len(ys)
    index = np.full(unknown.shape, -1, np.int32)
    index[ys, xs] = np.arange(count)
    degree, given = np.zeros(count), np.zeros((count, values.shape[2]))
    rows: list[NDArray[np.int64]] = [np.arange(count)]
    columns: list[NDArray[np.int32] | NDArray[np.int64]] = [np.arange(count)]
    for dy, dx in ((0, 1), (0, -1), (1, 0), (-1, 0)):
        y, x = ys + dy, xs + dx
        there = (y >= 0) & (y < height) & (x >= 0) & (x < width)
        y, x = y.clip(0, height - 1), x.clip(0, width - 1)
        degree += there
        near = index[y, x]
        both = np.nonzero(there & (near >= 0))[0]
        rows.append(both)
        columns.append(near[both])
        known = there & (near < 0)
        given[known] += values[y, x][known]
    entries = np.concatenate([degree, *(np.full(len(row), -1.0) for row in rows[1:])])
    out = values.copy()
    out[ys, xs] = _solve_system(entries, np.concatenate(rows), np.concatenate(columns), given)
    return out


def _solve_system(
    entries: NDArray[np.float64], rows: NDArray[np.int64], columns: NDArray[np.int64], given: NDArray[np.float64]
) -> NDArray[np.float64]:  # fmt: skip
    """Of a symmetric positive definite matrix, whose entries at the same place add up: ordered for that, no pivots sought."""
    matrix = scipy.sparse.csc_matrix(scipy.sparse.coo_matrix((entries, (rows, columns)), (len(given), len(given))))
    factors = scipy.sparse.linalg.splu(
        matrix, permc_spec="MMD_AT_PLUS_A", diag_pivot_thresh=0.0, options={"SymmetricMode": True}
    )
    solution: NDArray[np.float64] = factors.solve(given)
    return solution


def _filter_neighbours(u: Floats, kernel: Floats) -> Floats:
    """Each pixel's neighbours weighed; beyond the edge lies the pixel itself."""
    return cv2.filter2D(u, -1, kernel, borderType=cv2.BORDER_REPLICATE).reshape(u.shape).astype(np.float32, copy=False)


def _swept(u: Floats, right_side: Floats | None, free: Floats, times: int) -> None:
    """Damped Jacobi sweeps of 4 u - (sum of neighbours) = asked (nothing: 0), in place where it is free."""
    within = (free[..., 0] > 0).astype(np.uint8)
    for _ in range(times):
        fresh = _filter_neighbours(u, _SWEEP)
        if right_side is not None:
            fresh += right_side * np.float32(_DAMPED / 4)
        cv2.copyTo(fresh, within, u)


def _resize_field(u: Floats, like: Floats, how: int) -> Floats:
    shape = like.shape[:2]
    return cv2.resize(u, (shape[1], shape[0]), interpolation=how).reshape(*shape, -1).astype(np.float32, copy=False)


def _cycle(u: Floats, right_side: Floats | None, levels: list[Floats]) -> float:
    """One V-cycle in place (W. L. Briggs, V. E. Henson and S. F. McCormick, A Multigrid Tutorial, 2000). Gives how far off the
    coarser levels found it."""
    free = levels[0]
    if len(levels) == 1:
        _swept(u, right_side, free, _COARSEST)
        return 0.0
    _swept(u, right_side, free, _SWEEPS)
    left = _filter_neighbours(u, _LAPLACE)
    if right_side is not None:
        left += right_side
    left *= free
    coarse = _resize_field(left, levels[1], cv2.INTER_AREA) * 4 * levels[1]
    error = np.zeros_like(coarse)
    _cycle(error, coarse, levels[1:])
    u += _resize_field(error, free, cv2.INTER_LINEAR) * free
    _swept(u, right_side, free, _SWEEPS)
    return float(np.abs(error).max())


def _multigrid(values: Floats, unknown: Where) -> Floats:
    """From coarse to fine, each begun with what was found before it. A coarse pixel is unknown when all four are."""
    known, free = [values], [unknown.astype(np.float32)[..., None]]
    while min(free[-1].shape[:2]) > 4 and free[-1].any():
        height, width = (side + side % 2 for side in free[-1].shape[:2])
        more = 0, height - free[-1].shape[0], 0, width - free[-1].shape[1]
        mask = cv2.copyMakeBorder(free[-1], *more, cv2.BORDER_REPLICATE).reshape(height // 2, 2, width // 2, 2, 1)
        held = cv2.copyMakeBorder(known[-1], *more, cv2.BORDER_REPLICATE).reshape(height // 2, 2, width // 2, 2, -1)
        weight = (1 - mask).sum(axis=(1, 3))
        known.append((held * (1 - mask)).sum(axis=(1, 3)) / np.maximum(weight, 1))
        free.append(mask.min(axis=(1, 3)))
    outside = free[-1][..., 0] == 0
    mean = known[-1][outside].mean(axis=0) if outside.any() else np.zeros(values.shape[2], np.float32)
    u = known[-1] * (1 - free[-1]) + free[-1] * mean
    _swept(u, None, free[-1], _COARSEST)
    for level in range(len(free) - 2, -1, -1):
        mask = free[level]
        u = known[level] * (1 - mask) + _resize_field(u, mask, cv2.INTER_LINEAR) * mask
        for _ in range(_CYCLES if level == 0 else 1):
            if _cycle(u, None, free[level:]) < _STILL:
                break
    return u


def continue_values(values: Floats, unknown: Where) -> Floats:
    """Values (h, w, c) with those of ``unknown`` going on from the others in value and in slope. What is too large for that is
    found on a smaller picture, being smooth."""
    count = int(unknown.sum())
    if count == 0:
        return values
    if count == unknown.size:
        return np.zeros_like(values)
    if count > _FACTORED:
        return _continue_on_coarse_grid(values, unknown)
    height, width = unknown.shape
    ys, xs = np.nonzero(unknown)
    index = np.full(unknown.shape, -1, np.int32)
    index[ys, xs] = np.arange(count)
    given = np.zeros((count, values.shape[2]))
    rows, columns, entries = [], [], []
    for (dy, dx), weight in _THIRTEEN.items():
        # Beyond the edge lies the picture mirrored there: level across it, which asks nothing.
        y, x = _mirror_indices(ys + dy, height), _mirror_indices(xs + dx, width)
        near = index[y, x]
        both = np.nonzero(near >= 0)[0]
        rows.append(both)
        columns.append(near[both])
        entries.append(np.full(len(both), float(weight)))
        known = near < 0
        given[known] -= weight * values[y, x][known]
    out = values.copy()
    out[ys, xs] = _solve_system(np.concatenate(entries), np.concatenate(rows), np.concatenate(columns), given)
    return out


def _mirror_indices(indices: NDArray[np.int64], side: int) -> NDArray[np.int64]:
    indices = np.where(indices < 0, -1 - indices, indices)
    return np.where(indices >= side, 2 * side - 1 - indices, indices).clip(0, side - 1)


def _continue_on_coarse_grid(values: Floats, unknown: Where) -> Floats:
    height, width = (side + side % 2 for side in unknown.shape)
    more = 0, height - unknown.shape[0], 0, width - unknown.shape[1]
    mask = cv2.copyMakeBorder(unknown.astype(np.uint8), *more, cv2.BORDER_REPLICATE) > 0
    held = cv2.copyMakeBorder(values, *more, cv2.BORDER_REPLICATE).reshape(height, width, -1)
    weight = (~mask).astype(np.float32)[..., None]
    blocks = height // 2, 2, width // 2, 2, -1
    total = weight.reshape(blocks).sum(axis=(1, 3))
    small = (held * weight).reshape(blocks).sum(axis=(1, 3)) / np.maximum(total, 1)
    continued = continue_values(small.astype(np.float32), total[..., 0] == 0)
    large = cv2.resize(continued, (width, height), interpolation=cv2.INTER_CUBIC).reshape(height, width, -1)
    return np.where(unknown[..., None], large[: unknown.shape[0], : unknown.shape[1]], values).astype(np.float32)
