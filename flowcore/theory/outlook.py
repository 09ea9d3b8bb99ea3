"""What formulas alone say about a study: the load on each team, and the mean wait where they can tell it."""

from collections.abc import Iterator
from dataclasses import dataclass
from math import inf

import numpy as np
from numpy.typing import NDArray

from flowcore.study import StudyDocument
from flowcore.study.distributions import mean_of, sd_of
from flowcore.study.distributions.exponential import Exponential
from flowcore.study.needs import all_needs, teams_of
from flowcore.study.steps import Line, Serve
from flowcore.study.streams import RandomStream
from flowcore.study.teams import Closing
from flowcore.theory.network import arrival_rate, visit_rates, work_for, work_of
from flowcore.theory.queues import wait_ggc
from flowcore.theory.weekly import members_in_week, wages_in_week

DAYS_A_WEEK = 7.0


@dataclass(frozen=True)
class Outlook:
    """The share of each team's time that its work takes (None where theory cannot say), and the mean wait.

    `wait` is in minutes a case, over all steps; None where `reasons` say why theory cannot tell.
    `wages` is what being there costs a day.
    """

    loads: dict[str, float | None]
    wait: float | None
    wages: float
    reasons: list[str]


def outlook(study: StudyDocument) -> Outlook:
    """Return what theory says about a study without errors."""
    visits = visit_rates(study)
    members = {team.id: members_in_week(study, team) for team in study.teams}
    work = work_of(study, visits)
    beyond = {team for teams in met_by_several(study) for team in teams} | _kept(study)
    loads = {
        team: None if team in beyond else _share(work[team], float(there.mean())) for team, there in members.items()
    }
    reasons = list(_reasons(study, loads))
    at_work = [team for team in study.teams if team.paid == "present"]
    wages = sum(wages_in_week(study, team) for team in at_work) / DAYS_A_WEEK
    return Outlook(loads, None if reasons else _mean_wait(study, visits), wages, reasons)


def _share(work: float, members: float) -> float:
    if members > 0:
        return work / members
    return inf if work > 0 else 0.0


def met_by_several(study: StudyDocument) -> list[set[str]]:
    """Return the teams that share a skill: who of them takes the work, theory does not know."""
    asked = {need.skill for need in all_needs(study) if need.skill}
    able = [{team.id for team in study.teams if skill in team.skills} for skill in sorted(asked)]
    return [teams for teams in able if len(teams) > 1]


def shared_with(study: StudyDocument, team: str) -> list[str]:
    """Return the other teams that can do some of a team's work."""
    return sorted({other for teams in met_by_several(study) if team in teams for other in teams} - {team})


def _kept(study: StudyDocument) -> set[str]:
    """Return the teams whose members stay with a case beyond the step that asks for them."""
    return {team for need in all_needs(study) if need.keep_until for team in teams_of(need, study)}


def _reasons(study: StudyDocument, loads: dict[str, float | None]) -> Iterator[str]:
    """Say what in a study is beyond the formulas."""
    names = {team.id: team.name for team in study.teams}
    for team, load in loads.items():
        if load is not None and load >= 1:
            yield f"{names[team]} cannot do all their work: the line grows as long as cases come."
    if any(not _comes_evenly(stream) for stream in study.streams):
        yield "Cases come by the hour, by appointment or in groups."
    if any(team.roster or team.interruptions or team.closing != Closing() for team in study.teams):
        yield "Teams come and go."
    if any(isinstance(step, Serve) and not _waits_plainly(step) for step in study.steps):
        yield "A line has rules of its own, or a step needs several at once."
    if any(step.kind not in ("serve", "delay", "choose", "set", "exit") for step in study.steps) or study.deadlines:
        yield "Cases are held, forked, gathered or diverted."


def _comes_evenly(stream: object) -> bool:
    plain = isinstance(stream, RandomStream) and stream.gap is not None and stream.open is None
    return plain and stream.group is None and not (stream.first or stream.last or stream.limit or stream.mix_by_hour)  # type: ignore[attr-defined]


def _waits_plainly(step: Serve) -> bool:
    if not step.needs:
        return True
    [need, *more] = step.needs
    alone = not more and need.count == 1 and not (need.keep_until or need.same_as)
    return alone and step.line == Line() and not (step.changeover or step.preempts or step.reserve or step.open)


def _mean_wait(study: StudyDocument, visits: NDArray[np.float64]) -> float:
    """Return the mean minutes that a case waits over all steps, each team one line for all steps it works at.

    Source: Whitt, The Queueing Network Analyzer, Bell System Technical Journal 62 (1983), each
    station by the Allen–Cunneen approximation; gaps are taken to be as uneven as they come in.
    """
    types = [case_type.id for case_type in study.case_types] or [""]
    waiting = 0.0
    for team in study.teams:
        rates, means, squares = [], [], []
        for column, step in enumerate(study.steps):
            if isinstance(step, Serve) and step.needs and team.id in teams_of(step.needs[0], study):
                for row, case_type in enumerate(types):
                    work = work_for(step.work, case_type)
                    rates.append(visits[row, column])
                    means.append(mean_of(work) / team.pace)
                    squares.append((mean_of(work) ** 2 + sd_of(work) ** 2) / team.pace**2)
        rate = sum(rates)
        if rate > 0 and team.members:
            mean, square = (float(np.dot(rates, each)) / rate for each in (means, squares))
            if mean > 0:
                cv_work = max(0.0, square / mean**2 - 1) ** 0.5
                waiting += rate * wait_ggc(team.members, rate, mean, _cv_gap(study), cv_work)
    arriving = sum(arrival_rate(study, stream) for stream in study.streams)
    return waiting / arriving if arriving else 0.0


def _cv_gap(study: StudyDocument) -> float:
    """Return how uneven the gaps of all streams together are; streams that mix come nearly without memory."""
    [stream, *more] = study.streams
    if more or not isinstance(stream, RandomStream) or stream.gap is None or isinstance(stream.gap, Exponential):
        return 1.0
    return sd_of(stream.gap) / mean_of(stream.gap)
