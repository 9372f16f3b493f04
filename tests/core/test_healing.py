"""What runs over an area: beside exact solutions, general-purpose libraries and photographs of scikit-image."""

import cv2
import numpy as np
import pytest
import scipy.sparse as sparse
from scipy.sparse.linalg import spsolve
from skimage.metrics import peak_signal_noise_ratio as psnr
from skimage.metrics import structural_similarity as ssim
from skimage.restoration import inpaint_biharmonic

from sutaru.core.document import (
    Cover,
)
from sutaru.core.mending import Size
from sutaru.core.mending.areas import coverage
from sutaru.core.mending.healing import _multigrid, _solve_factored, continue_values, membrane
from tests.conftest import noise
from tests.core.test_retouching import ASTRONAUT, CAT, COFFEE, done, dot


def shapes() -> list[tuple[str, np.ndarray]]:
    """Where values are unknown: a blot, a thin long line, one that reaches the picture's edge and one with a hole."""
    blot, line, edge, ring = (np.zeros((180, 240), np.uint8) for _ in range(4))
    cv2.circle(blot, (120, 90), 70, 1, -1)
    cv2.polylines(line, [np.array([[5, 9], [90, 150], [160, 20], [233, 170]])], False, 1, 5)
    cv2.rectangle(edge, (0, 40), (130, 179), 1, -1)
    cv2.circle(ring, (120, 90), 80, 1, -1)
    cv2.circle(ring, (130, 80), 25, 0, -1)
    return [("blot", blot > 0), ("line", line > 0), ("edge", edge > 0), ("ring", ring > 0)]


def exact(values: np.ndarray, unknown: np.ndarray) -> np.ndarray:
    """The discrete Laplace equation put together from Kronecker products of one-dimensional differences: a chain of nodes
    whose ends are free, solved by SciPy."""
    height, width = unknown.shape

    def chain(n: int) -> sparse.csr_matrix:
        steps = sparse.diags([-np.ones(n - 1), np.ones(n - 1)], [0, 1], shape=(n - 1, n))
        return (steps.T @ steps).tocsr()

    laplace = sparse.kron(sparse.eye(height), chain(width)) + sparse.kron(chain(height), sparse.eye(width))
    laplace, free = laplace.tocsr(), unknown.ravel()
    out = values.astype(np.float64).reshape(-1, values.shape[2]).copy()
    right = -laplace[free][:, ~free] @ out[~free]
    out[free] = spsolve(laplace[free][:, free].tocsc(), right).reshape(-1, values.shape[2])
    return out.reshape(values.shape)


@pytest.mark.parametrize(("name", "unknown"), shapes())
def test_what_heals_is_the_exact_solution_of_the_poisson_equation(name: str, unknown: np.ndarray) -> None:
    values = COFFEE[100:280, 200:440].astype(np.float32)
    reference = exact(values, unknown)
    for solve, near in ((_solve_factored, 0.01), (_multigrid, 1.0)):
        found = solve(values, unknown)
        assert np.abs(found - reference).max() < near, (name, solve)
        assert (found[~unknown] == values[~unknown]).all()


def test_healing_of_a_source_with_other_light_is_the_poisson_equation_too() -> None:
    """Perez, Gangnet and Blake: gradients of the source within, values of the target at the rim."""
    image = COFFEE.copy()
    touch = Cover(id="a", area=dot(0.3, 0.4, 0.06), shift=(0.25, 0.1))
    size = Size(image.shape[1], image.shape[0])
    got = done(image, touch).astype(np.float64)
    x0, y0, x1, y1 = 100, 80, 320, 250
    unknown = (coverage(touch.area, size, size.box) > 1 / 512)[y0:y1, x0:x1]
    dx, dy = round(0.25 * size.width), round(0.1 * size.height)
    target, source = image[y0:y1, x0:x1].astype(float), image[y0 + dy : y1 + dy, x0 + dx : x1 + dx].astype(float)
    wanted = source + exact(target - source, unknown)
    share = coverage(touch.area, size, size.box)[y0:y1, x0:x1, None]
    wanted = np.clip(target + (wanted - target) * share, 0, 255)
    assert np.abs(got[y0:y1, x0:x1] - wanted).max() <= 1.0
    assert np.abs(got - image).max() > 40  # and it did something


def test_a_slope_goes_on_and_nothing_known_is_touched() -> None:
    x = np.arange(60, dtype=np.float32)[None, :, None] * np.ones((40, 1, 3), np.float32)
    unknown = np.zeros((40, 60), bool)
    unknown[10:30, 20:27] = True
    broken = np.where(unknown[..., None], 0, x).astype(np.float32)
    assert np.abs(membrane(broken, unknown) - x).max() < 1e-3
    curved = (x / 10) ** 2
    assert (
        np.abs(continue_values(np.where(unknown[..., None], 0, curved).astype(np.float32), unknown) - curved).max()
        < 0.5
    )
    assert membrane(x, np.ones((40, 60), bool)).max() == 0
    assert (membrane(x, np.zeros((40, 60), bool)) == x).all()


def scratched(image: np.ndarray, seed: int) -> tuple[np.ndarray, np.ndarray]:
    """A photograph with drawn hairs and dust, and where they lie."""
    rng = np.random.default_rng(seed)
    height, width = image.shape[:2]
    mask = np.zeros((height, width), np.uint8)
    for _ in range(4):
        line = np.cumsum(rng.normal(0, 25, (12, 2)) + rng.normal(0, 20, 2), 0) + (width / 2, height / 2)
        cv2.polylines(mask, [line.astype(np.int32)], False, 1, 3)
    for _ in range(30):
        cv2.circle(mask, (int(rng.integers(width)), int(rng.integers(height))), int(rng.integers(2, 5)), 1, -1)
    broken = image.copy()
    broken[mask > 0] = 30
    return broken, mask > 0


@pytest.mark.parametrize(("photo", "seed"), [(ASTRONAUT, 1), (COFFEE, 2), (CAT, 3)])
def test_hairs_and_dust_go_as_well_as_by_the_best_library(photo: np.ndarray, seed: int) -> None:
    broken, mask = scratched(photo, seed)
    ours = np.clip(np.rint(continue_values(broken.astype(np.float32), mask)), 0, 255).astype(np.uint8)
    others = [
        np.rint(inpaint_biharmonic(broken, mask, channel_axis=2) * 255).astype(np.uint8),
        cv2.inpaint(broken, mask.astype(np.uint8), 3, cv2.INPAINT_TELEA),
        cv2.inpaint(broken, mask.astype(np.uint8), 3, cv2.INPAINT_NS),
    ]
    assert psnr(photo, ours) > max(psnr(photo, other) for other in others) - 0.2
    assert ssim(photo, ours, channel_axis=2) > max(ssim(photo, other, channel_axis=2) for other in others) - 0.001


def test_what_is_too_large_to_go_on_is_found_smaller() -> None:
    image = cv2.GaussianBlur(noise(400, 400, 1), (0, 0), 30).astype(np.float32)
    unknown = np.zeros((400, 400), bool)
    unknown[60:300, 80:330] = True
    found = continue_values(np.where(unknown[..., None], 0, image).astype(np.float32), unknown)
    assert np.abs(found[~unknown] - image[~unknown]).max() == 0
    assert np.abs(found - image).max() < 40
    assert np.abs(np.diff(found, axis=0)).max() < 4  # no step at its rim
