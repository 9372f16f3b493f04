"""Writes the shelf's ornaments: ``python tools/make_ornaments.py``. All of them are drawn here, for the kite festival's world
and for occasions in general. What is drawn in ``currentColor`` takes the colour that the layer says; faint parts too.
"""

import math
import shutil
from collections.abc import Callable, Iterable
from pathlib import Path

FOLDER = Path(__file__).parent.parent / "sutaru" / "shelf" / "ornaments"
INK, FAINT = 'fill="currentColor"', 'fill="currentColor" fill-opacity="0.35"'
Point = tuple[float, float]


def n(value: float) -> str:
    return f"{round(value, 2):g}"


def closed(points: Iterable[Point]) -> str:
    return "M" + "L".join(f"{n(x)} {n(y)}" for x, y in points) + "Z"


def fill(d: str, faint: bool = False) -> str:
    return f'<path d="{d}" {FAINT if faint else INK}/>'


def line(d: str, width: float = 2.0, more: str = "") -> str:
    return (f'<path d="{d}" fill="none" stroke="currentColor" stroke-width="{n(width)}" stroke-linecap="round" '
            f'stroke-linejoin="round"{more}/>')  # fmt: skip


def dot(x: float, y: float, r: float, faint: bool = False) -> str:
    return f'<circle cx="{n(x)}" cy="{n(y)}" r="{n(r)}" {FAINT if faint else INK}/>'


def ring(x: float, y: float, r: float, width: float = 2.0) -> str:
    return f'<circle cx="{n(x)}" cy="{n(y)}" r="{n(r)}" fill="none" stroke="currentColor" stroke-width="{n(width)}"/>'


def at(x: float, y: float, body: str, turn: float = 0.0, k: float = 1.0) -> str:
    return f'<g transform="translate({n(x)} {n(y)}) rotate({n(turn)}) scale({n(k)})">{body}</g>'


def round_about(count: int, x: float, y: float, body: str, start: float = 0.0) -> str:
    return "".join(at(x, y, body, start + 360 * i / count) for i in range(count))


def polar(x: float, y: float, r: float, deg: float) -> Point:
    return x + r * math.cos(math.radians(deg)), y + r * math.sin(math.radians(deg))


def star(x: float, y: float, r: float, inner: float, points: int, start: float = -90.0) -> str:
    return closed(polar(x, y, r if i % 2 == 0 else inner, start + 180 * i / points) for i in range(2 * points))


def bow(x: float, y: float, k: float = 1.0, turn: float = 0.0) -> str:
    return at(x, y, fill("M0 0L-7 -4.5V4.5ZM0 0L7 -4.5V4.5Z"), turn, k)


def leaf(length: float, wide: float) -> str:
    """A leaf from the origin upwards."""
    return f"M0 0C{n(wide)} {n(-0.3 * length)} {n(0.8 * wide)} {n(-0.8 * length)} 0 {n(-length)}C{n(-0.8 * wide)} {n(-0.8 * length)} {n(-wide)} {n(-0.3 * length)} 0 0Z"


def heart(x: float, y: float, k: float) -> str:
    return at(
        x, y, fill("M0 9C-14 -1 -10 -12 -4.5 -12C-1.5 -12 0 -9.5 0 -7.5C0 -9.5 1.5 -12 4.5 -12C10 -12 14 -1 0 9Z"), 0, k
    )


