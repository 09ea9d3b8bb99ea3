"""Checks of what right-sizing is asked: teams and levers that exist, and shifts for whoever has shifts."""

from collections.abc import Iterator

from flowcore.checks.references import unknown
from flowcore.checks.registry import soundness
from flowcore.problems import Problem, Severity, error_at
from flowcore.study import StudyDocument
from flowcore.study.sizing import Sizing, TeamLimits


@soundness
def searches_can_be_made(study: StudyDocument) -> Iterator[Problem]:
    """Searches are over teams and levers that exist; one that cannot be made stops no run."""
    for sizing in study.sizing:
        for problem in sizing_problems(study, sizing):
            yield problem.model_copy(update={"level": Severity.WARNING})


def sizing_problems(study: StudyDocument, sizing: Sizing) -> Iterator[Problem]:
    """Yield what of a search cannot be made."""
    at = f"sizing/{sizing.id}"
    yield from unknown([each.team for each in sizing.teams], {team.id for team in study.teams}, f"{at}/teams", "team")
    yield from unknown(sizing.levers, {lever.id for lever in study.levers}, f"{at}/levers", "lever")
    if not sizing.teams and not sizing.levers:
        yield error_at(f"{at}/teams", f"{sizing.name} changes nothing.", "Say which team may change, or which lever.")
    if not sizing.targets and not study.targets:
        yield error_at(f"{at}/targets", f"Nothing must hold in {sizing.name}.", "Add a target.")
    for limits in sizing.teams:
        yield from _team_problems(study, limits, f"{at}/teams/{limits.team}")


def _team_problems(study: StudyDocument, limits: TeamLimits, at: str) -> Iterator[Problem]:
    team = next((each for each in study.teams if each.id == limits.team), None)
    if team is None:
        return
    if team.kind == "people" and not limits.shifts:
        yield error_at(
            f"{at}/shifts", f"{team.name} have no shifts to choose from.", "Give lengths and times of start."
        )
    if team.kind != "people" and limits.shifts:
        yield error_at(f"{at}/shifts", f"{team.name} are no people and have no shifts.", "Take the shifts away.")
    fixed = sum(row.people for row in limits.fixed)
    if fixed > limits.people.high:
        what = f"{fixed} of {team.name} are there anyway, and there may be {limits.people.high} at most."
        yield error_at(f"{at}/people", what, "Allow more people, or take fixed ones away.")
