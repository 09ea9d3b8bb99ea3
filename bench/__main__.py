"""`python -m bench`: measure, print the ratios, and exit 1 where one misses its bar."""

import json
import sys
import time
from collections.abc import Callable
from concurrent.futures import ProcessPoolExecutor
from functools import partial
from multiprocessing import get_context
from pathlib import Path
from statistics import median
from typing import Any

from bench import bare, flows
from bench.yardstick import Yardstick
from flowcore.results.wanted import Wanted
from flowcore.simulate import Replicator, simulate
from flowcore.study import StudyDocument, read_study

ROUNDS = 5
YARDSTICK_MINUTES = 20_000
ENGINE_DAYS = 200
THREAD_ROUNDS = 10
THREAD_DAYS = 50
LEAST_SPEED_UP = 22.0
MOST_BARE_LINES = 4.0
LEAST_THREAD_GAIN = 1.7
LEAST_OF_PROCESSES = 0.95
"""Where the machine gives two processes less, threads are to gain so large a share of what these do."""
LEAST_OF_MANY_STEPS = 500 / 1500
LEAST_OF_A_CROWD = 400 / 1500
"""Visits, or cases served, per second as shares of the visits that a row of ten steps makes."""
LONGEST_MONTH = 60.0


def seconds(action: Callable[[], Any]) -> float:
    """Return how long an action takes."""
    start = time.perf_counter()
    action()
    return time.perf_counter() - start


def cases_per_second(replicate: Replicator) -> float:
    """Return the engine's rate on one core, every statistic collected and summarised."""
    start = time.perf_counter()
    done = replicate(1)
    took = time.perf_counter() - start
    return done.figures["type/all/arrived"] / took


def yardstick_rate(make: Callable[[int], Yardstick]) -> float:
    """Return the yardstick's cases per second, its statistics summarised too."""
    yardstick = make(1)
    took = seconds(lambda: (yardstick.run(YARDSTICK_MINUTES), yardstick.summary()))
    return yardstick.cases / took


def load(document: dict[str, Any], days: float, replications: int = 1) -> StudyDocument:
    """Return a bench flow as a study of so many days."""
    return read_study({**document, "run": {"length": f"{days} d", "replications": replications}})


def speed_up(name: str, make: Callable[[int], Yardstick], document: dict[str, Any]) -> bool:
    """Measure a flow in the engine and in the yardstick, in turns."""
    replicate = Replicator(load(document, ENGINE_DAYS))
    replicate(0)
    pairs = [(cases_per_second(replicate), yardstick_rate(make)) for _ in range(ROUNDS)]
    ratio = median(engine / plain for engine, plain in pairs)
    engine, plain = median(pair[0] for pair in pairs), median(pair[1] for pair in pairs)
    text = f"{engine:,.0f} cases/s against {plain:,.0f}"
    return verdict(f"{name}: {text}", ratio, LEAST_SPEED_UP)


def bare_lines() -> bool:
    """Say how many bare compiled lines a case of three servers costs."""
    replicate = Replicator(load(flows.three_servers_study(), ENGINE_DAYS))
    replicate(0)
    pairs = [(cases_per_second(replicate), bare.cases_per_second(ENGINE_DAYS * 1440.0)) for _ in range(ROUNDS)]
    ratio = median(line / engine for engine, line in pairs)
    print(f"three servers cost {ratio:.1f} bare compiled lines (goal: at most {MOST_BARE_LINES:g})", flush=True)
    return True


def thread_gain() -> bool:
    """Measure sixteen replications on two threads against one, beside two processes, which share nothing at all.

    What else runs on the machine moves a single gain by a third, so that of all rounds together is told.
    """
    study = load(flows.five_steps_study(), THREAD_DAYS, replications=16)
    with ProcessPoolExecutor(2, get_context("fork"), simulate, (study,)) as processes:
        ways = (partial(simulate, study), partial(simulate, study, threads=2), partial(halves, processes, study))
        halves(processes, study)
        rounds = [[seconds(way) for way in ways] for _ in range(THREAD_ROUNDS)]
    one, threads, both = map(sum, zip(*rounds, strict=True))
    least = min(LEAST_THREAD_GAIN, LEAST_OF_PROCESSES * one / both)
    return verdict(f"two threads against one, where processes gain {one / both:.2f}×", one / threads, least)


