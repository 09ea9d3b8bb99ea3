"""The figures of one replication, each at its address."""

from dataclasses import dataclass
from itertools import product

import numpy as np
from numpy.typing import NDArray

from flowcore.kernel import records as r
from flowcore.results.histogram import Histogram
from flowcore.results.statistics import STATISTICS, sample_statistics
from flowcore.study import Study
from flowcore.study.steps import Choose, Exit

Figures = dict[str, float]
Rows = NDArray[np.void]

MINUTES_PER_DAY = 1440.0
MINUTES_PER_HOUR = 60.0
WAY_QUANTITIES = ("wait", "work", "travel", "total")


@dataclass(frozen=True)
class Replication:
    """What one replication yields: figures by address and histograms of waits by subject."""

    number: int
    figures: Figures
    waits: dict[str, Histogram]


def summarise(study: Study, world: r.World, number: int, minutes: float) -> Replication:
    """Return the figures of a settled world that collected for `minutes`."""
    visits = world.visits[: world.clock[0].visits]
    departures = world.departures[: world.clock[0].departures]
    waits = {
        **_of_visits(visits, study),
        **_of_departures(departures, study),
    }
    figures = _of_samples(waits)
    figures |= _outcomes(study, departures)
    figures |= _counts(study, world)
    figures |= _levels(study, world, minutes)
    figures |= _teams(study, world, minutes)
    figures |= _costs(study, world, minutes)
    histograms = {subject: Histogram.of(samples["wait"]) for subject, samples in waits.items()}
    return Replication(number, figures, histograms)


def _named(prefix: str, names: tuple[str, ...], values: NDArray[np.float64]) -> Figures:
    return {f"{prefix}/{name}": float(value) for name, value in zip(names, values, strict=True)}


Samples = dict[str, NDArray[np.float64]]


def _of_samples(subjects: dict[str, Samples]) -> Figures:
    """Return the statistics of every subject's samples; samples that subjects share are read once."""
    known: dict[int, NDArray[np.float64]] = {}
    figures: Figures = {}
    for subject, samples in subjects.items():
        for quantity, values in samples.items():
            if id(values) not in known:
                known[id(values)] = sample_statistics(values)
            figures.update(_named(f"{subject}/{quantity}", STATISTICS, known[id(values)]))
    return figures


def _grouped(rows: Rows, everything: Samples, key: str, ids: list[str]) -> dict[str, Samples]:
    """Split samples by an index field of their rows; the result has every id, in order."""
    keys = rows[key].astype(np.int16 if len(ids) < np.iinfo(np.int16).max else np.int32)
    order = np.argsort(keys, kind="stable")
    edges = np.concatenate([[0], np.cumsum(np.bincount(keys, minlength=len(ids)))])
    if len(keys) in np.diff(edges):
        nothing = {quantity: column[:0] for quantity, column in everything.items()}
        return {each: everything if edges[n + 1] - edges[n] else nothing for n, each in enumerate(ids)}
    columns = {quantity: column[order] for quantity, column in everything.items()}
    return {
        each: {quantity: column[edges[n] : edges[n + 1]] for quantity, column in columns.items()}
        for n, each in enumerate(ids)
    }


def _of_visits(visits: Rows, study: Study) -> dict[str, Samples]:
    everywhere: Samples = {quantity: np.ascontiguousarray(visits[quantity]) for quantity in ("wait", "work")}
    everywhere["total"] = everywhere["wait"] + everywhere["work"]
    grouped = _grouped(visits, everywhere, "step", [step.id for step in study.steps])
    timed = {step.id for step in study.steps if not isinstance(step, Choose | Exit)}
    return {"step/all": everywhere} | {f"step/{k}": v for k, v in grouped.items() if k in timed}


def _of_departures(departures: Rows, study: Study) -> dict[str, Samples]:
    everywhere = {quantity: np.ascontiguousarray(departures[quantity]) for quantity in WAY_QUANTITIES}
    result = {f"{subject}/all": everywhere for subject in ("type", "stream", "outcome")}
    subjects = {
        "type": [case_type.id for case_type in study.case_types],
        "stream": [stream.id for stream in study.streams],
    }
    for subject, ids in subjects.items():
        if ids:
            grouped = _grouped(departures, everywhere, subject, ids)
            result |= {f"{subject}/{each}": samples for each, samples in grouped.items()}
    grouped = _grouped(departures, everywhere, "step", [step.id for step in study.steps])
    exits = [step.id for step in study.steps if isinstance(step, Exit)]
    return result | {f"outcome/{each}": grouped[each] for each in exits}


