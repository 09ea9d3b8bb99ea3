"""What is known of the real service beside what was simulated: how a model is believed, or not."""

from collections.abc import Mapping

from pydantic import BaseModel

from flowcore.findings.words import figure_words
from flowcore.results.catalogue import MINUTES_COUNTED, Title, titled
from flowcore.results.statistics import Estimate
from flowcore.study import StudyDocument, minutes
from flowcore.study.durations import periods_in, plain_number
from flowcore.study.runs import Observed
from flowcore.thresholds import ALIKE


class Fit(BaseModel):
    """A figure as it was observed, between two ends where these are known, and as it was simulated.

    `fits` is None where the run has no such figure. All numbers are in the figure's unit.
    """

    address: str
    title: Title | None
    observed: float
    low: float
    high: float
    source: str
    figure: Estimate | None
    fits: bool | None
    words: str


def held_against(study: StudyDocument, figures: Mapping[str, Estimate]) -> list[Fit]:
    """Return what is known of a study's service, in its order, beside the figures of a run by their addresses.

    What is counted by the day, week or month is told for the minutes that a replication counted.
    """
    minutes_counted = figures.get(MINUTES_COUNTED)
    counted = (minutes_counted and minutes_counted.mean) or minutes(study.run.length) - minutes(study.run.warm_up)
    return [_fit(study, each, figures.get(each.figure), counted) for each in study.observed]


def _fit(study: StudyDocument, known: Observed, figure: Estimate | None, counted: float) -> Fit:
    title, times = titled(known.figure, study), periods_in(counted, known.per)
    value = times * plain_number(known.value)
    ends = sorted([value * (1 - ALIKE), value * (1 + ALIKE)])
    low = ends[0] if known.low is None else times * plain_number(known.low)
    high = ends[1] if known.high is None else times * plain_number(known.high)
    fits = None if figure is None or figure.mean is None else _overlap(figure, low, high)
    return Fit(
        address=known.figure,
        title=title,
        observed=value,
        low=low,
        high=high,
        source=known.source,
        figure=figure,
        fits=fits,
        words=_words(study, title, value, figure, fits),
    )


def _overlap(figure: Estimate, low: float, high: float) -> bool:
    """Say whether the interval of what was simulated reaches into what was observed."""
    mean = figure.mean or 0.0
    least, most = (mean if end is None else end for end in (figure.low, figure.high))
    return least <= high and most >= low


def _words(study: StudyDocument, title: Title | None, value: float, figure: Estimate | None, fits: bool | None) -> str:
    if title is None or figure is None or figure.mean is None or fits is None:
        return "the run has no such figure"
    if fits:
        return "fits"
    apart = figure.mean - value
    side = "high" if apart > 0 else "low"
    if value == 0:
        return f"does not fit, {figure_words(abs(apart), title.unit, study.currency)} too {side}"
    return f"does not fit, {100 * abs(apart / value):.0f} % too {side}"
