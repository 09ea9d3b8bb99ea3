"""Checks on how cases come and how long the study watches them."""

from collections.abc import Iterator
from datetime import datetime

from flowcore.checks.registry import doubt, soundness
from flowcore.problems import Problem, error_at, warning_at
from flowcore.study import StudyDocument, minutes
from flowcore.study.distributions import mean_of
from flowcore.study.durations import DAY
from flowcore.study.runs import ONE_REPLICATION
from flowcore.study.steps import Signal
from flowcore.study.streams import DateStream, ProfileStream, RandomStream
from flowcore.theory.network import mean_work, visit_rates
from flowcore.thresholds import LONG_RUN_HOURS

LONGEST_YEARS = 100
LAST_YEAR = 9998
MINUTES_PER_YEAR = 365.25 * DAY
EVENTS_PER_HOUR = 3.6e9
"""A million things a second, by a cautious measure."""


@soundness
def gaps_take_time(study: StudyDocument) -> Iterator[Problem]:
    """Between two arrivals some time passes."""
    for stream in study.streams:
        if not isinstance(stream, RandomStream):
            continue
        if stream.gap is not None and mean_of(stream.gap) <= 0:
            yield error_at(
                where=f"streams/{stream.id}/gap",
                what="The time between two arrivals is zero, so endlessly many cases come at once.",
                mend="Give a time above zero.",
            )
        if stream.chance is not None and minutes(stream.chance.every) <= 0:
            yield error_at(
                where=f"streams/{stream.id}/chance/every",
                what="The interval is zero, so endlessly many cases come at once.",
                mend="Give a time above zero.",
            )


@soundness
def streams_bring_cases(study: StudyDocument) -> Iterator[Problem]:
    """Every stream brings a case at some time."""
    for stream in study.streams:
        empty_week = isinstance(stream, ProfileStream) and not any(any(day) for day in stream.week.values())
        if empty_week or (isinstance(stream, DateStream) and not stream.arrivals):
            where = "week" if empty_week else "arrivals"
            yield warning_at(
                f"streams/{stream.id}/{where}",
                f"{stream.name} brings no case.",
                "Give it arrivals, or delete it.",
            )
        if stream.first and stream.last and stream.first > stream.last:
            yield error_at(
                where=f"streams/{stream.id}/last",
                what="The last arrival may come only before the first one.",
                mend="Put the two times in order.",
            )


@soundness
def run_has_length(study: StudyDocument) -> Iterator[Problem]:
    """Some time is left after the warm-up."""
    ends = datetime.fromisoformat(study.start).year + minutes(study.run.length) / MINUTES_PER_YEAR
    if minutes(study.run.length) > LONGEST_YEARS * MINUTES_PER_YEAR or ends > LAST_YEAR:
        yield error_at(
            where="run/length",
            what=f"A run of {study.run.length} does not end within {LONGEST_YEARS} years, or after {LAST_YEAR}.",
            mend='Give a shorter length, such as "4 wk", and more replications.',
        )
    elif minutes(study.run.length) <= 0:
        yield error_at(where="run/length", what="The run has no length.", mend='Give a length, such as "4 wk".')
    elif minutes(study.run.warm_up) >= minutes(study.run.length):
        yield error_at(
            where="run/warm_up",
            what=f"The warm-up ({study.run.warm_up}) leaves nothing of the run ({study.run.length}).",
            mend="Shorten the warm-up or lengthen the run.",
        )


@soundness
def interruptions_take_time(study: StudyDocument) -> Iterator[Problem]:
    """Between two interruptions some time passes."""
    for team in study.teams:
        for number, each in enumerate(team.interruptions):
            gap = each.after.clock or each.after.working
            if gap is not None and mean_of(gap) <= 0:
                key = "clock" if each.after.clock else "working"
                yield error_at(
                    where=f"teams/{team.id}/interruptions/{number}/after/{key}",
                    what=f"{each.name or 'The interruption'} comes after no time, so it comes without end.",
                    mend="Give a time above zero.",
                )


@doubt
def run_ends_soon(study: StudyDocument) -> Iterator[Problem]:
    """A replication is done within minutes, by how much happens in it."""
    length = minutes(study.run.length)
    happening = 4 * visit_rates(study).sum() + len(study.teams) / minutes(study.run.interval)
    for team in study.teams:
        for each in team.interruptions:
            gap = each.after.clock or each.after.working
            happening += 0.0 if gap is None else 2 * team.members / mean_of(gap)
    periods = [step.clears.every for step in study.steps if isinstance(step, Signal) and step.clears]
    happening += sum(1 / minutes(every) for every in periods if every is not None)
    hours = happening * length / EVENTS_PER_HOUR
    if hours >= LONG_RUN_HOURS:
        yield warning_at(
            "run/length",
            f"One replication will take about {hours:.2g} h: some {happening * length:.2g} things happen in it.",
            "Shorten the run, or let fewer cases come.",
        )


@doubt
def run_is_repeated(study: StudyDocument) -> Iterator[Problem]:
    """A run has replications enough to say how sure its figures are."""
    if study.run.replications == 1 and study.run.precision is None:
        yield ONE_REPLICATION


@doubt
def run_is_longer_than_a_way(study: StudyDocument) -> Iterator[Problem]:
    """A case can get through the service within the run, by its mean times of work alone."""
    rates = visit_rates(study)
    types = [kind.id for kind in study.case_types] or [""]
    total = max(rates.sum(), 1e-12)
    work = sum(
        rates[row, column] * mean_work(step, kind)
        for row, kind in enumerate(types)
        for column, step in enumerate(study.steps)
    )
    entering = sum(rates[:, [step.id for step in study.steps].index(stream.to)].sum() for stream in study.streams)
    way = work / max(entering, total * 1e-9)
    if way > minutes(study.run.length):
        yield warning_at(
            "run/length",
            f"A case's work alone takes about {way / 60:.1f} h, longer than the run ({study.run.length}).",
            "Lengthen the run.",
        )
