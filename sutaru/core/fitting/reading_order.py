"""Reading order: the order in which an eye goes over a sheet's openings, left page first, row by row."""

from ..document import Layout, Opening
from ..geometry import outlines


def reading_order(layout: Layout) -> list[Opening]:
    """Openings by the part of the sheet between gutters and folds, then by rows, each from left to right.

    Two openings share a row when they overlap in height by more than half of the lower one.
    """
    boxes = {
        o.id: outlines.bounds([o.page_from_opening.apply(p) for p in o.outline.polygons()]) for o in layout.openings()
    }
    lines = sorted(line.at_mm for line in layout.lines if line.axis == "x")

    def part(opening: Opening) -> int:
        left, _, right, _ = boxes[opening.id]
        return sum((left + right) / 2 > line for line in lines)

    ordered: list[Opening] = []
    for n in range(len(lines) + 1):
        rows: list[list[Opening]] = []
        for opening in sorted(
            (o for o in layout.openings() if part(o) == n), key=lambda o: (boxes[o.id][1], boxes[o.id][0])
        ):
            _, top, _, bottom = boxes[opening.id]
            for row in rows:
                _, other_top, _, other_bottom = boxes[row[0].id]
                shared = min(bottom, other_bottom) - max(top, other_top)
                if shared > 0.5 * min(bottom - top, other_bottom - other_top) and top - other_top < 0.5 * (
                    other_bottom - other_top
                ):
                    row.append(opening)
                    break
            else:
                rows.append([opening])
        for row in rows:
            ordered += sorted(row, key=lambda o: boxes[o.id][0])
    return ordered