def kites() -> dict[str, str]:
    tail = line("M50 74C42 80 60 84 50 90S56 97 50 99", 1.2)
    return {
        "diamond": fill("M50 4L80 34L50 74L20 34Z", True) + fill("M50 4L80 34L50 34ZM50 34V74L20 34Z")
        + line("M50 4V74M20 34H80", 1) + tail + bow(53, 82, 0.7, 20) + bow(49, 92, 0.7, -15),
        "delta": fill("M50 10L96 66L50 54L4 66Z", True) + fill("M50 10L62 57L50 54L38 57Z") + line("M50 10V54", 1)
        + fill("M50 40L60 72L50 66L40 72Z") + line("M50 72C46 80 56 86 49 98", 1.2),
        "box": fill("M24 10L64 4L84 16L44 22Z", True) + fill("M24 10L44 22V44L24 32ZM24 56L44 68V90L24 78Z")
        + fill("M44 22L84 16V38L44 44ZM44 68L84 62V84L44 90Z", True) + line("M24 10V78M44 22V90M84 16V84M64 4V16", 1.6),
        "sled": fill("M26 12H74L88 40L74 82H26L12 40Z", True) + fill("M40 12H60V82H40Z")
        + line("M26 12V82M74 12V82M12 40L50 98L88 40", 1.2),
        "rokkaku": fill("M50 4L84 26V70L50 92L16 70V26Z", True) + ring(50, 48, 17, 6) + line("M50 4V92M16 26H84M16 70H84", 1),
        "star": fill(star(50, 48, 46, 20, 5), True)
        + fill("".join(closed([(50, 48), polar(50, 48, 46, -90 + 72 * i), polar(50, 48, 20, -54 + 72 * i)]) for i in range(5))),
        "fish": fill("M6 40C22 14 62 16 78 40L96 22V58L78 40C62 64 22 66 6 40Z", True) + dot(22, 37, 4)
        + line("M36 24C42 34 42 46 36 56M50 22C57 34 57 46 50 58M64 28C69 36 69 44 64 52", 2) + line("M6 40C2 56 10 70 4 88", 1.2),
        "dragon": line("M22 26C40 10 52 20 50 36S58 60 74 52S92 62 84 78S70 90 62 96", 1.6)
        + "".join(dot(x, y, r, i % 2 == 1) for i, (x, y, r) in enumerate(((37, 17, 9), (48, 27, 8.5), (51, 41, 8), (60, 52, 7.4), (73, 52, 6.6), (84, 58, 6), (87, 69, 5.2), (81, 80, 4.4), (71, 89, 3.6))))
        + fill("M6 22C8 10 24 8 32 18C34 30 24 38 14 34C18 30 18 26 6 22Z") + line("M20 12L14 3M27 12L28 2", 2.2),
        "wing": fill("M6 58C10 22 90 22 94 58C80 48 72 48 65 58C57 48 43 48 35 58C28 48 20 48 6 58Z")
        + line("M6 58L50 96M35 58L50 96M65 58L50 96M94 58L50 96", 1),
        "tail": line("M50 2C30 20 70 34 50 52S34 82 50 98", 1.6)
        + "".join(bow(x, y, 1.15, t) for x, y, t in ((44, 16, 30), (56, 33, -25), (47, 56, 25), (42, 76, -20))),
    }  # fmt: skip


