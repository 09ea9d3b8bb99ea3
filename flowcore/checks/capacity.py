"""Checks the load on every team against what its members can do."""

from collections.abc import Iterator

from flowcore.checks.registry import doubt
from flowcore.problems import Problem, warning_at
from flowcore.study import Study
from flowcore.theory.network import offered_load

FULL = 0.995


@doubt
def load_fits_capacity(study: Study) -> Iterator[Problem]:
    """No team has as much work as it can do, or more."""
    for team in study.teams:
        load = offered_load(study)[team.id]
        if team.size and load / team.size >= FULL:
            yield warning_at(
                f"teams/{team.id}/size",
                f"{team.name}: {load:.2f} members' worth of work for {team.size}. "
                "Their lines grow as long as cases come.",
                f"Have {int(load / 0.9) + 1} or more, or let cases take less.",
            )
