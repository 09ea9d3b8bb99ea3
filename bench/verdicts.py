"""How far verdicts can be trusted, and what common luck is worth.

`python -m bench.verdicts [FAMILIES]` prints how often equal systems with independent luck are told apart, one and five
at a time, and by how much common luck cuts the variance of the difference between each demo study and its scenarios.
"""

import json
import sys
from collections.abc import Iterator
from multiprocessing import Pool
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from bench.coverage import day
from flowcore.results.comparison import Verdict, compare
from flowcore.results.run import Results
from flowcore.simulate import Replicator, simulate
from flowcore.study import RunSettings, StudyDocument, read_study
from flowcore.study.scenarios import BASELINE, apply_scenario

FIGURES = ("type/all/wait/mean", "step/desk/wait/p90", "step/desk/wait/within:5min")
REPLICATIONS = 20
AT_ONCE = 5
CONFIDENCE = 0.95
MOST_FALSE = 0.05
LEAST_GAIN, GOAL = 5.0, 20.0
TINY = 1e-12
MEASURES = ("type/all/wait/mean", "type/all/total/mean")
DEMO = Path(__file__).parent.parent / "demo"


def values(seed: int) -> dict[str, NDArray[np.float64]]:
    """Return the figures of one run of the day, one number a replication."""
    replicate = Replicator(day(seed))
    results = Results([replicate(number) for number in range(REPLICATIONS)], CONFIDENCE)
    return {address: results.contributions(address) for address in FIGURES}


def false_verdicts(runs: list[dict[str, NDArray[np.float64]]], at_once: int) -> Iterator[tuple[str, float]]:
    """Yield for each figure in what share of families of equal systems at least one is told apart."""
    size = at_once + 1
    families = [runs[n : n + size] for n in range(0, len(runs) - size + 1, size)]
    for address in FIGURES:
        told = [
            any(each.verdict is not Verdict.UNCLEAR for each in compare(address, pairs, CONFIDENCE))
            for first, *others in families
            for pairs in [[(first[address], other[address]) for other in others]]
        ]
        yield address, float(np.mean(told))


def variance_cuts(study: StudyDocument, scenario: str) -> dict[str, tuple[float, float]]:
    """Return by how much common luck cuts the variance of the difference of two scenarios, by measure.

    Beside it stands by how much the best luck could: a scenario that takes most of the spread away differs from the
    baseline by about as much as that varies by itself, and by no less than the difference of both spreads.
    """
    settings = RunSettings(**(study.run.model_dump() | {"replications": 40, "precision": None}))
    first, other = (_values(study, each, settings) for each in (BASELINE, scenario))
    return {address: _cut(first[address], other[address]) for address in MEASURES}


def _cut(first: NDArray[np.float64], other: NDArray[np.float64]) -> tuple[float, float]:
    apart = first.var() + other.var()
    at_best = max(float((first.std() - other.std()) ** 2), TINY)
    return float(apart / max((other - first).var(), TINY)), float(apart / at_best)


def _values(study: StudyDocument, scenario: str, settings: RunSettings) -> dict[str, NDArray[np.float64]]:
    results = simulate(apply_scenario(study, scenario).model_copy(update={"run": settings}), threads=2)
    return {address: results.values[address] for address in MEASURES}


def main() -> int:
    """Print both; return 1 where a bar is missed."""
    families = int(sys.argv[1]) if len(sys.argv) > 1 else 300
    missed = False
    with Pool() as pool:
        runs = pool.map(values, range(families * (AT_ONCE + 1)), chunksize=10)
    for at_once in (1, AT_ONCE):
        used = runs[: families * (at_once + 1)]
        error = (MOST_FALSE * (1 - MOST_FALSE) / families) ** 0.5
        for address, share in false_verdicts(used, at_once):
            missed |= share > MOST_FALSE + 2 * error
            print(f"{at_once} at once  {address:32} {100 * share:5.1f} % told apart (± {100 * 2 * error:.1f})")
    for file in sorted(DEMO.glob("*.json")):
        study = read_study(json.loads(file.read_text()))
        found = []
        for scenario in study.scenarios:
            for address, (cut, at_best) in variance_cuts(study, scenario.id).items():
                found.append(cut)
                best = f", at best {at_best:.1f}" if at_best < GOAL else ""
                print(f"{study.name:42} {scenario.name:30} {address:20} variance cut {cut:8.1f} times{best}")
        missed |= max(found) < LEAST_GAIN
        print(f"{study.name:42} most {max(found):.1f} times (bar {LEAST_GAIN:.0f}, goal {GOAL:.0f})")
    return int(missed)


if __name__ == "__main__":
    sys.exit(main())