def sea() -> dict[str, str]:
    wave = "M0 60C14 60 20 30 42 30C58 30 62 46 52 50C46 52 42 46 46 43C36 46 38 62 52 64C70 66 74 58 100 58V78H0Z"
    shell = "".join(
        line(f"M50 88L{n(polar(50, 88, 62, a)[0])} {n(polar(50, 88, 62, a)[1])}", 2) for a in range(-150, -20, 20)
    )
    return {
        "wave": fill(wave),
        "waves": "".join(line(f"M2 {y}q12 -14 24 0t24 0t24 0t24 0", 3) for y in (30, 50, 70)),
        "scallop": fill("M50 90L38 84C8 70 2 44 14 32C18 20 30 22 34 16C44 8 56 8 66 16C70 22 82 20 86 32C98 44 92 70 62 84Z", True)
        + shell + fill("M38 84L50 96L62 84Z"),
        "starfish": fill("".join(f"M50 52C{n(polar(50, 52, 18, a - 40)[0])} {n(polar(50, 52, 18, a - 40)[1])} {n(polar(50, 52, 40, a - 10)[0])} {n(polar(50, 52, 40, a - 10)[1])} {n(polar(50, 52, 46, a)[0])} {n(polar(50, 52, 46, a)[1])}C{n(polar(50, 52, 40, a + 10)[0])} {n(polar(50, 52, 40, a + 10)[1])} {n(polar(50, 52, 18, a + 40)[0])} {n(polar(50, 52, 18, a + 40)[1])} 50 52Z" for a in range(-90, 270, 72)))
        + dot(50, 52, 13),
        "gull": fill("M2 44C20 26 36 30 50 50C64 30 80 26 98 44C82 38 66 42 50 60C34 42 18 38 2 44Z"),
        "gulls": "".join(at(x, y, fill("M-20 -4C-12 -12 -6 -8 0 0C6 -8 12 -12 20 -4C12 -8 6 -4 0 4C-6 -4 -12 -8 -20 -4Z"), t, k) for x, y, t, k in ((28, 34, -8, 1.1), (70, 22, 6, 0.8), (62, 62, -4, 1.0), (24, 74, 8, 0.6))),
        "boat": fill("M48 8V66H12Z") + fill("M54 18V66H86Z", True) + fill("M6 72H94C90 86 80 90 70 90H28C18 90 10 84 6 72Z") + line("M51 4V72", 2),
        "lighthouse": fill("M40 34H60L66 92H34Z", True) + fill("M39 44H61L62.5 58H37.5ZM36.5 70H63.5L65 84H35Z") + fill("M38 22H62V34H38Z")
        + fill("M36 22L50 8L64 22Z") + line("M34 34H66", 2.5) + fill("M64 25L98 16V38L64 31ZM36 25L2 16V38L36 31Z", True) + line("M22 93H78", 3),
        "anchor": ring(50, 15, 8, 5) + line("M50 23V90M32 38H68", 6) + line("M14 62C16 82 34 92 50 92C66 92 84 82 86 62", 6)
        + fill("M6 70L14 52L24 68ZM94 70L86 52L76 68Z"),
        "fish": fill("M4 50C22 22 58 24 74 50L94 30V70L74 50C58 76 22 78 4 50Z") + '<circle cx="22" cy="45" r="4" fill="#ffffff"/>',
        "rope": "".join(line(f"M{n(4 + 8 * i)} 58C{n(8 + 8 * i)} 58 {n(8 + 8 * i)} 42 {n(12 + 8 * i)} 42", 5) for i in range(11)),
    }  # fmt: skip


def sky() -> dict[str, str]:
    cloud = "M24 74C8 74 4 54 20 50C18 34 38 26 48 36C58 20 84 28 82 48C98 52 94 74 78 74Z"
    return {
        "sun": dot(50, 50, 20) + round_about(12, 50, 50, fill("M-4 -27L0 -46L4 -27Z")),
        "sunrise": fill("M22 66A28 28 0 0 1 78 66Z") + "".join(line(f"M{n(polar(50, 66, 36, a)[0])} {n(polar(50, 66, 36, a)[1])}L{n(polar(50, 66, 50, a)[0])} {n(polar(50, 66, 50, a)[1])}", 3.5) for a in range(-170, 0, 32)) + line("M4 74H96M16 84H84M32 94H68", 3),
        "cloud": fill(cloud),
        "moon": fill("M64 8A44 44 0 1 0 92 70A36 36 0 1 1 64 8Z"),
        "star": fill(star(50, 52, 48, 19, 5)),
        "stars": fill(star(34, 56, 28, 11, 5)) + fill(star(74, 28, 17, 7, 5)) + fill(star(76, 74, 12, 5, 5), True) + dot(52, 14, 3) + dot(14, 20, 2.5),
        "rainbow": "".join(f'<path d="M{n(50 - r)} 82A{r} {r} 0 0 1 {n(50 + r)} 82" fill="none" stroke="currentColor" stroke-opacity="{o}" stroke-width="7"/>' for r, o in ((44, 1), (34, 0.6), (24, 0.3))),
        "wind": line("M4 36H62C76 36 78 16 64 16C56 16 54 26 62 27", 4) + line("M4 52H80C96 52 96 74 82 74C74 74 72 64 80 63", 4) + line("M14 68H48C60 68 60 86 48 86", 4),
        "drop": fill("M50 6C68 32 78 48 78 64A28 28 0 0 1 22 64C22 48 32 32 50 6Z"),
        "snow": round_about(6, 50, 50, line("M0 -4V-44M0 -30L-10 -40M0 -30L10 -40M0 -17L-8 -25M0 -17L8 -25", 3.5)) + dot(50, 50, 4),
    }  # fmt: skip


