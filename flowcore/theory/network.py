"""The traffic equations: how often each step is visited, and how much work that makes."""

import threading
import weakref
from collections.abc import Iterator

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csr_array, diags_array, eye_array
from scipy.sparse.linalg import splu

from flowcore.study import StudyDocument, minutes
from flowcore.study.distributions import Distribution, mean_of
from flowcore.study.durations import WEEK
from flowcore.study.graph import links_of, may_take, picks_by_line, shares_of, side_ways
from flowcore.study.needs import teams_of
from flowcore.study.steps import Delay, Fork, Serve, Step, Work, WorkByType
from flowcore.study.streams import AppointmentStream, ProfileStream, RandomStream, Stream
from flowcore.study.timetable import ordinary_hours, slot_times

Ways = NDArray[np.float64] | csr_array
_FEW_STEPS = 100
MOST_VISITS = 1e12
"""More visits of a case than this are a loop without an exit, solved by rounding."""


def arrival_rate(study: StudyDocument, stream: Stream) -> float:
    """Return how many cases a stream brings a minute, over the whole week, doors and limits left aside."""
    group = 1.0 if stream.group is None else mean_of(stream.group)
    if isinstance(stream, RandomStream):
        if stream.chance is not None:
            rate = stream.chance.probability / minutes(stream.chance.every)
        else:
            assert stream.gap is not None
            rate = 1 / mean_of(stream.gap)
        return rate * group * sum(end - begin for begin, end in ordinary_hours(study, stream.open)) / WEEK
    if isinstance(stream, ProfileStream):
        return sum(sum(day) for day in stream.week.values()) / WEEK * group
    if isinstance(stream, AppointmentStream):
        slots = sum(len(each.days) * each.places * len(slot_times(each)) for each in stream.sessions)
        return slots / WEEK * stream.filled * (1 - stream.no_show) * group
    return len(stream.arrivals) / max(minutes(study.run.length), 1.0) * group


def way_shares(step: Step, case_type: str) -> list[float]:
    """Return the expected number of cases that go each way out of a step for one that comes.

    Ways by rule, by the shortest line and in turn are taken to be equally likely.
    """
    links = links_of(step)
    if isinstance(step, Fork):
        return [1.0 if link.chance is None else link.chance for link in links]
    taken = may_take(step, case_type)
    by_choice = any(link.when for link in links) or picks_by_line(step)
    if by_choice and any(taken):
        return [float(each) / sum(taken) for each in taken]
    return shares_of(step, case_type)


def visit_rates(study: StudyDocument) -> NDArray[np.float64]:
    """Return visits per minute, shape (case types or 1, steps), in the order of the document; see `visits_of`."""
    arrivals = np.zeros((max(1, len(study.case_types)), len(study.steps)))
    for stream in study.streams:
        arrivals += entering(study, stream) * arrival_rate(study, stream)
    return visits_of(study, arrivals)


def entering(study: StudyDocument, stream: Stream) -> NDArray[np.float64]:
    """Return how one case of a stream is shared out over types and first steps, shape (case types or 1, steps)."""
    types = [case_type.id for case_type in study.case_types] or [""]
    shares = np.zeros((len(types), len(study.steps)))
    first = next(number for number, step in enumerate(study.steps) if step.id == stream.to)
    shares[:, first] = _mix_of({part.type: part.share for part in stream.mix}, types)
    return shares


def visits_of(study: StudyDocument, arrivals: NDArray[np.float64]) -> NDArray[np.float64]:
    """Return the visits to each step that arrivals lead to, both of shape (case types or 1, steps).

    Solves λ = a + λP for each case type. Source: Jackson, Networks of waiting lines, Operations
    Research 5 (1957). The branches of a fork end at its join. The study must be without errors:
    every step must lead to an exit.
    """
    aside = np.array([bool(ways) for ways in side_ways(study).values()])
    return np.array([_solved(ways, a, aside) for ways, a in zip(_ways_of(study), arrivals, strict=True)])


def _ways_of(study: StudyDocument) -> list[Ways]:
    """Return the shares of ways from step to step, shape (steps, steps), for each case type; the last study's are kept.

    Several checks and formulas ask for them one after another.
    """
    known = getattr(_last, "study", None)
    if known is None or known() is not study:
        _last.ways = list(_ways_by_type(study))
        _last.study = weakref.ref(study)
    ways: list[Ways] = _last.ways
    return ways


_last = threading.local()


