"""A rectangle parted into rows and columns: what storyboards, spreads and walls are made of. Lengths in mm."""

from __future__ import annotations

from dataclasses import dataclass

Box = tuple[float, float, float, float]  # left, top, width, height


@dataclass(frozen=True)
class Split:
    """Parts side by side ("across") or one above the other ("down"), by weight; None stands for one photo."""

    way: str
    parts: tuple[tuple[float, Split | None], ...]

    def boxes(self, box: Box, gap: float) -> list[Box]:
        """The photos' boxes, row by row within each part."""
        x, y, w, h = box
        length = (w if self.way == "across" else h) - gap * (len(self.parts) - 1)
        total, start, out = sum(weight for weight, _ in self.parts), 0.0, list[Box]()
        for weight, part in self.parts:
            size = length * weight / total
            inner = (x + start, y, size, h) if self.way == "across" else (x, y + start, w, size)
            out += part.boxes(inner, gap) if part else [inner]
            start += size + gap
        return out


def across(*parts: float | tuple[float, Split]) -> Split:
    """Parts beside each other: a weight for one photo, or a weight and what it is parted into."""
    return Split("across", tuple(part if isinstance(part, tuple) else (float(part), None) for part in parts))


def down(*parts: float | tuple[float, Split]) -> Split:
    """Parts one above the other."""
    return Split("down", tuple(part if isinstance(part, tuple) else (float(part), None) for part in parts))


def even(columns: int, rows: int) -> Split:
    """Photos of one size."""
    return down(*[(1.0, across(*[1.0] * columns))] * rows)
