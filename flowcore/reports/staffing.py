"""What the work of an ordinary week asks of each team, by the quarter of an hour and by the steps that ask for it."""

from pydantic import BaseModel

from flowcore.simulate import require_sound
from flowcore.study import StudyDocument
from flowcore.theory.network import visit_rates, work_of_needs
from flowcore.theory.outlook import shared_with
from flowcore.theory.weekly import members_in_week, work_in_week

QUARTER = 15.0
"""Minutes."""


class TeamLoad(BaseModel):
    """The members whom the work that comes in would keep busy, by quarter of an hour from Monday's midnight.

    `there` are the members on duty on average over the week. `shared_with` are the teams that can do some of the same
    work; theory counts it for the first of them.
    """

    needed: list[float]
    there: float
    shared_with: list[str]


class Staffing(BaseModel):
    """The load of each team by its id, and of each step, need by need in its order, the members that it keeps busy."""

    teams: dict[str, TeamLoad]
    needs: dict[str, list[float]]


def staffing_of(study: StudyDocument) -> Staffing:
    """Return what an ordinary week asks of each team, as if every case were served where and when it comes.

    Raises StudyError where a health check finds an error.
    """
    require_sound(study)
    work = work_in_week(study, QUARTER)
    needs: dict[str, list[float]] = {}
    for step, _, members in work_of_needs(study, visit_rates(study)):
        needs.setdefault(step, []).append(members)
    teams = {
        team.id: TeamLoad(
            needed=work[team.id].tolist(),
            there=float(members_in_week(study, team).mean()),
            shared_with=shared_with(study, team.id),
        )
        for team in study.teams
    }
    return Staffing(teams=teams, needs=needs)
