"""``python -m bench [rounds]``: all measurements as one table, also written to docs/measurements.md."""

import platform
import sys
import tempfile
from datetime import date
from pathlib import Path

from bench import (
    books,
    crowded,
    dragging,
    export,
    interface,
    large,
    lists,
    posters,
    press,
    processes,
    quality,
    retouching,
    served,
)
from tests.core.test_keeping import crops

DOC = Path(__file__).parent.parent / "docs" / "measurements.md"


def main() -> None:
    rounds = int(sys.argv[1]) if len(sys.argv) > 1 else 3
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        whole_processes = processes.rows(folder, max(rounds, 5))
        times = export.measure(folder, rounds)
        with served.server(folder / "picture") as client:
            median, p95 = served.bench_picture(client)
            drag = dragging.drag(str(client.base_url))
            counted = interface.measure(str(client.base_url))
            dressed_median, dressed_p95 = served.bench_picture(client, dressed=True)
            dressed_drag = dragging.drag(str(client.base_url))
            fill = served.filling(client)
        with served.server(folder / "import") as client:
            imported = served.importing(client)
        with served.server(folder / "retouch") as client:
            strokes = retouching.rows(folder, rounds, client)
        much = crowded.measure(folder / "crowded")
        book = large.large(folder / "large")
        crowd = large.crowd(folder / "crowd")
    few, script, many = books.laid_out(200, 40), books.plain_script(200, 40), books.laid_out(2000, 200)
    whole = books.looked_at_and_laid_out(200, 40)
    by_hand = books.recomposed(120, 40)
    (seconds, peak), base, hard = times["sutaru"], times["floor"][0], times["hard_floor"][0]
    rows = [
        *whole_processes,
        ("Export of the 18-opening spread, within a process", f"{seconds:.2f} s", "", ""),
        ("  against the floor (with Pillow)", f"{base:.2f} s", f"{seconds / base:.2f}", "at most 1.5"),
        ("  against the floor with our JPEG library", f"{hard:.2f} s", f"{seconds / hard:.2f}", ""),
        (
            "  against the Pillow script",
            f"{times['pillow'][0]:.2f} s",
            f"{seconds / times['pillow'][0]:.2f}",
            "at most 0.5",
        ),
        (
            "  against the pyvips script",
            f"{times['pyvips'][0]:.2f} s",
            f"{seconds / times['pyvips'][0]:.2f}",
            "at most 0.5",
        ),
        ("  peak memory", f"{peak:.0f} MB", "", "under 600 MB"),
        (
            "  peak memory of the Pillow and pyvips scripts",
            f"{times['pillow'][1]:.0f}, {times['pyvips'][1]:.0f} MB",
            "",
            "",
        ),
        ("Bench picture of 1600 px after an edit, median", f"{median:.0f} ms", "", ""),
        ("  95th percentile", f"{p95:.0f} ms", "", "under 60 ms"),
        ("Pull of a photo in the browser, pointer to frame, 95th percentile", f"{drag:.0f} ms", "", "under 50 ms"),
        *counted,
        *much,
        ("Export with borders, shadows, two slanted and one bent opening", f"{times['dressed'][0]:.2f} s", "", ""),
        (
            "  against the floor (with Pillow)",
            f"{base:.2f} s",
            f"{times['dressed'][0] / base:.2f}",
            "at most 1.6",
        ),
        ("  bench picture after an edit, median", f"{dressed_median:.0f} ms", "", ""),
        ("  95th percentile", f"{dressed_p95:.0f} ms", "", "under 80 ms"),
        ("  pull of a photo, 95th percentile", f"{dressed_drag:.0f} ms", "", "under 50 ms"),
        ("Filling 18 openings from 60 photos, once the photos are known", f"{fill:.2f} s", "", "under 1 s"),
        ("Import of 200 photos of 24 megapixels", f"{imported.taken_in:.2f} a second", "", ""),
        ("  against the floor", f"{imported.floor:.2f} a second", f"{imported.against[0]:.2f}", "at most 1.3"),
        ("  taken in and looked at", f"{imported.looked_at:.2f} a second", f"{imported.against[1]:.2f}", "at most 1.6"),
        ("  bench picture meanwhile, 95th percentile", f"{imported.picture_ms:.0f} ms", "", "usable"),
        ("100 spreads of 12 openings, 2,000 photos: first picture", f"{book['open_s']:.2f} s", "", "under 1.5 s"),
        ("  edit acknowledged, with its ledger and findings, median", f"{book['edit_median_ms']:.0f} ms", "", ""),
        ("  95th percentile", f"{book['edit_ms']:.0f} ms", "", "under 60 ms"),
        ("  answer, 95th percentile", f"{book['answer_kb']:.1f} kB", "", "under 20 kB"),
        (
            "  disk for a revision; for 200",
            f"{book['revision_kb']:.1f} kB; {book['revision_kb'] / 5:.2f} MB",
            "",
            "under 6 kB; 1 MB",
        ),
        ("  memory of the server", f"{book['memory_mb']:.0f} MB", "", "under 600 MB"),
        (
            "Eight clients on eight jobs beside an import, an export and a filling of 1,200 openings: edit, median",
            f"{crowd['edit_median_ms']:.0f} ms",
            "",
            "",
        ),
        ("  95th percentile", f"{crowd['edit_ms']:.0f} ms", "", "under 200 ms"),
        *book_rows(few, books.laid_out(200, 40, 0.0), script, many, whole),
        (
            "A spread of about 6 photos composed anew, median; p95",
            f"{by_hand['median']:.0f}; {by_hand['p95']:.0f} ms",
            "",
            "100 ms",
        ),
        ("  its layouts drawn up, p95", f"{by_hand['offered p95']:.0f} ms", "", ""),
        *lists.rows(),
        *posters.rows(),
        *press.rows(rounds),
        *strokes,
    ]
    table = ["| measured | value | ratio | goal |", "| --- | --- | --- | --- |"]
    table += [f"| {what.replace('  ', '&ensp;')} | {value} | {ratio} | {goal} |" for what, value, ratio, goal in rows]
    print("\n".join(table))
    head = f"""# Measurements

Made by `make bench` on {date.today():%d %B %Y} ({platform.machine()}, 2 cores; best of {rounds} interleaved rounds).
Machines are noisy: the ratios within one run are what counts. The floor of an export is decoding its 18 photos shrunk in
two threads, then one encode of that size; of an import, one shrunk decode of each photo in two threads, just before and
after each forty photos (the median of five ratios); albums lie between two floors too, by the median. What each script
does stands in `bench/scripts.py`.

"""
    DOC.write_text(
        "\n".join([head + "\n".join(table), "", *_quality(), "", *_faces(), "", *retouching.table(), ""]), "utf-8"
    )


