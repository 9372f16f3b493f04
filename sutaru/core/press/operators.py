"""Paths as PDF operators."""

from fontTools.pens.basePen import BasePen

from ..geometry.matrices import Matrix


class Operators(BasePen):  # type: ignore[misc]
    """A fontTools pen that writes PDF path operators (ISO 32000-1, table 59); quadratic curves arrive as cubics."""

    def __init__(self, matrix: Matrix) -> None:
        super().__init__(None)
        self._matrix, self.parts = matrix, list[str]()

    def _place_operand(self, *points: tuple[float, float]) -> str:
        (a, c, e), (b, d, f) = self._matrix[0], self._matrix[1]
        return " ".join(f"{a * x + c * y + e:.4f} {b * x + d * y + f:.4f}" for x, y in points)

    def _moveTo(self, p: tuple[float, float]) -> None:  # noqa: N802 (fontTools' protocol)
        self.parts.append(f"{self._place_operand(p)} m")

    def _lineTo(self, p: tuple[float, float]) -> None:  # noqa: N802
        self.parts.append(f"{self._place_operand(p)} l")

    def _curveToOne(self, p: tuple[float, float], q: tuple[float, float], r: tuple[float, float]) -> None:  # noqa: N802
        self.parts.append(f"{self._place_operand(p, q, r)} c")

    def _closePath(self) -> None:  # noqa: N802
        self.parts.append("h")
