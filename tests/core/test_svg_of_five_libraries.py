"""A hundred and fifty SVG files by five libraries, read into sheets, beside librsvg's drawing of the same file."""

import io
import random
import re
import subprocess
from collections.abc import Callable
from pathlib import Path

import drawsvg
import numpy as np
import pytest
import segno
import svgwrite
from reportlab.graphics import renderPDF, renderSVG, shapes
from reportlab.lib.colors import Color

from sutaru.core.formats.foreign.foreign_file import read_foreign
from tests.core.test_reading_svg import librsvgs, ours, psnr

SIDE = 160, 120


def colour(rng: random.Random) -> str:
    return f"#{rng.randrange(1 << 24):06x}"


def place(rng: random.Random) -> tuple[float, float]:
    return round(rng.uniform(20, 140), 2), round(rng.uniform(20, 100), 2)


def by_svgwrite(rng: random.Random) -> bytes:
    drawing = svgwrite.Drawing(size=(f"{SIDE[0]}mm", f"{SIDE[1]}mm"), viewBox=f"0 0 {SIDE[0]} {SIDE[1]}", debug=False)
    fade = drawing.linearGradient((0, 0), (1, 1), id="fade")
    fade.add_stop_color(0, colour(rng))
    fade.add_stop_color(1, colour(rng), opacity=rng.choice([1, 0.4]))
    drawing.defs.add(fade)
    hole = drawing.defs.add(drawing.clipPath(id="hole"))
    hole.add(drawing.circle(place(rng), rng.uniform(30, 70)))
    arrow = drawing.marker(insert=(4, 2), size=(5, 5), orient="auto", id="arrow")
    arrow.add(drawing.path("M0 0L4 2L0 4Z", fill=colour(rng)))
    drawing.defs.add(arrow)
    for _ in range(rng.randint(3, 9)):
        group = drawing.g(opacity=rng.choice([1, 1, 1, 0.6]))
        group.translate(rng.uniform(-20, 20), rng.uniform(-20, 20))
        group.rotate(rng.choice([0, 0, rng.uniform(-40, 40)]), center=place(rng))
        kind, (x, y) = rng.randrange(6), place(rng)
        paint = {"fill": rng.choice([colour(rng), "url(#fade)"]), "stroke": rng.choice(["none", colour(rng)])}
        paint |= {
            "stroke_width": round(rng.uniform(1, 6), 1),
            "stroke_linejoin": rng.choice(["miter", "round", "bevel"]),
        }
        if kind == 0:
            group.add(drawing.rect((x, y), (50, 30), rx=rng.choice([0, 6]), **paint))
        elif kind == 1:
            group.add(drawing.ellipse((x, y), (rng.uniform(5, 40), rng.uniform(5, 30)), **paint))
        elif kind == 2:
            group.add(
                drawing.polygon([place(rng) for _ in range(5)], fill_rule=rng.choice(["nonzero", "evenodd"]), **paint)
            )
        elif kind == 3:
            line = {"stroke": colour(rng), "stroke_width": 2, "fill": "none", "marker_end": "url(#arrow)"}
            group.add(drawing.polyline([place(rng) for _ in range(4)], **line))
        elif kind == 4:
            (a, b), (c, d) = place(rng), place(rng)
            group.add(drawing.path(f"M{x} {y}C{a} {b} {c} {d} {y} {x}S{b} {a} {d} {c}", **paint))
        else:
            group.add(drawing.rect((x, y), (80, 50), clip_path="url(#hole)", **paint))
        drawing.add(group)
    return bytes(drawing.tostring(), "utf-8")


def by_drawsvg(rng: random.Random) -> bytes:
    drawing = drawsvg.Drawing(*SIDE)
    sky = drawsvg.RadialGradient(*place(rng), rng.uniform(40, 110))
    for offset in (0, 0.5, 1):
        sky.add_stop(offset, colour(rng), rng.choice([1, 1, 0.5]))
    clip = drawsvg.ClipPath()
    clip.append(drawsvg.Circle(*place(rng), rng.uniform(25, 60)))
    mask = drawsvg.Mask()
    mask.append(drawsvg.Rectangle(0, 0, SIDE[0], rng.uniform(40, 90), fill="white"))
    for _ in range(rng.randint(3, 8)):
        (x, y), paint = place(rng), {"fill": rng.choice([colour(rng), sky])}
        paint |= rng.choice([{}, {"stroke": colour(rng), "stroke_width": 3}, {"clip_path": clip}, {"opacity": 0.5}])
        drawing.append(
            rng.choice(
                [
                    lambda x=x, y=y, p=paint: drawsvg.Rectangle(x, y, 60, 40, **p),
                    lambda x=x, y=y, p=paint: drawsvg.Circle(x, y, 30, **p),
                    lambda x=x, y=y: drawsvg.ArcLine(
                        x, y, 30, 20, 200, stroke=colour(rng), stroke_width=5, fill="none"
                    ),
                    lambda p=paint: drawsvg.Lines(*place(rng), *place(rng), *place(rng), close=True, **p),
                    lambda x=x, y=y: drawsvg.Rectangle(x, y, 70, 70, fill=colour(rng), mask=mask),
                    lambda x=x, y=y, p=paint: drawsvg.Path(**p).M(x, y).q(20, -40, 40, 0).t(30, 20).l(-50, 30).Z(),
                ]
            )()
        )
    return bytes(drawing.as_svg(), "utf-8")


