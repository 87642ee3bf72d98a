"""A long capture: read, analysed and stored, and the views drawn from it, beside numpy's and pyarrow's own readers."""

import os
import tempfile
import time
from multiprocessing import get_context
from pathlib import Path
from uuid import UUID, uuid4

import numpy as np
from pyarrow import csv
from sqlmodel import Session

from bench.timing import percentiles_ms
from iron_probe.core.job.job import DEMO
from iron_probe.core.trace.layout import guess_layout
from iron_probe.demo.crank_captures import STORIES, traces
from iron_probe.store import captures
from iron_probe.store.cluster import cluster
from iron_probe.store.database import connect
from iron_probe.store.migrate import migrate
from iron_probe.store.tables import Capture
from iron_probe.work.import_capture import WRITE_MS, import_capture
from iron_probe.work.jobs import TakeIn, take_in
from iron_probe.work.machines import NewMachine, copy_of_shipped
from iron_probe.work.uploads import file_blocks

SAMPLES = 10_000_000
VIEWS = 60


def write_file(path: Path, count: int) -> None:
    """A crank of `count` samples at 2.5 MHz, two channels, as a scope would write it."""
    time_s, amps, volts = traces(STORIES[0])
    rng = np.random.default_rng(1)
    grid = np.arange(count) * (time_s[-1] / count)
    with path.open("w") as file:
        file.write("Time,Clamp,Posts\n(s),(A),(V)\n")
        for k in range(0, count, 500_000):
            t = grid[k : k + 500_000]
            a = np.interp(t, time_s, amps) + rng.normal(0, 1, len(t))
            v = np.interp(t, time_s, volts) + rng.normal(0, 0.005, len(t))
            np.savetxt(file, np.column_stack([t, a, v]), fmt=["%.7f", "%.1f", "%.3f"], delimiter=",")


def _child(url: str, capture_id: str, out: str) -> None:
    start = time.perf_counter()
    import_capture(connect(url, WRITE_MS), UUID(capture_id))
    took = time.perf_counter() - start
    most = next(line for line in Path("/proc/self/status").read_text().splitlines() if line.startswith("VmHWM"))
    Path(out).write_text(f"{took} {int(most.split()[1]) / 1024}")  # not getrusage: that carries the parent's peak over


def _read_by_others(path: Path) -> tuple[float, float]:
    """Seconds [s] that pyarrow takes to read the file, and numpy would, from a twentieth of it."""
    start = time.perf_counter()
    csv.read_csv(path, convert_options=csv.ConvertOptions(), read_options=csv.ReadOptions(skip_rows=2, column_names=["t", "a", "v"]))
    arrow_s = time.perf_counter() - start
    with path.open("rb") as file:
        few = b"".join(file.readline() for _ in range(SAMPLES // 20))
    start = time.perf_counter()
    np.loadtxt(few.decode().splitlines()[2:], delimiter=",")
    return arrow_s, (time.perf_counter() - start) * 20


def _viewed(session: Session, row: Capture) -> tuple[float, list[float]]:
    """What the first view takes [ms], and each of many at random after it [s]."""
    start = time.perf_counter()
    captures.read_view(session, row, 0, SAMPLES, 1200)
    first_ms = (time.perf_counter() - start) * 1000
    rng, times = np.random.default_rng(5), []
    for _ in range(VIEWS):
        span = int(10 ** rng.uniform(1, 7))
        begin = int(rng.integers(0, SAMPLES - span + 1))
        start = time.perf_counter()
        captures.read_view(session, row, begin, begin + span, 1200)
        times.append(time.perf_counter() - start)
    return first_ms, times


def table() -> str:
    """Measure and word it."""
    with tempfile.TemporaryDirectory(prefix="iron-probe-") as folder:
        Path(folder).chmod(0o755)
        path = Path(folder) / "long.csv"
        write_file(path, SAMPLES)
        size = path.stat().st_size / 1e6
        arrow_s, numpy_s = _read_by_others(path)
        with cluster(Path(folder) / "postgres") as url:
            engine = connect(url)
            migrate(engine)
            with Session(engine) as session:
                machine = copy_of_shipped(session, NewMachine(id=uuid4(), name="bench"), "crew-minibus", DEMO)
                job = take_in(session, TakeIn(uuid4(), {}), machine)
                with path.open("rb") as file:
                    preview = guess_layout(file.read(65536))
                row = Capture(
                    id=uuid4(), job_id=job.id, filename="long.csv", size_bytes=path.stat().st_size, status="reading",
                    layout=preview.layout.model_dump(mode="json"),
                )  # fmt: skip
                captures.add_upload(session, row, file_blocks(path))
                session.commit()
                out = Path(folder) / "out"
                child = get_context("spawn").Process(target=_child, args=(url, str(row.id), str(out)))
                child.start()
                child.join()
                took, memory = (float(x) for x in out.read_text().split())
                session.refresh(row)
                if row.status != "ready":
                    raise RuntimeError(row.message)
                first_ms, times = _viewed(session, row)
            engine.dispose()
    p50, p95 = percentiles_ms(times)
    return "\n".join(
        [
            "## Captures",
            "",
            f"{SAMPLES:,} samples, two channels and time, {size:.0f} MB of CSV, on {os.cpu_count()} cores:",
            "",
            "| what | measured | beside it |",
            "| --- | ---: | --- |",
            f"| read, analysed and stored, in a process of its own | {took:.1f} s | {numpy_s / took:.1f} times faster than numpy.loadtxt only reads it ({numpy_s:.0f} s, from a twentieth) |",
            f"| the same | {took / arrow_s:.1f} times | the time pyarrow.csv alone takes to read it ({arrow_s:.1f} s) |",
            f"| most memory of that process | {memory:.0f} MB | |",
            f"| first view of 1200 columns | {first_ms:.0f} ms | |",
            f"| pan and zoom, {VIEWS} views of 10 to 10 million samples | p50 {p50:.0f} ms, p95 {p95:.0f} ms | |",
            "",
        ]
    )
