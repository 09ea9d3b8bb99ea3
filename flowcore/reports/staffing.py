"""What the work of an ordinary week asks of each team, by the quarter of an hour."""

from pydantic import BaseModel

from flowcore.simulate import require_sound
from flowcore.study import StudyDocument
from flowcore.theory.outlook import shared_with
from flowcore.theory.weekly import work_in_week

QUARTER = 15.0
"""Minutes."""


class TeamLoad(BaseModel):
    """The members whom the work that comes in would keep busy, by quarter of an hour from Monday's midnight.

    `shared_with` are the teams that can do some of the same work; theory counts it for the first of them.
    """

    needed: list[float]
    shared_with: list[str]


def load_of_teams(study: StudyDocument) -> dict[str, TeamLoad]:
    """Return what an ordinary week asks of each team, as if every case were served where and when it comes.

    Raises StudyError where a health check finds an error.
    """
    require_sound(study)
    work = work_in_week(study, QUARTER)
    return {
        team.id: TeamLoad(
            needed=work[team.id].tolist(),
            shared_with=shared_with(study, team.id),
        )
        for team in study.teams
    }
