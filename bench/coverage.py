"""How often an interval holds the truth: a terminating day simulated anew for many seeds.

`python -m bench.coverage [SEEDS]` prints for each figure, and for so many replications in a run, the share of the 95 %
intervals that hold the figure of all of them together. The day is 8 hours of two clerks at 80 % load, empty at first.
"""

import sys
from multiprocessing import Pool

import numpy as np

from flowcore.results.replication import Replication
from flowcore.results.run import EACH, Results
from flowcore.results.statistics import STATISTICS
from flowcore.simulate import Replicator
from flowcore.study import StudyDocument, read_study

FIGURES = (
    "type/all/total/mean",
    "step/desk/wait/mean",
    "step/desk/wait/p50",
    "step/desk/wait/p90",
    "step/desk/wait/p50:each",
    "step/desk/wait/p90:each",
    "step/desk/wait/within:5min",
    "cost/total/run",
)
POOLED = "step/desk/wait"
REPLICATIONS = 30
RUNS = (10, 20, 30)


def day(seed: int) -> StudyDocument:
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


def run_of(seed: int) -> Results:
    """Return the replications of one seed, with no more than FIGURES need."""
    replicate = Replicator(day(seed))
    return Results([slim(replicate(number)) for number in range(REPLICATIONS)], 0.95)


def slim(replication: Replication) -> Replication:
    """Return a replication with no more than FIGURES need."""
    needed = {each.removesuffix(EACH) for each in FIGURES} | {f"{POOLED}/{name}" for name in STATISTICS}
    figures = {address: value for address, value in replication.figures.items() if address in needed}
    return Replication(replication.number, figures, {POOLED: replication.histograms[POOLED]})


def main() -> None:
    """Print the coverage."""
    seeds = int(sys.argv[1]) if len(sys.argv) > 1 else 1_000
    with Pool() as pool:
        runs = pool.map(run_of, range(seeds), chunksize=10)
    whole = Results([each for run in runs for each in run.replications], 0.95)
    print(f"{'':28}" + "".join(f"{count:>8}" for count in RUNS), " replications a run")
    for address in FIGURES:
        truth = whole.figure(address).mean
        shares = [np.mean([holds(run, count, address, truth) for run in runs]) for count in RUNS]
        print(f"{address:28}" + "".join(f"{share:8.1%}" for share in shares))


def holds(run: Results, count: int, address: str, truth: float | None) -> bool:
    """Say whether the interval of the first replications of a run holds the truth."""
    found = Results(run.replications[:count], run.confidence).figure(address)
    return truth is not None and found.low is not None and found.high is not None and found.low <= truth <= found.high


if __name__ == "__main__":
    main()