def book_rows(
    few: dict[str, float], uncropped: dict[str, float], script: dict[str, float], many: dict[str, float], whole: float
) -> list[tuple[str, str, str, str]]:
    """Rows about whole books laid out."""
    return [
        ("200 photos looked at and laid out in 40 pages", f"{whole:.1f} s", "", "at most 10 s"),
        ("  laid out alone", f"{few['seconds']:.1f} s", "", ""),
        ("  faces cut; by the plain script", f"{few['faces cut']:.0f}; {script['faces cut']:.0f}", "", "none"),
        ("  cropped on average; by the plain script", f"{few['cropped']:.1%}; {script['cropped']:.0%}", "", "6 %"),
        ("  left over", f"{few['left over']:.0f}", "", "none"),
        ("  pages with a pause of 20 minutes; by the plain script", f"{few['torn']:.0f}; {script['torn']:.0f}", "", ""),
        (
            "  top and bottom edges that agree across the fold; with nothing cropped",
            f"{few['agree']:.0%}; {uncropped['agree']:.0%}", "", "95 %",
        ),
        (
            "  spreads with one photo twice the median; it is among the best third",
            f"{few['heroes']:.0f} of {few['spreads']:.0f}; {few['best']:.0f}", "", "80 %",
        ),
        ("  most cropped", f"{few['most cropped']:.1%}", "", "15 %"),
        ("  designs found again within four spreads", f"{few['again']:.0f}", "", "none"),
        ("2,000 known photos laid out in 200 pages", f"{many['seconds']:.0f} s", "", "at most 60 s"),
    ]  # fmt: skip


def _quality() -> list[str]:
    lines = [
        "## Sampling",
        "",
        "PSNR in dB against a 16 x 16 times supersampled reference (`bench/quality.py`); more is better.",
        "",
    ]
    lines += [
        "| surface | picture | Sutaru | OpenCV | Pillow | scikit-image |",
        "| --- | --- | --- | --- | --- | --- |",
    ]
    for surface, picture, by in quality.measure():
        lines.append(f"| {surface} | {picture} | " + " | ".join(f"{db:.1f}" for db in by.values()) + " |")
    return lines


def _faces() -> list[str]:
    found = list(crops())
    centre, ours = sum(cut for _, cut, _ in found), sum(cut for *_, cut in found)
    return [
        "## Faces", "",
        "Pictures with known faces in openings from 1:3 to 3:1 (`tests/known_faces.py`), those in which the face could be kept:",
        f"{len(found)} crops, of which a centre crop cuts the face in {centre}, and ours in {ours}.",
    ]  # fmt: skip


if __name__ == "__main__":
    main()