def _outcomes(study: Study, departures: Rows) -> Figures:
    counts = np.bincount(departures["step"], minlength=len(study.steps))
    figures: Figures = {}
    for step, count in zip(study.steps, counts, strict=True):
        if isinstance(step, Exit):
            figures[f"outcome/{step.id}/completed"] = 0.0 if step.abandoned else float(count)
            figures[f"outcome/{step.id}/abandoned"] = float(count) if step.abandoned else 0.0
    return figures


def _counts(study: Study, world: r.World) -> Figures:
    figures: Figures = {}
    for step, tally in zip(study.steps, world.step_tally, strict=True):
        figures[f"step/{step.id}/arrived"] = float(tally.arrived)
        if not isinstance(step, Exit):
            figures[f"step/{step.id}/served"] = float(tally.served)
    tallies = {
        "type": (world.type_tally, [case_type.id for case_type in study.case_types]),
        "stream": (world.stream_tally, [stream.id for stream in study.streams]),
    }
    for subject, (rows, ids) in tallies.items():
        for quantity in ("arrived", "completed", "abandoned"):
            figures[f"{subject}/all/{quantity}"] = float(rows[quantity].sum())
            figures |= {f"{subject}/{k}/{quantity}": float(v) for k, v in zip(ids, rows[quantity], strict=False)}
    return figures


def _levels(study: Study, world: r.World, minutes: float) -> Figures:
    steps = [step.id if not isinstance(step, Choose | Exit) else "" for step in study.steps]
    tables = {
        "step": (world.step_levels, steps),
        "type": (world.type_levels, [case_type.id for case_type in study.case_types]),
    }
    figures: Figures = {}
    for (subject, (levels, ids)), (column, quantity) in product(
        tables.items(), ((r.LINE_LEVEL, "line"), (r.INSIDE_LEVEL, "inside"))
    ):
        figures[f"{subject}/all/{quantity}/mean"] = float(levels.area[:, column].sum()) / minutes
        figures[f"{subject}/all/{quantity}/end"] = float(levels.now[:, column].sum())
        for each, level in zip(ids, levels[:, column], strict=False):
            if each:
                figures[f"{subject}/{each}/{quantity}/mean"] = float(level.area) / minutes
                figures[f"{subject}/{each}/{quantity}/max"] = float(level.highest)
                figures[f"{subject}/{each}/{quantity}/end"] = float(level.now)
    return figures


def _working(world: r.World) -> NDArray[np.float64]:
    """Return the members of each team at work, over time: minutes summed over members."""
    working = world.member_time[:, r.WORKING]
    return np.bincount(world.members.team, working, len(world.crews)).astype(np.float64)


def _teams(study: Study, world: r.World, minutes: float) -> Figures:
    figures: Figures = {}
    for team, working in zip(study.teams, _working(world), strict=True):
        share = working / (team.size * minutes) if team.size else float("nan")
        figures[f"team/{team.id}/utilisation"] = share
        figures[f"team/{team.id}/occupancy"] = share
        figures[f"team/{team.id}/present"] = float(team.size)
        figures[f"team/{team.id}/working"] = working / minutes
    return figures


def _costs(study: Study, world: r.World, minutes: float) -> Figures:
    days = minutes / MINUTES_PER_DAY
    completed = float(world.type_tally.completed.sum())
    sums = {"total": 0.0, "regular": 0.0, "idle": 0.0}
    money: Figures = {}
    for team, working in zip(study.teams, _working(world), strict=True):
        regular = team.size * minutes / MINUTES_PER_HOUR * team.rate
        idle = (team.size * minutes - working) / MINUTES_PER_HOUR * team.rate
        for line, amount in (("total", regular), ("regular", regular), ("idle", idle)):
            sums[line] += amount
            money[f"cost/team/{team.id}/{line}"] = amount
    money |= {f"cost/{line}": amount for line, amount in sums.items()}
    per_case = {f"{k}/per:case": v / completed if completed else float("nan") for k, v in money.items()}
    return {f"{k}/per:day": v / days for k, v in money.items()} | per_case
