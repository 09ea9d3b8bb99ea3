"""What a day and a case cost, line by line: the lines add up to the total."""

from collections.abc import Callable, Iterator

from pydantic import BaseModel

from flowcore.results.catalogue import LINE_WORDS, PARTS_OF_LINES, TEAM_LINES
from flowcore.study import StudyDocument

BESIDE = ("value",)


class CostLine(BaseModel):
    """Money of one kind: of a team, or (None) of the whole service. None a case where none was completed.

    A day is one by the clock, an open day one on which somebody works.
    """

    team: str | None
    line: str
    words: str
    per_day: float
    per_open_day: float
    per_case: float | None


def cost_lines(study: StudyDocument, mean: Callable[[str], float | None]) -> list[CostLine]:
    """Return the lines of a study's money that are not zero, teams first; `mean` gives a figure by its address."""
    return [line for line in _all(study, mean) if line.per_day]


def _all(study: StudyDocument, mean: Callable[[str], float | None]) -> Iterator[CostLine]:
    for team in study.teams:
        for line in TEAM_LINES:
            if line not in ("total", *PARTS_OF_LINES):
                yield _line(mean, f"cost/team/{team.id}/{line}", team.id, line)
    for line in LINE_WORDS:
        if line not in (*TEAM_LINES, *BESIDE):
            yield _line(mean, f"cost/{line}", None, line)


def _line(mean: Callable[[str], float | None], address: str, team: str | None, line: str) -> CostLine:
    return CostLine(
        team=team,
        line=line,
        words=LINE_WORDS[line],
        per_day=mean(f"{address}/per:day") or 0.0,
        per_open_day=mean(f"{address}/per:open-day") or 0.0,
        per_case=mean(f"{address}/per:case"),
    )