def festival() -> dict[str, str]:
    def flags(y0: float, sag: float) -> str:
        out = line(f"M2 {y0}Q50 {y0 + 2 * sag} 98 {y0}", 1.6)
        for i in range(8):
            t0, t1 = (i + 0.12) / 8, (i + 0.88) / 8
            p = [(2 + 96 * t, y0 + 4 * sag * t * (1 - t)) for t in (t0, t1)]
            out += fill(closed([*p, ((p[0][0] + p[1][0]) / 2, (p[0][1] + p[1][1]) / 2 + 16)]), i % 2 == 1)
        return out

    lantern = (
        fill("M-14 -18H14C24 -8 24 12 14 22H-14C-24 12 -24 -8 -14 -18Z", True)
        + line("M-5 -18C-11 -6 -11 10 -5 22M5 -18C11 -6 11 10 5 22", 1.4)
        + fill("M-9 -23H9V-18H-9ZM-9 22H9V27H-9Z")
        + line("M0 -23V-34M0 27V40M-4 27V36M4 27V36", 1.6)
    )
    confetti = [(12, 20, 20), (30, 10, 70), (52, 18, 130), (76, 12, 40), (90, 30, 100), (18, 46, 150), (40, 40, 10), (64, 44, 80),
                (86, 56, 30), (10, 74, 60), (34, 70, 110), (56, 72, 160), (76, 82, 20), (46, 92, 75), (92, 86, 130), (22, 92, 10)]  # fmt: skip
    return {
        "bunting": flags(22, 26),
        "bunting-twice": flags(8, 16) + flags(46, 22),
        "lantern": at(50, 50, lantern, 0, 1.25),
        "lanterns": line("M2 10Q50 34 98 10", 1.6) + at(22, 46, lantern, 0, 0.7) + at(50, 58, lantern, 0, 0.8) + at(79, 44, lantern, 0, 0.65),
        "balloon": fill("M50 6C74 6 82 26 78 44C74 60 60 70 50 72C40 70 26 60 22 44C18 26 26 6 50 6Z") + fill("M46 72H54L57 78H43Z")
        + line("M50 78C44 84 56 90 50 98", 1.6) + '<path d="M34 26C36 18 42 14 48 14" fill="none" stroke="#ffffff" stroke-width="3" stroke-linecap="round"/>',
        "balloons": "".join(at(x, y, fill("M0 -20C14 -20 17 -8 15 2C13 12 5 18 0 19C-5 18 -13 12 -15 2C-17 -8 -14 -20 0 -20Z", f), t) for x, y, t, f in ((28, 34, -12, False), (52, 24, 0, True), (74, 38, 12, False)))
        + line("M31 53C40 70 48 80 50 98M52 43C51 66 50 80 50 98M70 57C60 72 52 82 50 98", 1.2),
        "fireworks": round_about(14, 50, 50, line("M0 -14V-32", 2.4) + dot(0, -40, 2.6)) + round_about(14, 50, 50, line("M0 -10V-18", 1.4), 12.8),
        "confetti": "".join(at(x, y, fill("M-4 -2H4V2H-4Z", i % 3 == 1) if i % 2 else dot(0, 0, 2.8, i % 4 == 2), t) for i, (x, y, t) in enumerate(confetti)),
        "flag": line("M20 4V96", 4) + fill("M22 8C42 0 58 22 90 10V52C58 64 42 40 22 50Z"),
        "tent": fill("M50 14L92 48V90H8V48Z", True) + fill("M50 14L64 48V90H36V48ZM8 48L22 36L20 48V90H8ZM92 48L78 36L80 48V90H92Z") + line("M50 14V4", 2) + fill("M50 3L64 7L50 11Z"),
        "spool": fill("M22 12H78V24H22ZM22 76H78V88H22Z") + fill("M30 24H70V76H30Z", True) + "".join(line(f"M30 {y}L70 {y + 5}", 1.8) for y in range(28, 72, 7)) + line("M70 50C90 52 84 70 98 66", 1.8),
    }  # fmt: skip


