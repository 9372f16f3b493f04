"""Draws docs/map.svg: the rooms of the house as the imports show them, lowest at the foot. ``python tools/draw_map.py``."""

import ast
from pathlib import Path
from xml.sax.saxutils import escape

ROOT = Path(__file__).parent.parent
WIDE, HIGH, GAP, MARGIN, FLOOR = 118, 40, 14, 24, 82
PURPOSES = {
    "geometry": "maps, outlines", "document": "frozen models", "colour": "profiles, inks", "photos": "files read safely",
    "words": "type and dates", "arranging": "layers moved", "fitting": "photos in openings", "books": "pages composed",
    "cards": "folds", "lists": "rows to editions", "edits": "all changes", "mending": "retouching, tone",
    "paint": "pixels of a page", "checks": "findings", "verifying": "files checked", "ordering": "what a lab gets",
    "press": "files for print", "formats": "files in and out", "store": "SQLite", "work": "long work", "api": "HTTP",
    "scripting": "Python API", "command_line": "commands", "demo": "made-up data", "standins": "lab, printer",
    "shelf": "what ships",
}  # fmt: skip


def rooms() -> dict[str, set[str]]:
    """Which rooms each room imports: folders of the core, and those beside it."""
    package = ROOT / "sutaru"
    found: dict[str, set[str]] = {}
    for path in package.rglob("*.py"):
        room = _room(path.relative_to(package).with_suffix("").parts)
        if not room:
            continue
        found.setdefault(room, set())
        here = ("sutaru", *path.relative_to(package).with_suffix("").parts)
        for node in ast.walk(ast.parse(path.read_text("utf-8"))):
            if isinstance(node, ast.ImportFrom):
                base = here[: len(here) - node.level] if node.level else ()
                target = (*base, *(node.module or "").split("."))
                for name in node.names:
                    other = _room(tuple(part for part in (*target, name.name) if part)[1:])
                    if other and other != room:
                        found[room].add(other)
    return found


def _room(parts: tuple[str, ...]) -> str:
    if parts[:1] == ("core",):
        return parts[1] if len(parts) > 1 and parts[1] in PURPOSES else ""
    return parts[0] if parts and parts[0] in PURPOSES else ""


def floors(needs: dict[str, set[str]]) -> dict[str, int]:
    """The floor of each room: one above the highest that it needs."""
    floor: dict[str, int] = {}

    def height(room: str) -> int:
        if room not in floor:
            floor[room] = 0
            floor[room] = 1 + max((height(other) for other in needs[room]), default=-1)
        return floor[room]

    for room in needs:
        height(room)
    return floor


def reduced(needs: dict[str, set[str]]) -> set[tuple[str, str]]:
    """The arrows that do not follow from others."""

    def reach(room: str) -> set[str]:
        return set().union(*({other} | reach(other) for other in needs[room]))

    return {
        (room, other) for room, others in needs.items() for other in others
        if not any(other in reach(between) for between in others - {other})
    }  # fmt: skip


def draw() -> str:
    """The map as SVG."""
    needs = rooms()
    floor = floors(needs)
    top = max(floor.values())
    by_floor = [sorted(room for room in needs if floor[room] == n) for n in range(top + 1)]
    most = max(map(len, by_floor))
    width, height = 2 * MARGIN + most * (WIDE + GAP) - GAP, 2 * MARGIN + top * FLOOR + HIGH
    place = {}
    for n, names in enumerate(by_floor):
        left = (width - len(names) * (WIDE + GAP) + GAP) / 2
        for k, room in enumerate(names):
            place[room] = left + k * (WIDE + GAP), MARGIN + (top - n) * FLOOR
    lines = [
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {width:g} {height:g}" font-family="sans-serif">',
        f'<rect width="{width:g}" height="{height:g}" fill="#f4f4f4"/>',
    ]
    for room, other in sorted(reduced(needs)):
        (x0, y0), (x1, y1) = place[room], place[other]
        a, b, c, d = x0 + WIDE / 2, y0 + HIGH, x1 + WIDE / 2, y1
        bend = f"M{a:g} {b:g}C{a:g} {b + 26:g} {c:g} {d - 26:g} {c:g} {d:g}"
        lines.append(f'<path d="{bend}" fill="none" stroke="#8a8a8a" stroke-width="1.1"/>')
    for room, (x, y) in sorted(place.items()):
        is_core = (ROOT / "sutaru" / "core" / room).is_dir()
        fill = "#ffffff" if is_core else "#e2e8ea"
        middle = f'x="{x + WIDE / 2:g}" text-anchor="middle"'
        lines.append(
            f'<rect x="{x:g}" y="{y:g}" width="{WIDE}" height="{HIGH}" rx="3" fill="{fill}" stroke="#5a5a5a"/>'
            f'<text {middle} y="{y + 17:g}" font-size="13" font-weight="600">{escape(room)}</text>'
            f'<text {middle} y="{y + 32:g}" font-size="10.5" fill="#555">{escape(PURPOSES[room])}</text>'
        )
    return "\n".join([*lines, "</svg>", ""])


if __name__ == "__main__":
    (ROOT / "docs" / "map.svg").write_text(draw(), "utf-8")
