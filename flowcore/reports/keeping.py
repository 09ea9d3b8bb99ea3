"""Whether targets are kept: by a figure of the run, or in every day or interval of the week."""

from collections.abc import Iterator
from dataclasses import dataclass
from enum import StrEnum

import numpy as np
from scipy.special import stdtrit

from flowcore.results.aims import aims_by_time
from flowcore.results.catalogue import MINUTES_COUNTED
from flowcore.results.margins import Margins, margins_in
from flowcore.results.run import Results
from flowcore.results.statistics import Estimate
from flowcore.results.week_grid import Grid, interval_of
from flowcore.study import StudyDocument
from flowcore.study.calendars import DAYS
from flowcore.study.durations import periods_in, plain_number
from flowcore.study.runs import Target


class Keeps(StrEnum):
    """Whether a figure keeps its target, as far as its interval tells."""

    KEPT = "kept"
    MISSED = "missed"
    IN_DOUBT = "in doubt"


def keeps_target(figure: Estimate, target: Target, times: float = 1.0) -> Keeps:
    """Say whether a figure keeps a target: clearly, clearly not, or not to be told by its interval.

    The limit is so many times what is said of a day or a week; see `times_counted`.
    """
    if figure.mean is None:
        return Keeps.IN_DOUBT
    low = figure.mean if figure.low is None else figure.low
    high = figure.mean if figure.high is None else figure.high
    most, least = limit_in(target.at_most, times), limit_in(target.at_least, times)
    if (most is None or high <= most) and (least is None or low >= least):
        return Keeps.KEPT
    if (most is not None and low > most) or (least is not None and high < least):
        return Keeps.MISSED
    return Keeps.IN_DOUBT


def limit_in(limit: float | str | None, times: float) -> float | None:
    """Return a limit of a target as a number, so many times that of a day or week; None where there is none."""
    return None if limit is None else times * plain_number(limit)


def times_counted(results: Results, target: Target | None) -> float:
    """Return how many of the days, weeks or months that a target's count is of are in a replication; 1 for no count."""
    counted = results.figure(MINUTES_COUNTED).mean if results.has(MINUTES_COUNTED) else None
    return 1.0 if target is None or not counted else periods_in(counted, target.per)


@dataclass(frozen=True)
class KeptByTime:
    """How a target of every day or interval is kept: in how many of those that are judged not, and where least.

    `figure` is that of the worst one, `of` its address: with a percentile that of the share within its limit.
    """

    keeps: Keeps
    missed: int
    judged: int
    worst: str
    figure: float
    of: str


def kept_by_time(results: Results, study: StudyDocument, target: Target) -> KeptByTime | None:
    """Return how a target of every day or interval is kept; None where the run does not tell it.

    It is kept where each day or interval is, as surely as the target wants to be, and missed where one of them is.
    """
    aims = aims_by_time(study, [target])
    cells = results.cells(aims)
    if cells is None:
        return None
    judged = [each for each in margins_in(aims, cells) if len(each.cells)]
    if not judged:
        return None
    lowest = [np.concatenate(ends) for ends in zip(*(_ends(each, len(cells)) for each in judged), strict=True)]
    keeps = Keeps.KEPT if (lowest[0] >= 0).all() else Keeps.MISSED if (lowest[1] < 0).any() else Keeps.IN_DOUBT
    worst = min(judged, key=lambda each: float(each.mean.min()))
    place = int(worst.cells[np.argmin(worst.mean)])
    return KeptByTime(
        keeps=keeps,
        missed=len({int(cell) for each in judged for cell in each.cells[each.mean < 0]}),
        judged=len({int(cell) for each in judged for cell in each.cells}),
        worst=_words(target, place, interval_of(study)),
        figure=worst.aim.limit + worst.aim.sign * float(worst.mean.min()) * worst.aim.scale,
        of=worst.aim.figure,
    )


def _ends(margins: Margins, replications: int) -> Iterator[np.ndarray]:
    """Yield the margins of all cells as low and as high as they may be, with the sureness that the target wants."""
    reach = float(stdtrit(max(1, replications - 1), margins.aim.target.sure))
    yield margins.mean - reach * margins.error
    yield margins.mean + reach * margins.error


def _words(target: Target, place: int, grid: Grid) -> str:
    return DAYS[place].capitalize() if target.by == "day" else grid.words(place).capitalize()
