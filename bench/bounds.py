"""`python -m bench.bounds`: how much time and memory the largest studies take, and how soon a stop is obeyed.

Each study runs in a process of its own, so that its memory is its own.
"""

import json
import resource
import subprocess
import sys
import time
from typing import Any

from bench.flows import long_row_study
from flowcore.simulate import Replicator, Stopped
from flowcore.study import read_study

EVERY_DAY = ["mon", "tue", "wed", "thu", "fri", "sat", "sun"]
STOP_AFTER = 1.0


def one_desk(gap: str, work: str, team: dict[str, Any], length: str) -> dict[str, Any]:
    """Return a study of one step."""
    return {
        "name": "One desk",
        "streams": [{"id": "cases", "name": "Cases", "kind": "random", "gap": exponential(gap), "to": "desk"}],
        "steps": [
            {
                "id": "desk",
                "name": "Desk",
                "kind": "serve",
                "work": exponential(work),
                "needs": [{"team": "team"}],
                "next": [{"to": "out"}],
            },
            {"id": "out", "name": "Out", "kind": "exit"},
        ],
        "teams": [{"id": "team", "name": "Team"} | team],
        "run": {"length": length, "replications": 1},
    }


def exponential(mean: str) -> dict[str, str]:
    """Return an exponential time."""
    return {"dist": "exponential", "mean": mean}


def shifts(people: int) -> dict[str, Any]:
    """Return a team in three shifts with a break each, and calls that interrupt each member."""
    hours = [("06:00", "14:00"), ("14:00", "22:00"), ("22:00", "06:00")]
    rest = {"after": "4 h", "length": "30 min", "taken": "spread", "within": "2 h"}
    rows = [{"days": EVERY_DAY, "from": a, "to": b, "people": people // 3, "breaks": [rest]} for a, b in hours]
    call = {"name": "Calls", "after": {"clock": exponential("6 h")}, "length": exponential("5 min"), "strikes": "each"}
    return {"roster": rows, "interruptions": [call]}


STUDIES: dict[str, dict[str, Any]] = {
    "700,000 cases waiting": one_desk("0.01 min", "1 min", {"size": 10}, "5 d"),
    "1,000 steps, 4 days": long_row_study(1000) | {"run": {"length": "4 d", "replications": 1}},
    "2,000 members in three shifts, 4 weeks": one_desk("0.1 min", "40 min", shifts(2000), "4 wk"),
    "5 years with shifts, 300 cases a day": one_desk("5 min", "12 min", shifts(15), "1826 d"),
}


def measure(name: str) -> dict[str, float]:
    """Run a study here, once whole and once stopped after a second; return seconds, megabytes and cases."""
    started = time.perf_counter()
    replicate = Replicator(read_study(STUDIES[name]))
    figures = replicate(0).figures
    took = time.perf_counter() - started
    memory = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    return {
        "seconds": took,
        "megabytes": memory,
        "arrived": figures["type/all/arrived"],
        "inside": figures["type/all/inside/end"],
        "stopped": stop_delay(name),
    }


def stop_delay(name: str) -> float:
    """Return how many seconds after a stop was asked for a run is over."""
    asked = time.perf_counter() + STOP_AFTER
    replicate = Replicator(read_study(STUDIES[name]), lambda: time.perf_counter() > asked)
    number = 0
    while True:
        try:
            replicate(number)
        except Stopped:
            return time.perf_counter() - asked
        number += 1


def main() -> None:
    """Measure every study in a process of its own."""
    for name in STUDIES:
        done = subprocess.run(
            [sys.executable, "-m", "bench.bounds", name], capture_output=True, text=True, check=True
        ).stdout
        found = json.loads(done)
        print(
            f"{name}: {found['arrived']:,.0f} cases, {found['inside']:,.0f} inside at the end, "
            f"{found['seconds']:.1f} s, {found['megabytes']:,.0f} MB, a stop took {found['stopped']:.2f} s",
            flush=True,
        )


if __name__ == "__main__":
    if len(sys.argv) > 1:
        print(json.dumps(measure(sys.argv[1])))
    else:
        main()
