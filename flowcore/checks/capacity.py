"""Checks the load on every team against what its members can do."""

from collections.abc import Iterator

from flowcore.checks.registry import doubt
from flowcore.problems import Problem, warning_at
from flowcore.study import StudyDocument
from flowcore.theory.network import offered_load
from flowcore.theory.weekly import members_in_week
from flowcore.thresholds import FULL


@doubt
def load_fits_capacity(study: StudyDocument) -> Iterator[Problem]:
    """No team has as much work as it can do, or more."""
    loads = offered_load(study)
    for team in study.teams:
        members = float(members_in_week(study, team).mean())
        load = loads[team.id]
        if members and not team.skills and load / members >= FULL:
            where = "roster" if team.roster else "size"
            whom = f"{members:.3g}" + (" on average over the week" if team.roster else "")
            more = f"Roster {100 * (load / 0.9 / members - 1):.0f} % more hours" if team.roster else _more_members(load)
            yield warning_at(
                f"teams/{team.id}/{where}",
                f"{team.name}: {load:.2f} members' worth of work for {whom}. Their lines grow as long as cases come.",
                f"{more}, or let cases take less.",
            )


def _more_members(load: float) -> str:
    return f"Have {int(load / 0.9) + 1} or more"