def _ways_by_type(study: StudyDocument) -> Iterator[Ways]:
    index = {step.id: number for number, step in enumerate(study.steps)}
    branches = {step.join: max(1.0, sum(way_shares(step, ""))) for step in study.steps if isinstance(step, Fork)}
    rows = [number for number, step in enumerate(study.steps) for _ in links_of(step)]
    columns = [index[link.to] for step in study.steps for link in links_of(step)]
    divided = np.array([branches.get(step.id, 1.0) for step in study.steps for _ in links_of(step)])
    by_type = [step.kind != "fork" and any(link.share_by_type for link in links_of(step)) for step in study.steps]
    of_all = [[] if special else way_shares(step, "") for step, special in zip(study.steps, by_type, strict=True)]
    size = len(study.steps)
    for case_type in [case_type.id for case_type in study.case_types] or [""]:
        special = zip(study.steps, of_all, by_type, strict=True)
        shares = [way_shares(step, case_type) if differs else known for step, known, differs in special]
        values = np.array([share for ways in shares for share in ways]) / divided
        ways = csr_array((values, (rows, columns)), shape=(size, size))
        yield ways.toarray() if size <= _FEW_STEPS else ways


def _solved(ways: Ways, arrivals: NDArray[np.float64], aside: NDArray[np.bool_]) -> NDArray[np.float64]:
    """Return the solution of the traffic equations for one case type.

    Where cases leave a loop only by giving up or at a deadline there is none; then of those who come to
    a step that has such a way, or else to any, a tenth is taken to go it.
    """
    size = len(arrivals)
    nobody: NDArray[np.float64] = np.zeros(size)
    for leaving in (nobody, nobody + 0.1 * aside, nobody + 0.1):
        visits = _solved_if(ways, leaving, arrivals)
        if visits is not None and np.abs(visits).max(initial=0.0) <= MOST_VISITS * max(1.0, arrivals.sum()):
            return visits
    raise AssertionError("unreachable: a tenth leaves at every step")


def _solved_if(ways: Ways, leaving: NDArray[np.float64], arrivals: NDArray[np.float64]) -> NDArray[np.float64] | None:
    """Return the visits where a share of those who come to each step leaves there; None where there is no solution."""
    try:
        if isinstance(ways, np.ndarray):
            return np.asarray(np.linalg.solve(np.eye(len(ways)) - (ways * (1 - leaving)[:, None]).T, arrivals))
        staying = diags_array(1 - leaving)
        return np.asarray(splu((eye_array(len(arrivals)) - staying.dot(ways).T).tocsc()).solve(arrivals))
    except (np.linalg.LinAlgError, RuntimeError):
        return None


def _mix_of(shares: dict[str, float], types: list[str]) -> list[float]:
    """Return the share of each case type; without a mix all cases are of the first."""
    if shares:
        return [shares.get(case_type, 0.0) for case_type in types]
    return [1.0] + [0.0] * (len(types) - 1)


def mean_work(step: Step, case_type: str) -> float:
    """Return the mean minutes of work on a case of a type at a step; none where it does no work."""
    if not isinstance(step, Serve | Delay):
        return 0.0
    return mean_of(work_for(step.work if isinstance(step, Serve) else step.time, case_type))


def work_for(work: Work, case_type: str) -> Distribution:
    """Return the distribution of work on a case of a type; what depends on traits is left aside."""
    return work.by_type.get(case_type, work.otherwise) if isinstance(work, WorkByType) else work


def offered_load(study: StudyDocument) -> dict[str, float]:
    """Return the work that comes to each team, in members kept busy, by team id; a skill's goes to its first team."""
    return work_of(study, visit_rates(study))


def work_of(study: StudyDocument, visits: NDArray[np.float64]) -> dict[str, float]:
    """Return the minutes of work of each team's members that visits (types × steps) make, by team id."""
    work = {team.id: 0.0 for team in study.teams}
    for _, team, minutes_of_work in work_of_needs(study, visits):
        work[team] += minutes_of_work
    return work


def work_of_needs(study: StudyDocument, visits: NDArray[np.float64]) -> Iterator[tuple[str, str, float]]:
    """Yield for each need its step, the team that theory lets meet it, and the minutes of work that visits make."""
    types = [case_type.id for case_type in study.case_types] or [""]
    for column, step in enumerate(study.steps):
        for need in step.needs if isinstance(step, Serve) else []:
            team = teams_of(need, study)[0]
            pace = next(each.pace for each in study.teams if each.id == team)
            work = sum(visits[row, column] * mean_work(step, case_type) for row, case_type in enumerate(types))
            yield step.id, team, float(work) * need.count / pace
