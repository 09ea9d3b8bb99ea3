"""Where one more helps: one more member of a team, or of one of its shifts, on the same luck, and what that buys."""

from pydantic import BaseModel

from flowcore.reports.comparison import Column, MeasureRow, measure_rows
from flowcore.results.run import Results
from flowcore.simulate import simulate
from flowcore.study import StudyDocument
from flowcore.study.calendars import DAYS
from flowcore.study.rosters import RosterRow
from flowcore.study.teams import Team

MEAN_WAIT, COST = "type/all/wait/mean", "cost/total/per:open-day"
FEWEST, MOST = 4, 20
SECONDS = 3.0
"""A try takes about so long: as many replications as that allows, at least the fewest."""


class OneMore(BaseModel):
    """One more member: of a team, or of one of its shifts by its place in the roster."""

    id: str
    team: str
    row: int | None
    words: str


class Bought(BaseModel):
    """What one more buys: each measure as it is, and with one more, over the same replications."""

    one: OneMore
    replications: int
    measures: list[MeasureRow]


def candidates(study: StudyDocument) -> list[OneMore]:
    """Return who there can be one more of: of every team, and of each shift of those that have several."""
    return [one for team in study.teams for one in _of_team(team)]


def _of_team(team: Team) -> list[OneMore]:
    whole = OneMore(id=team.id, team=team.id, row=None, words=f"One more of {team.name}")
    if len(team.roster) < 2:
        return [whole]
    rows = [
        OneMore(id=f"{team.id}/{place}", team=team.id, row=place, words=f"One more of {team.name}, {_shift_words(row)}")
        for place, row in enumerate(team.roster)
    ]
    return [whole.model_copy(update={"words": f"One more of {team.name} in every shift"}), *rows]


def _shift_words(row: RosterRow) -> str:
    days = [day.title() for day in DAYS if day in row.days]
    in_a_row = len(days) > 2 and DAYS.index(row.days[-1]) - DAYS.index(row.days[0]) == len(days) - 1
    return f"{f'{days[0]} to {days[-1]}' if in_a_row else ', '.join(days)} {row.from_} to {row.to}"


def with_one_more(study: StudyDocument, one: OneMore) -> StudyDocument:
    """Return the study with one more member."""
    teams = [_with_one_more(team, one) if team.id == one.team else team for team in study.teams]
    return study.model_copy(update={"teams": teams})


def _with_one_more(team: Team, one: OneMore) -> Team:
    if not team.roster:
        return team.model_copy(update={"size": team.members + 1})
    roster = [
        row.model_copy(update={"people": row.people + 1}) if one.row in (None, place) else row
        for place, row in enumerate(team.roster)
    ]
    return team.model_copy(update={"roster": roster})


def measures(study: StudyDocument) -> list[str]:
    """Return what one more is judged by: the first targets, else the mean wait, and the cost of a day of opening."""
    return list(dict.fromkeys([*(target.figure for target in study.targets[:2]), MEAN_WAIT, COST]))


def how_often(seconds_a_replication: float, done: int) -> int:
    """Return how many replications a try has, by how long one takes and how many there are to set beside it."""
    return min(done, max(FEWEST, min(MOST, int(SECONDS / max(seconds_a_replication, 1e-3)))))


def buys(study: StudyDocument, baseline: Results, one: OneMore) -> Bought:
    """Return what one more buys against the replications of the study that are given.

    Since all candidates are judged together, intervals and verdicts are each at a level divided by their number
    (Bonferroni). Raises StudyError where the study with one more cannot be run.
    """
    changed = with_one_more(study, one)
    numbers = [each.number for each in baseline.replications]
    level = 1 - (1 - baseline.confidence) / len(candidates(study))
    found = Results.of(simulate(changed, numbers=numbers).replications, level)
    columns = [Column("As it is", study, Results.of(baseline.replications, level)), Column(one.words, changed, found)]
    return Bought(one=one, replications=len(numbers), measures=measure_rows(columns, measures(study), {}))
