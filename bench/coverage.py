"""How often an interval holds the truth: a terminating day simulated anew for many seeds.

`python -m bench.coverage [SEEDS]` prints for each figure, and for so many replications in a run, the share of the 95 %
intervals that hold the mean over all of them. The day is 8 hours of two clerks at 80 % load, empty at its start.
"""

import sys
from multiprocessing import Pool

import numpy as np

from flowcore.results.statistics import estimate
from flowcore.simulate import Replicator
from flowcore.study import Study, read_study

FIGURES = ("type/all/total/mean", "step/desk/wait/mean", "step/desk/wait/p50", "step/desk/wait/p90", "cost/total/run")
REPLICATIONS = 30
RUNS = (10, 20, 30)


def day(seed: int) -> Study:
    """Return the day."""
    return read_study(
        {
            "name": "Day",
            "start": "2027-03-01T08:00",
            "streams": [
                {
                    "id": "in", "name": "In", "kind": "random", "to": "desk",
                    "gap": {"dist": "exponential", "mean": "5 min"},
                }
            ],
            "steps": [
                {
                    "id": "desk", "name": "Desk", "kind": "serve", "needs": [{"team": "clerks"}],
                    "work": {"dist": "lognormal", "mean": "8 min", "sd": "6 min"}, "next": [{"to": "out"}],
                },
                {"id": "out", "name": "Out", "kind": "exit"},
            ],
            "teams": [{"id": "clerks", "name": "Clerks", "size": 2, "rate": 20, "use_cost": 1}],
            "run": {"length": "8 h", "replications": REPLICATIONS, "seed": seed},
        }
    )  # fmt: skip


def figures_of(seed: int) -> np.ndarray:
    """Return the figures of all replications of one seed, (FIGURES × REPLICATIONS)."""
    replicate = Replicator(day(seed))
    found = [replicate(number).figures for number in range(REPLICATIONS)]
    return np.array([[each[address] for each in found] for address in FIGURES])


def main() -> None:
    """Print the coverage."""
    seeds = int(sys.argv[1]) if len(sys.argv) > 1 else 1_000
    with Pool() as pool:
        table = np.array(pool.map(figures_of, range(seeds), chunksize=10))
    print(f"{'':24}" + "".join(f"{count:>8}" for count in RUNS), " replications a run")
    for place, address in enumerate(FIGURES):
        truth = np.nanmean(table[:, place])
        shares = [np.mean([holds(row[place, :count], truth) for row in table]) for count in RUNS]
        print(f"{address:24}" + "".join(f"{share:8.1%}" for share in shares))


def holds(values: np.ndarray, truth: float) -> bool:
    """Say whether the interval of some values holds the truth."""
    found = estimate(values, 0.95)
    return found.low is not None and found.high is not None and found.low <= truth <= found.high


if __name__ == "__main__":
    main()
