"""Whole processes, as a user meets them: from the command typed to the file written, wall and processor time, imports and all.

``python -m bench.processes [rounds]``. Each is run once unmeasured, then ``rounds`` times (5), all in turn, so that a noisy
moment hits all alike; medians count. Nothing is kept from one process to the next but Python's bytecode.
"""

import json
import os
import resource
import statistics
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable, Sequence
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path

import httpx

from bench.photos import photos
from bench.scripts import HEIGHT, PPI, QUALITY, WIDTH, boxes

PLAIN = Path(__file__).with_name("plain.py")
PORT = 8793
Row = tuple[str, str, str, str]


@dataclass(frozen=True)
class Cost:
    """Of one process: seconds by the clock, seconds of processors, MB at most."""

    wall: float
    processor: float
    peak_mb: float


def run(command: Sequence[str], status: int = 0) -> Cost:
    """What a command costs, with all processes that it starts. Raises AssertionError when it ends otherwise."""
    env = {name: value for name, value in os.environ.items() if name != "PYTHONDONTWRITEBYTECODE"}
    os.sync()  # what others have written is on the disk: we wait for our own file to be there, and for no other
    before, since = resource.getrusage(resource.RUSAGE_CHILDREN), time.perf_counter()
    process = subprocess.Popen(command, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL, env=env)
    _, code, used = os.wait4(process.pid, 0)
    wall = time.perf_counter() - since
    process.returncode = os.waitstatus_to_exitcode(code)
    assert process.returncode == status, f"{command} ended with {process.returncode}"
    after = resource.getrusage(resource.RUSAGE_CHILDREN)
    processor = after.ru_utime + after.ru_stime - before.ru_utime - before.ru_stime
    return Cost(wall, processor, used.ru_maxrss / 1000)


def compare(work: dict[str, Callable[[], Cost]], rounds: int) -> dict[str, Cost]:
    """The medians of each, run in turn."""
    costs: dict[str, list[Cost]] = {name: [] for name in work}
    for n in range(rounds + 1):
        for name, job in work.items():
            cost = job()
            if n:
                costs[name].append(cost)
    return {
        name: Cost(
            *(statistics.median(getattr(cost, part) for cost in runs) for part in ("wall", "processor", "peak_mb"))
        )
        for name, runs in costs.items()
    }


def sutaru(*words: str) -> list[str]:
    return [sys.executable, "-m", "sutaru", *words]


def prepare(folder: Path) -> tuple[Path, Path]:
    """The spread's bundle, made as a studio makes it, and what the plain scripts are told."""
    from sutaru.core.formats.bundle import Bundle

    bundle, told = folder / "spread.sutaru", folder / "boxes.json"
    run(sutaru("fill", "album-spread-18", *map(str, photos()), "-o", str(bundle)))
    job = Bundle(bundle).job
    page = {"size": [WIDTH, HEIGHT], "ppi": PPI, "quality": QUALITY, "paper": "#fdfcf8",
            "boxes": [(str(path), box) for path, box in boxes(job)]}  # fmt: skip
    told.write_text(json.dumps(page))
    return bundle, told


def measure_export(folder: Path, rounds: int) -> dict[str, Cost]:
    """The spread exported by us and by plain scripts."""
    bundle, told = prepare(folder)
    work = {
        way: lambda way=way: run([sys.executable, str(PLAIN), way, str(told), str(folder / f"{way}.jpg")])
        for way in ("floor", "opencv", "pillow")
    }
    work["sutaru"] = lambda: run(sutaru("export", str(bundle), "-o", str(folder / "out")))
    return compare(work, rounds)


def measure_commands(rounds: int) -> dict[str, Cost]:
    """What asks little, beside an import that each of them needs."""
    return compare(
        {
            "pydantic": lambda: run([sys.executable, "-c", "import pydantic; pydantic.BaseModel"]),
            "shelf": lambda: run(sutaru("shelf")),
            "--help": lambda: run(sutaru("--help")),
            "wrong": lambda: run(sutaru("export", "--nowhere"), 2),
        },
        rounds,
    )