def plants() -> dict[str, str]:
    sprig = (
        line("M50 96C48 70 50 40 50 10", 2)
        + "".join(
            at(50, y, fill(leaf(24, 8), i % 2 == 1), t)
            for i, (y, t) in enumerate(
                ((84, 60), (84, -60), (66, 55), (66, -55), (48, 48), (48, -48), (32, 38), (32, -38))
            )
        )
        + at(50, 18, fill(leaf(16, 6)))
    )
    wreath = "".join(
        at(*polar(50, 50, 38, a), fill(leaf(17, 6), i % 2 == 1), a + 90 + (26 if i % 2 else -26))
        for i, a in enumerate(range(0, 360, 15))
    )
    laurel = "".join(
        at(*polar(50, 46, 38, a), fill(leaf(16, 6)), a + 90 + s) for a in range(-20, 100, 17) for s in (-30, 24)
    )
    other = f'<g transform="matrix(-1 0 0 1 100 0)">{laurel}</g>'
    return {
        "leaf": fill("M50 96C96 70 88 24 50 4C12 24 4 70 50 96Z", True) + line("M50 96V20M50 74L70 60M50 74L30 60M50 54L68 40M50 54L32 40", 2.4),
        "sprig": sprig,
        "grass": "".join(line(f"M{x} 96Q{x + b} {y + 30} {x + 2 * b} {y}", 3) for x, y, b in ((30, 30, -10), (40, 14, -4), (50, 8, 3), (58, 22, 9), (68, 36, 12), (46, 40, -14))),
        "daisy": round_about(12, 50, 50, at(0, -12, fill(leaf(34, 9), True))) + dot(50, 50, 13),
        "thrift": "".join(at(50, 34, fill(leaf(26, 12), True), a) for a in range(-80, 81, 32)) + dot(50, 30, 8) + line("M50 38C50 60 48 80 50 96", 2.4) + at(50, 94, fill(leaf(34, 6)), 38) + at(50, 94, fill(leaf(34, 6)), -38),
        "poppy": "".join(dot(*polar(50, 46, 20, a), 20, True) for a in (-45, 45, 135, 225)) + dot(50, 46, 9) + round_about(10, 50, 46, dot(0, -14, 1.6)),
        "wreath": wreath,
        "laurel": laurel + other,
        "branch": line("M4 70C34 66 66 52 96 26", 2.2) + "".join(at(x, y, fill(leaf(20, 7), i % 2 == 1), t) for i, (x, y, t) in enumerate(((18, 68, 10), (20, 68, 120), (38, 62, 0), (40, 62, 112), (58, 52, -6), (60, 51, 105), (76, 41, -14), (78, 40, 98)))) + at(94, 28, fill(leaf(16, 6)), 50),
        "rose": ring(50, 48, 32, 3) + line("M50 48C44 42 50 36 56 40C66 46 58 60 46 58C30 54 34 32 50 30C72 28 76 56 60 66", 3) + at(24, 70, fill(leaf(26, 8), True), -120) + at(76, 70, fill(leaf(26, 8), True), 120),
    }  # fmt: skip


