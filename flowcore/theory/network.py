"""The traffic equations: how often each step is visited, and how much work that makes."""

import numpy as np
from numpy.typing import NDArray

from flowcore.study import Study, links_of, shares_of
from flowcore.study.distributions import mean_minutes
from flowcore.study.steps import Serve, WorkByType


def visit_rates(study: Study) -> NDArray[np.float64]:
    """Return visits per minute, shape (case types or 1, steps), in the order of the document.

    Solves λ = a + λP for each case type. Source: Jackson, Networks of waiting lines, Operations
    Research 5 (1957). The study must be without errors: every step must lead to an exit.
    """
    index = {step.id: number for number, step in enumerate(study.steps)}
    types = [case_type.id for case_type in study.case_types] or [""]
    rates = np.zeros((len(types), len(study.steps)))
    for row, case_type in enumerate(types):
        arrivals = np.zeros(len(study.steps))
        for stream in study.streams:
            mix = _mix_of({part.type: part.share for part in stream.mix}, types)
            arrivals[index[stream.to]] += mix[row] / mean_minutes(stream.gap)
        ways = np.zeros((len(study.steps), len(study.steps)))
        for step in study.steps:
            for link, share in zip(links_of(step), shares_of(step, case_type), strict=True):
                ways[index[step.id], index[link.to]] += share
        rates[row] = np.linalg.lstsq(np.eye(len(ways)) - ways.T, arrivals, rcond=None)[0]
    return rates


def _mix_of(shares: dict[str, float], types: list[str]) -> list[float]:
    """Return the share of each case type; without a mix all cases are of the first."""
    if shares:
        return [shares.get(case_type, 0.0) for case_type in types]
    return [1.0] + [0.0] * (len(types) - 1)


def offered_load(study: Study) -> dict[str, float]:
    """Return the work that comes to each team, in members kept busy, by team id."""
    rates = visit_rates(study)
    types = [case_type.id for case_type in study.case_types] or [""]
    load = {team.id: 0.0 for team in study.teams}
    for column, step in enumerate(study.steps):
        if not isinstance(step, Serve):
            continue
        for row, case_type in enumerate(types):
            work = step.work
            if isinstance(work, WorkByType):
                work = work.by_type.get(case_type, work.otherwise)
            for need in step.needs:
                load[need.team] += rates[row, column] * mean_minutes(work) * need.count
    return load
