"""`python -m bench.logs`: how long a log of a million rows takes until it is seen, read, looked at and fitted.

Prints seconds, and as shares of their bars: two for the preview, sixty for all the rest together, a gigabyte for the
most memory that was in use.
"""

import resource
import sys
import tempfile
import time
from collections.abc import Callable
from datetime import datetime, timedelta
from pathlib import Path
from typing import Any

import numpy as np

from flowcore.calibration.found import found_in
from flowcore.discovery.flow import discovered
from flowcore.logs.doubts import Treatment, doubts_in, treated
from flowcore.logs.looks import look_at
from flowcore.logs.reading import read_log
from flowcore.logs.recognising import recognised

ROWS = 1_000_000
PREVIEW_BAR, ALL_BAR, MEMORY_BAR = 2.0, 60.0, 1024.0
STEPS = ("Reception", "Counter", "Second opinion", "Copying", "Cashier")
TYPES = ("Passport", "Moving house", "Parking", "Dog tax")


def write(path: Path, rows: int) -> None:
    """Write a log of so many rows: cases of four types go through two to five steps, at forty desks."""
    random = np.random.default_rng(1)
    start = datetime(2027, 3, 1, 8)
    with path.open("w") as file:
        file.write("Ticket;Errand;Service;Printed;Called;Finished;Desk\n")
        written = case = 0
        while written < rows:
            kind = int(random.integers(4))
            at = start + timedelta(minutes=float(case) * 0.7)
            case += 1
            waits, work = random.exponential(5.0, 5), random.lognormal(1.5 + 0.1 * kind, 0.6, 5)
            desks = random.integers(8, size=5)
            for n in range(2 + int(random.integers(4))):
                called = at + timedelta(minutes=float(waits[n]))
                done = called + timedelta(minutes=float(work[n]))
                times = ";".join(f"{each:%d.%m.%Y %H:%M:%S}" for each in (at, called, done))
                file.write(f"T{case:07};{TYPES[kind]};{STEPS[n]};{times};Desk {8 * n + desks[n]}\n")
                at = done
                written += 1


def timed(what: str, function: Callable[[], Any]) -> tuple[Any, float]:
    """Call a function; print and return how many seconds it took."""
    began = time.perf_counter()
    found = function()
    took = time.perf_counter() - began
    print(f"{what:40} {took:8.2f}", flush=True)
    return found, took


def main() -> int:
    """Measure everything."""
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "log.csv"
        write(path, ROWS)
        preview, seen = timed("preview", lambda: recognised(path))
        (visits, report), reading = timed("read", lambda: read_log(path, preview.reading))
    doubts, doubting = timed("doubts", lambda: doubts_in(visits, Treatment()))
    kept, treating = timed("treated", lambda: treated(visits, Treatment()))
    _, looking = timed("looked at", lambda: look_at(kept))
    _, fitting = timed("fitted", lambda: found_in(kept))
    _, discovering = timed("flow discovered", lambda: discovered(kept))
    whole = reading + doubting + treating + looking + fitting
    memory = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    print(f"{report.rows:,} rows, {report.unread} unread, {len(doubts)} doubts, {discovering:.1f} s for the flow")
    print(f"preview {seen / PREVIEW_BAR:.2f} of its bar, all {whole / ALL_BAR:.2f}, memory {memory / MEMORY_BAR:.2f}")
    return 0


if __name__ == "__main__":
    sys.exit(main())
