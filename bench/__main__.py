"""``python -m bench [rounds]``: all measurements as one table, also written to docs/measurements.md."""

import platform
import sys
import tempfile
from datetime import date
from pathlib import Path

from bench import dragging, export, served

DOC = Path(__file__).parent.parent / "docs" / "measurements.md"


def main() -> None:
    rounds = int(sys.argv[1]) if len(sys.argv) > 1 else 3
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        times = export.measure(folder, rounds)
        with served.server(folder / "picture") as client:
            median, p95 = served.bench_picture(client)
            drag = dragging.drag(str(client.base_url))
        with served.server(folder / "import") as client:
            ours, floor, meanwhile = served.importing(client)
    (seconds, peak), base, hard = times["sutaru"], times["floor"][0], times["hard_floor"][0]
    rows = [
        ("Export of the 18-opening spread", f"{seconds:.2f} s", "", ""),
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
        ("Import of 200 photos of 24 megapixels", f"{ours:.2f} a second", "", ""),
        ("  against the floor", f"{floor:.2f} a second", f"{floor / ours:.2f}", "at most 1.3"),
        ("  bench picture meanwhile, 95th percentile", f"{meanwhile:.0f} ms", "", "usable"),
    ]
    table = ["| measured | value | ratio | goal |", "| --- | --- | --- | --- |"]
    table += [f"| {what.replace('  ', '&ensp;')} | {value} | {ratio} | {goal} |" for what, value, ratio, goal in rows]
    print("\n".join(table))
    head = f"""# Measurements

Made by `make bench` on {date.today():%d %B %Y} ({platform.machine()}, 2 cores; best of {rounds} interleaved rounds).
Machines are noisy: the ratios within one run are what counts. The floor of an export is decoding its 18 photos shrunk in
two threads, then one encode of that size; of an import, one shrunk decode of each photo in two threads. What each script
does stands in `bench/scripts.py`.

"""
    DOC.write_text(head + "\n".join(table) + "\n", "utf-8")


if __name__ == "__main__":
    main()