def frames() -> dict[str, str]:
    corner = line("M6 96V30C6 14 14 6 30 6H96", 3)
    scallops = "".join(
        dot(x, y, 5, False)
        for i in range(10)
        for x, y in ((5 + 10 * i, 5), (5 + 10 * i, 95), (5, 5 + 10 * i), (95, 5 + 10 * i))
    )
    return {
        "corner-curl": corner + line("M18 96V44C18 28 28 18 44 18H96", 1.4) + line("M30 30C46 26 50 44 38 46C30 46 30 36 38 36", 2.4) + fill(star(12, 12, 7, 3, 4)),
        "corner-leaves": line("M8 96C8 40 40 8 96 8", 2) + "".join(at(x, y, fill(leaf(20, 7), i % 2 == 1), t) for i, (x, y, t) in enumerate(((9, 78, -40), (10, 72, 60), (16, 52, -25), (20, 46, 75), (32, 31, -5), (38, 26, 95), (54, 15, 20), (60, 13, 120), (78, 9, 45)))),
        "corner-lines": line("M6 94V6H94M16 94V16H94M26 94V26H94", 2),
        "corner-photo": fill("M4 4H88L4 88Z") + '<path d="M14 14H58L14 58Z" fill="#ffffff" fill-opacity="0.35"/>',
        "double": '<path d="M2 2H98V98H2ZM8 8V92H92V8Z" fill="currentColor" fill-rule="evenodd"/><path d="M12 12H88V88H12ZM13.5 13.5V86.5H86.5V13.5Z" fill="currentColor" fill-rule="evenodd"/>',
        "stitched": '<rect x="4" y="4" width="92" height="92" rx="6" fill="none" stroke="currentColor" stroke-width="2.4" stroke-dasharray="6 4" stroke-linecap="round"/>',
        "scalloped": scallops,
        "round-rope": ring(50, 50, 45, 6) + round_about(40, 50, 50, '<path d="M-1.6 -48L1.6 -42" stroke="#ffffff" stroke-opacity="0.6" stroke-width="1.4"/>'),
        "oval": '<ellipse cx="50" cy="50" rx="36" ry="47" fill="none" stroke="currentColor" stroke-width="3"/><ellipse cx="50" cy="50" rx="31" ry="42" fill="none" stroke="currentColor" stroke-width="1"/>',
        "ticket": '<path d="M4 18H96V38A12 12 0 0 0 96 62V82H4V62A12 12 0 0 0 4 38ZM9 23V34A17 17 0 0 1 9 66V77H91V66A17 17 0 0 1 91 34V23Z" fill="currentColor" fill-rule="evenodd"/>',
        "tape": '<path d="M4 36L8 40L4 44L8 48L4 52L8 56L4 60L8 64H96L92 60L96 56L92 52L96 48L92 44L96 40L92 36Z" fill="currentColor" fill-opacity="0.7"/>',
    }  # fmt: skip


def dividers() -> dict[str, str]:
    """Wide and low: 200 x 24."""
    return {
        "ripple": line("M4 12q8 -10 16 0" + "t16 0" * 11, 2.4),
        "dots": "".join(dot(10 + 15 * i, 12, 1.6 + 2.6 * math.sin(math.pi * i / 12), i % 2 == 1) for i in range(13)),
        "diamonds": line("M4 12H76M124 12H196", 1.6) + "".join(fill(closed([(x, 12 - r), (x + r, 12), (x, 12 + r), (x - r, 12)]), f) for x, r, f in ((86, 5, True), (100, 9, False), (114, 5, True))),
        "swash": line("M4 12C40 -4 70 28 100 12S160 -4 196 12", 2.4) + dot(100, 12, 4),
        "kite-string": line("M4 16C60 24 120 2 182 12", 1.6) + fill("M196 4L186 10L180 22L192 14Z") + bow(40, 18, 0.6, 8) + bow(80, 15, 0.6, -8) + bow(120, 10, 0.6, -8),
        "heart": line("M4 12H84M116 12H196", 1.6) + heart(100, 13, 0.85),
        "leaves": line("M4 12H196", 1.2) + "".join(at(x, 12, fill(leaf(11, 4), False), 60 if x < 100 else -60) + at(x, 12, fill(leaf(11, 4), True), 120 if x < 100 else -120) for x in (20, 44, 68, 132, 156, 180)) + dot(100, 12, 4),
        "waves": "".join(line("M4 {y}q8 -7 16 0{t}".format(y=y, t="t16 0" * 11), w) for y, w in ((9, 2.2), (16, 1.2))),
    }  # fmt: skip