@contextmanager
def started(data: Path):
    """A server, and the seconds until it answered; ends with its workers."""
    env = {name: value for name, value in os.environ.items() if name != "PYTHONDONTWRITEBYTECODE"}
    since = time.perf_counter()
    process = subprocess.Popen(
        sutaru("serve", "--port", str(PORT), "--data", str(data)), stderr=subprocess.DEVNULL, env=env
    )
    try:
        with httpx.Client(base_url=f"http://127.0.0.1:{PORT}", timeout=60) as client:
            while True:
                try:
                    assert client.get("/").status_code == 200
                    break
                except httpx.TransportError:
                    assert process.poll() is None, f"the server did not start: is port {PORT} in use?"
                    time.sleep(0.005)
            yield client, time.perf_counter() - since, process.pid
    finally:
        process.terminate()
        process.wait()


def memory_mb(pid: int) -> float:
    """Memory of a process and of those that it started, MB, what they share counted once."""
    family = [str(pid)]
    for parent in family:
        listing = subprocess.run(["ps", "-o", "pid=", "--ppid", parent], capture_output=True, text=True, check=False)
        family += listing.stdout.split()
    return (
        sum(
            int(line.split()[1])
            for member in family
            for line in Path(f"/proc/{member}/smaps_rollup").read_text().splitlines()
            if line.startswith("Pss:")
        )
        / 1024
    )


def measure_server(folder: Path, rounds: int) -> dict[str, float]:
    """Medians of a new studio's server: until it is ready, until every picture of the shelf's first sight is there (of the first
    twelve templates), and its memory after half a minute of nothing."""
    ready, sight = [], []
    memory = 0.0
    for n in range(rounds):
        with started(folder / f"studio-{n}") as (client, seconds, pid):
            ready.append(seconds)
            since = time.perf_counter()
            templates = client.get("/api/templates").json()
            for template in templates[:12]:
                for sheet in template["sheets"]:
                    width = round(0.84 * (sheet["width_mm"] + 2 * sheet["bleed_mm"]))  # as the shelf asks for it
                    address = f"/api/templates/{template['id']}/sheets/{sheet['id']}/picture"
                    answer = client.get(f"{address}?width={width}&revision={template['revision']}")
                    assert answer.headers["content-type"].startswith("image/"), answer.text
            sight.append(time.perf_counter() - since)
            if n == rounds - 1:
                time.sleep(30)
                memory = memory_mb(pid)
    return {"ready": statistics.median(ready), "sight": statistics.median(sight), "memory": memory}


def rows(folder: Path, rounds: int = 5) -> list[Row]:
    """Rows for docs/measurements.md."""
    costs, small, server = measure_export(folder, rounds), measure_commands(rounds), measure_server(folder, rounds)
    own, base = costs["sutaru"], small["pydantic"]
    floor, opencv, pillow = (costs[way] for way in ("floor", "opencv", "pillow"))

    def describe_cost(cost: Cost) -> str:
        return f"{cost.wall:.2f} s; {cost.processor:.2f} s of processors"

    return [
        ("`sutaru export` of the 18-opening spread, as a process", describe_cost(own), "", ""),
        ("  against the floor as a process", describe_cost(floor), f"{own.wall / floor.wall:.2f}", "at most 1.5"),
        ("  against the OpenCV script, two threads", describe_cost(opencv), f"{own.wall / opencv.wall:.2f}", "at most 0.6"),
        ("  against the Pillow script", describe_cost(pillow), f"{own.wall / pillow.wall:.2f}", ""),
        ("  memory at most", f"{own.peak_mb:.0f} MB", "", ""),
        *(
            (f"`sutaru {name}` against importing pydantic" if name != "wrong" else "a wrong option, likewise",
             f"{small[name].wall * 1000:.0f} ms; {base.wall * 1000:.0f} ms", f"{small[name].wall / base.wall:.2f}", "at most 1.5")
            for name in ("shelf", "--help", "wrong")
        ),
        ("A new studio's server ready, from the command typed", f"{server['ready']:.2f} s", "", "1.2 s"),
        ("  then the shelf with the pictures of twelve templates", f"{server['sight']:.2f} s", "", "0.5 s"),
        ("  memory after half a minute, with its workers", f"{server['memory']:.0f} MB", "", "180 MB"),
    ]  # fmt: skip


if __name__ == "__main__":
    with tempfile.TemporaryDirectory() as name:
        for row in rows(Path(name), int(sys.argv[1]) if len(sys.argv) > 1 else 5):
            print("| " + " | ".join(row) + " |", flush=True)
