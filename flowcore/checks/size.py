"""Checks that a run fits a machine: how many cases, members, shifts and slots it has."""

from collections.abc import Iterator

from flowcore.checks.registry import soundness
from flowcore.problems import Problem, error_at
from flowcore.study import StudyDocument, minutes
from flowcore.study.durations import DAY
from flowcore.study.streams import Stream
from flowcore.theory.network import arrival_rate

MOST_CASES = 5_000_000
MOST_MEMBERS = 120_000
MOST_CLOCKS = 300_000
MOST_SHIFTS = 1_000_000


@soundness
def cases_fit(study: StudyDocument) -> Iterator[Problem]:
    """No more cases come in a replication than there is room for."""
    for stream in study.streams:
        expected = expected_cases(study, stream)
        if not expected <= MOST_CASES:
            yield error_at(
                f"streams/{stream.id}",
                f"{stream.name} brings some {expected:,.0f} cases in {study.run.length}; there is room for "
                f"{MOST_CASES:,} in one replication.",
                "Let fewer cases come, or shorten the run and take more replications.",
            )


@soundness
def members_fit(study: StudyDocument) -> Iterator[Problem]:
    """No more members work in the service than there is room for, each with its own interruptions."""
    members = sum(team.members for team in study.teams)
    clocks = sum(team.members * len(team.interruptions) for team in study.teams)
    for what, number, most in (("members", members, MOST_MEMBERS), ("interruptions of members", clocks, MOST_CLOCKS)):
        if number > most:
            yield error_at(
                "teams",
                f"There are {number:,} {what}; there is room for {most:,}.",
                "Model a part of the service, or one member for several.",
            )


@soundness
def shifts_fit(study: StudyDocument) -> Iterator[Problem]:
    """No more shifts and openings are known to come than there is room for."""
    days = minutes(study.run.length) / DAY + 1
    a_day = sum(len(team.roster) for team in study.teams) + sum(len(each.weekly) for each in study.calendars)
    if a_day * days > MOST_SHIFTS:
        yield error_at(
            "run/length",
            f"Up to {a_day * days:,.0f} shifts and openings come in a run of {study.run.length}; there is room for "
            f"{MOST_SHIFTS:,}.",
            "Shorten the run, or draw shifts together.",
        )


def expected_cases(study: StudyDocument, stream: Stream) -> float:
    """Return how many cases a stream brings in one replication, on average; zero where it is not well-formed."""
    if stream.open not in {None, *(calendar.id for calendar in study.calendars)}:
        return 0.0
    try:
        expected = arrival_rate(study, stream) * minutes(study.run.length)
    except ZeroDivisionError:
        return 0.0
    return expected if stream.limit is None else min(expected, stream.limit)