def ribbons() -> dict[str, str]:
    """Some are wide: 200 x 60."""
    return {
        "ribbon": fill("M30 8H170V44H30Z") + fill("M30 20H4L16 36L4 54H44V44H30ZM170 20H196L184 36L196 54H156V44H170Z", True) + fill("M30 44H44V54ZM170 44H156V54Z"),
        "ribbon-curved": fill("M28 20Q100 -10 172 20V50Q100 20 28 50Z") + fill("M28 30L4 34L14 46L8 58L46 50V43L28 50ZM172 30L196 34L186 46L192 58L154 50V43L172 50Z", True),
        "pennant": fill("M4 6H196L176 30L196 54H4L24 30Z"),
        "plate": fill("M16 4H184A12 12 0 0 0 196 16V44A12 12 0 0 0 184 56H16A12 12 0 0 0 4 44V16A12 12 0 0 0 16 4Z"),
    }  # fmt: skip


def badges() -> dict[str, str]:
    return {
        "rosette": fill(star(50, 38, 36, 30, 16)) + '<circle cx="50" cy="38" r="20" fill="#ffffff" fill-opacity="0.35"/>' + fill("M36 66L28 96L40 90L48 98L50 70ZM64 66L72 96L60 90L52 98L50 70Z", True),
        "burst": fill(star(50, 50, 48, 37, 20)),
        "tag": '<path d="M22 6H78L94 28V94H6V28ZM50 16A7 7 0 1 0 50 30A7 7 0 1 0 50 16Z" fill="currentColor" fill-rule="evenodd" transform="rotate(90 50 50)"/>',
        "seal": fill("".join(closed(polar(50, 50, 46 - 3 * (i % 2), 5 * i) for i in range(72)))) + '<circle cx="50" cy="50" r="34" fill="none" stroke="#ffffff" stroke-width="1.6"/>',
        "shield": fill("M10 8C30 12 40 10 50 4C60 10 70 12 90 8V50C90 74 70 88 50 96C30 88 10 74 10 50Z"),
        "speech": fill("M14 10H86C92 10 96 14 96 20V62C96 68 92 72 86 72H48L26 92V72H14C8 72 4 68 4 62V20C4 14 8 10 14 10Z"),
        "arrow": line("M8 84C20 40 50 24 86 30", 5) + fill("M72 12L98 32L70 48Z"),
    }  # fmt: skip