def by_segno(rng: random.Random) -> bytes:
    buffer = io.BytesIO()
    words = "".join(rng.choices("kitesandwind0123456789", k=rng.randint(3, 60)))
    more = {"svgclass": None, "omitsize": False, "unit": rng.choice(["mm", None]), "border": rng.choice([0, 4])}
    code = segno.make(words, error=rng.choice("lmqh"))
    code.save(
        buffer, kind="svg", scale=rng.choice([2, 3]), dark=colour(rng), light=rng.choice([None, "#fdfcf8"]), **more
    )
    return buffer.getvalue()


def make_drawing(rng: random.Random) -> shapes.Drawing:
    drawing = shapes.Drawing(*SIDE)

    def ink() -> Color:
        return Color(rng.random(), rng.random(), rng.random(), rng.choice([1, 1, 0.5]))

    for _ in range(rng.randint(4, 10)):
        (x, y), paint = place(rng), {"fillColor": ink(), "strokeColor": rng.choice([None, ink()]), "strokeWidth": 2}
        drawing.add(
            rng.choice(
                [
                    lambda x=x, y=y, p=paint: shapes.Rect(x, y, 40, 25, **p),
                    lambda x=x, y=y, p=paint: shapes.Circle(x, y, 18, **p),
                    lambda p=paint: shapes.Polygon([v for _ in range(4) for v in place(rng)], **p),
                    lambda x=x, y=y, p=paint: shapes.Wedge(x, y, 28, 10, rng.uniform(60, 300), **p),
                    lambda: shapes.PolyLine(
                        [v for _ in range(4) for v in place(rng)], strokeColor=ink(), strokeWidth=3
                    ),
                ]
            )()
        )
    return drawing


def by_reportlab(rng: random.Random) -> bytes:
    return bytes(renderSVG.drawToString(make_drawing(rng)), "utf-8")


def by_cairo(rng: random.Random) -> bytes:
    pdf = renderPDF.drawToString(make_drawing(rng))
    return subprocess.run(["pdftocairo", "-svg", "-", "-"], input=pdf, capture_output=True, check=True).stdout


MAKERS: dict[str, tuple[Callable[[random.Random], bytes], int]] = {
    "svgwrite": (by_svgwrite, 45), "drawsvg": (by_drawsvg, 40), "reportlab": (by_reportlab, 25), "cairo": (by_cairo, 25),
    "segno": (by_segno, 15),
}  # fmt: skip


def test_there_are_a_hundred_and_fifty_files() -> None:
    assert sum(count for _, count in MAKERS.values()) == 150


@pytest.mark.parametrize(
    ("maker", "first"), [(maker, n) for maker, (_, count) in MAKERS.items() for n in range(0, count, 5)]
)
def test_what_a_library_writes_is_drawn_as_librsvg_draws_it(maker: str, first: int, tmp_path: Path) -> None:
    make, _ = MAKERS[maker]
    for n in range(first, first + 5):
        data = make(random.Random(f"{maker} {n}"))
        read = read_foreign(data, f"{maker}-{n}.svg")
        pictured = any(layer.kind == "overlay" for layer in read.sheets[0].layout.leaves)
        seen = ours(read, 300 if pictured else 120)
        theirs = librsvgs(
            re.sub(rb'(width|height)="([\d.]+)(mm|pt)"', rb'\1="\2"', data), (seen.shape[1], seen.shape[0])
        )
        assert seen.min() < 250
        same = psnr(seen, theirs)
        if same <= 40:
            (tmp_path / f"{n}.svg").write_bytes(data)
        assert same > 40, f"{maker} {n}: {same:.1f} dB, {read.notes}, {tmp_path}"
    assert np.isfinite(seen).all()
