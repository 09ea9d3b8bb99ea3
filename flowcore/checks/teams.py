"""Checks that teams can do what is asked of them."""

from collections import Counter
from collections.abc import Iterator

from flowcore.checks.registry import soundness
from flowcore.problems import Problem, error_at, warning_at
from flowcore.study import Study
from flowcore.study.steps import Serve


@soundness
def needs_fit_teams(study: Study) -> Iterator[Problem]:
    """No step asks for more members at once than a team has."""
    sizes = {team.id: team for team in study.teams}
    for step in study.steps:
        if not isinstance(step, Serve):
            continue
        asked: Counter[str] = Counter()
        for need in step.needs:
            asked[need.team] += need.count
        for team_id, count in asked.items():
            team = sizes.get(team_id)
            if team and count > team.size:
                yield error_at(
                    where=f"steps/{step.id}/needs",
                    what=f"{step.name} needs {count} of {team.name} at once, and there are {team.size}.",
                    mend=f"Ask for fewer, or let {team.name} be {count} or more.",
                )


@soundness
def teams_have_work(study: Study) -> Iterator[Problem]:
    """Every team is needed somewhere."""
    needed = {need.team for step in study.steps if isinstance(step, Serve) for need in step.needs}
    for team in study.teams:
        if team.id not in needed:
            yield warning_at(f"teams/{team.id}", f"No step needs {team.name}.", "Let a step ask for it, or delete it.")