def occasions() -> dict[str, str]:
    return {
        "heart": heart(50, 56, 3.7),
        "hearts": heart(38, 48, 2.5) + at(70, 68, fill("M0 9C-14 -1 -10 -12 -4.5 -12C-1.5 -12 0 -9.5 0 -7.5C0 -9.5 1.5 -12 4.5 -12C10 -12 14 -1 0 9Z", True), 14, 1.9),
        "rings": ring(36, 58, 26, 6) + ring(66, 58, 26, 6) + fill("M28 30L36 18L44 30L36 36Z"),
        "cake": fill("M14 56H86V92H14Z", True) + fill("M14 56C14 44 24 44 26 44H74C76 44 86 44 86 56C80 66 74 66 68 58C62 68 56 68 50 58C44 68 38 68 32 58C26 66 20 66 14 56Z") + fill("M47 24H53V44H47Z") + fill("M50 6C56 14 56 20 50 22C44 20 44 14 50 6Z") + line("M6 92H94", 3),
        "candle": fill("M38 40H62V92H38Z", True) + fill("M38 40C44 46 48 50 52 44C56 40 58 52 62 44V40Z") + fill("M50 6C62 20 60 32 50 34C40 32 38 20 50 6Z") + line("M50 34V40", 2) + line("M26 93H74", 4),
        "gift": fill("M10 34H90V50H10ZM16 54H84V94H16Z", True) + fill("M43 34H57V94H43Z") + fill("M50 34C30 34 22 22 28 14C36 6 48 20 50 34ZM50 34C70 34 78 22 72 14C64 6 52 20 50 34Z"),
        "pram": fill("M10 40H62V12C34 12 12 24 10 40Z", True) + fill("M10 44H84C82 64 70 72 56 72H36C20 72 12 60 10 44Z") + line("M84 44L92 26H98", 3.5) + ring(30, 84, 8, 4) + ring(64, 84, 8, 4),
        "cap": fill("M50 18L98 40L50 62L2 40Z") + fill("M24 56V76C36 86 64 86 76 76V56L50 68Z", True) + line("M90 43V72", 2.4) + fill("M87 70H93L95 86H85Z"),
        "fir": fill("M50 4L70 32H60L78 56H66L88 82H12L34 56H22L40 32H30Z") + fill("M44 82H56V96H44Z", True) + fill(star(50, 6, 6, 2.6, 5)),
        "egg": fill("M50 6C74 6 86 42 84 60C82 82 68 94 50 94C32 94 18 82 16 60C14 42 26 6 50 6Z", True) + line("M17 54L28 44L39 54L50 44L61 54L72 44L83 54", 3.5) + "".join(dot(x, y, 3.4) for x, y in ((34, 72), (50, 76), (66, 72), (40, 28), (60, 28))),
        "pumpkin": "".join(f'<ellipse cx="{x}" cy="60" rx="{r}" ry="32" {INK if i == 2 else FAINT}/>' for i, (x, r) in enumerate(((28, 22), (72, 22), (50, 20)))) + fill("M46 28C46 16 50 10 58 8L60 14C54 18 54 22 54 28Z"),
        "glasses": at(34, 50, fill("M-14 -36H14C16 -8 8 2 2 4V32H12V37H-12V32H-2V4C-8 2 -16 -8 -14 -36Z", True) + fill("M-13 -22H13C12 -8 6 0 0 0C-6 0 -12 -8 -13 -22Z"), -14) + at(66, 50, fill("M-14 -36H14C16 -8 8 2 2 4V32H12V37H-12V32H-2V4C-8 2 -16 -8 -14 -36Z", True) + fill("M-13 -22H13C12 -8 6 0 0 0C-6 0 -12 -8 -13 -22Z"), 14),
        "key": ring(28, 50, 20, 8) + line("M48 50H94M80 50V66M92 50V62", 7),
        "camera": '<path d="M10 30H32L38 20H62L68 30H90C94 30 96 33 96 36V78C96 82 93 84 90 84H10C6 84 4 81 4 78V36C4 33 6 30 10 30ZM50 38A20 20 0 1 0 50 78A20 20 0 1 0 50 38Z" fill="currentColor" fill-rule="evenodd"/>' + dot(50, 58, 12),
        "paw": dot(26, 42, 10) + dot(44, 26, 10) + dot(64, 28, 10) + dot(78, 46, 10) + fill("M50 48C66 48 78 66 74 80C70 92 58 84 50 84C42 84 30 92 26 80C22 66 34 48 50 48Z"),
    }  # fmt: skip


SIZES: dict[str, tuple[int, int]] = {"dividers": (200, 24), "ribbons": (200, 60)}
KINDS: dict[str, Callable[[], dict[str, str]]] = {
    "kites": kites, "sea": sea, "sky": sky, "festival": festival, "plants": plants, "frames": frames,
    "dividers": dividers, "ribbons": ribbons, "badges": badges, "occasions": occasions,
}  # fmt: skip


def main() -> None:
    shutil.rmtree(FOLDER, ignore_errors=True)
    for kind, drawn in KINDS.items():
        wide, high = SIZES.get(kind, (100, 100))
        (FOLDER / kind).mkdir(parents=True)
        for name, body in drawn().items():
            svg = f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {wide} {high}">{body}</svg>\n'
            (FOLDER / kind / f"{name}.svg").write_text(svg, "utf-8")


if __name__ == "__main__":
    main()
