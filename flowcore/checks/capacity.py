"""Checks the load on every team against what its members can do."""

from collections.abc import Iterator
from datetime import datetime

from flowcore.checks.registry import doubt
from flowcore.plan.calendars import shifts_of
from flowcore.problems import Problem, warning_at
from flowcore.study import Study
from flowcore.study.teams import Team
from flowcore.theory.network import offered_load

FULL = 0.995
WEEK = 10080.0


def mean_members(study: Study, team: Team) -> float:
    """Return how many members a team has there on average over a week."""
    if not team.roster:
        return float(team.members)
    start = datetime.fromisoformat(study.start)
    hours = sum(
        (min(end, WEEK) - max(begin, 0.0)) * row.people
        for row in team.roster
        for begin, end in shifts_of(row, team.closed, start, WEEK)
    )
    return hours / WEEK


@doubt
def load_fits_capacity(study: Study) -> Iterator[Problem]:
    """No team has as much work as it can do, or more."""
    loads = offered_load(study)
    for team in study.teams:
        members = mean_members(study, team)
        load = loads[team.id]
        if members and not team.skills and load / members >= FULL:
            where = "roster" if team.roster else "size"
            whom = f"{members:.3g}" + (" on average over the week" if team.roster else "")
            yield warning_at(
                f"teams/{team.id}/{where}",
                f"{team.name}: {load:.2f} members' worth of work for {whom}. Their lines grow as long as cases come.",
                f"Have {int(load / 0.9) + 1} or more, or let cases take less.",
            )
