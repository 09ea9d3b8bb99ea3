"""A line, or members, over the run, and how much of the time they are how many; replications are drawn again for it."""

from collections.abc import Sequence
from math import isnan

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel

from flowcore.findings.words import figure_words
from flowcore.problems import StudyError, error_at
from flowcore.reports.course import Course, course_through
from flowcore.results.catalogue import Title, Unit, titled
from flowcore.results.counts import least_of_bins
from flowcore.results.rows import Means
from flowcore.results.steady_state import by_interval
from flowcore.simulate import replications
from flowcore.study import StudyDocument
from flowcore.study.steps import Step

MOST_OF_THE_TIME = 0.9
A_HAIR = 1e-9
NO_LEVEL = "There is nothing of that over time."


class LevelTold(BaseModel):
    """A level over the run, and its spread over the time: of each number from `least` on the share of the time.

    Shares end with the last number that there was; there are none of members. `words` say it in a sentence.
    """

    quantity: str
    title: Title
    replications: int
    course: Course
    least: list[int]
    shares: list[float]
    words: str


def levels_to_tell(study: StudyDocument) -> list[tuple[str, Title]]:
    """Return what can be told over time: cases inside, the lines of steps, cases by type, members."""
    lines = [f"step/{step.id}/line" for step in study.steps if _has_line(step)]
    types = [f"type/{kind.id}/inside" for kind in study.case_types] if len(study.case_types) > 1 else []
    members = [f"team/{team.id}/{what}" for team in study.teams for what in ("present", "working")]
    named = [(quantity, _title(study, quantity)) for quantity in [*lines, *types, *members]]
    return [(quantity, title) for quantity, title in named if title is not None]


def _has_line(step: Step) -> bool:
    return bool(getattr(step, "needs", ())) or step.kind in ("signal", "gather", "join")


def _title(study: StudyDocument, quantity: str) -> Title | None:
    return titled(f"{quantity}/mean", study) or titled(quantity, study)


def level_told(study: StudyDocument, quantity: str, numbers: Sequence[int]) -> LevelTold:
    """Draw replications again and return a level of theirs, such as `step/counter/line`.

    Raises StudyError where there is no such level.
    """
    title = dict(levels_to_tell(study)).get(quantity)
    if title is None:
        raise StudyError([error_at("quantity", NO_LEVEL, "Choose a line, cases inside, or members.")])
    drawn = list(replications(study, numbers=numbers))
    shares = Means(each.levels for each in drawn).rows().get(quantity, np.empty(0))
    last = int(np.flatnonzero(np.nan_to_num(shares)).max(initial=-1)) + 1
    return LevelTold(
        quantity=quantity,
        title=title,
        replications=len(numbers),
        course=course_through(study, by_interval(study, [each.series for each in drawn], quantity)),
        least=least_of_bins()[:last],
        shares=shares[:last].tolist(),
        words=_words(shares[:last]),
    )


def _words(shares: NDArray[np.float64]) -> str:
    """Say how much of the time there is nobody, and how many there are at the most for nine tenths of it."""
    if not len(shares) or isnan(shares[0]):
        return ""
    within = int(np.searchsorted(np.cumsum(shares), MOST_OF_THE_TIME - A_HAIR))
    nobody = f"Nobody for {figure_words(float(shares[0]), Unit.SHARE, '')} of the time"
    bins = least_of_bins()
    most = bins[len(shares) - 1]
    return f"{nobody}, at most {bins[min(within, len(shares) - 1)]} for nine tenths of it, {most} at worst."