def halves(processes: ProcessPoolExecutor, study: StudyDocument) -> None:
    """Run half of a study's sixteen replications in each of two processes."""
    list(processes.map(partial(half, study), (0, 8)))


def half(study: StudyDocument, first: int) -> None:
    """Run eight replications."""
    simulate(study, numbers=range(first, first + 8))


def visit_rate(steps: int) -> float:
    """Return visits to steps per second in a row of so many steps."""
    study = load(flows.long_row_study(steps), 2000 / steps)
    replicate = Replicator(study)
    replicate(1)
    start = time.perf_counter()
    done = replicate(0)
    took = time.perf_counter() - start
    return sum(done.figures[f"step/s{n}/served"] for n in range(steps)) / took


def size_gain() -> bool:
    """Measure 1,000 steps, and 100,000 in line, against ten steps."""
    rounds = [(visit_rate(10), visit_rate(1000), crowd_rate()) for _ in range(ROUNDS)]
    ten, many, crowd = (median(rates) for rates in zip(*rounds, strict=True))
    of_many = verdict(
        f"1,000 steps against 10, visits per second: {many:,.0f} against {ten:,.0f}",
        median(each[1] / each[0] for each in rounds),
        LEAST_OF_MANY_STEPS,
    )
    of_crowd = verdict(
        f"100,000 in line, cases per second, against visits to 10 steps: {crowd:,.0f} against {ten:,.0f}",
        median(each[2] / each[0] for each in rounds),
        LEAST_OF_A_CROWD,
    )
    return of_many and of_crowd


def crowd_rate() -> float:
    """Return cases served per second at a desk before which, as time goes on, 108,000 to 92,000 wait."""
    replicate = Replicator(load(flows.crowded_study(108_000), 200))
    replicate(0)
    start = time.perf_counter()
    done = replicate(1)
    return done.figures["step/desk/served"] / (time.perf_counter() - start)


def short_ones() -> bool:
    """Measure a day of one step with some 120 cases, and a week of the clinic: all figures, and only two."""
    day = {**flows.three_servers_study(), "start": "2027-03-01T08:00"}
    day["streams"][0]["gap"] = {"dist": "exponential", "mean": "4 min"}
    clinic = json.loads(Path("demo/animal-clinic.json").read_text())
    for name, document, length in (("a day of one step", day, "8 h"), ("a week of the animal clinic", clinic, "1 wk")):
        replicate = Replicator(read_study(document | {"run": document.get("run", {}) | {"length": length}}))
        replicate(0)
        took = median(seconds(partial(replicate, number)) for number in range(1, 31))
        two = replicate.telling(["type/all/wait/mean", "type/all/wait/p90"])
        for_two = median(seconds(partial(two_figures, replicate, two, number)) for number in range(1, 31))
        print(f"{name}: {1000 * took:.2f} ms a replication, {1000 * for_two:.2f} ms for two figures", flush=True)
    return True


def two_figures(replicate: Replicator, two: Wanted, number: int) -> None:
    """Run a replication of which no more than two figures are told."""
    world = replicate.world_of(number)
    two(world, *replicate.counted(world))


def a_months_service() -> bool:
    """Measure 30 replications of four weeks of a service of 60 people."""
    study = read_study({**flows.service_study(), "run": {"length": "4 wk", "replications": 30}})
    took = seconds(lambda: simulate(study, threads=2))
    print(f"4 weeks of 60 people, 30 replications on two threads: {took:.0f} s", flush=True)
    return took < LONGEST_MONTH


def verdict(name: str, ratio: float, least: float) -> bool:
    """Print a ratio and say whether it reaches its bar."""
    reached = ratio >= least
    print(f"{name}: {ratio:.2f}× (at least {least:.3g}×{'' if reached else ', MISSED'})", flush=True)
    return reached


def main() -> int:
    """Measure everything."""
    reached = [
        speed_up("three servers", flows.three_servers, flows.three_servers_study()),
        speed_up("five steps with rework", flows.five_steps, flows.five_steps_study()),
        speed_up("five steps that share teams", flows.shared_teams, flows.shared_teams_study()),
        bare_lines(),
        thread_gain(),
        size_gain(),
        short_ones(),
        a_months_service(),
    ]
    return 0 if all(reached) else 1


sys.exit(main())
