"""How a quantity of the cases spreads, with its percentiles, its target, and what is beyond the bulk."""

from collections.abc import Mapping

import numpy as np
from pydantic import BaseModel

from flowcore.findings.words import figure_words
from flowcore.reports.comparison import Limit, limit_of
from flowcore.results.catalogue import Title, Unit, titled
from flowcore.results.histogram import Histogram, width_of_bars
from flowcore.results.run import Results
from flowcore.results.statistics import Estimate
from flowcore.study import StudyDocument
from flowcore.study.runs import Target

MOST_BARS = 40
TOLD = ("p50", "p90", "p99", "mean")
FAR = 4.0
"""An axis ends where so many times three quarters of those who wait are passed, if the slowest hundredth is beyond."""
BEHIND_A_LIMIT = 1.15


class CaseSpread(BaseModel):
    """Which share of the cases is how high in a quantity, in minutes or in money.

    `none` is the share that is exactly zero and stands apart of the `bars`, each `width` wide from zero; `beyond` is
    the share past the last bar, `longest` how much the last case has. `within` is the share that keeps the limit.
    """

    quantity: str
    title: Title
    width: float
    bars: list[float]
    none: float
    beyond: float
    longest: float
    beyond_words: str
    percentiles: dict[str, Estimate]
    limit: Limit | None
    within: Estimate | None


def spread_of(
    study: StudyDocument, results: Results, quantity: str, figures: Mapping[str, Estimate]
) -> CaseSpread | None:
    """Return how a quantity such as `type/all/wait` spreads over all cases; None where none has it.

    `figures` are those of the results, by their addresses.
    """
    histogram, title = results.histogram(quantity), titled(f"{quantity}/mean", study)
    if histogram is None or title is None or not histogram.total:
        return None
    target = next((each for each in study.targets if _is_of(each, quantity)), None)
    limit = limit_of(target, title.unit) if target else None
    longest = float(np.nanmax(results.contributions(f"{quantity}/max")))
    percentiles = {name: figures[f"{quantity}/{name}"] for name in TOLD}
    found = spread_out(quantity, title, histogram, results.zeros(quantity), longest, percentiles, limit, study.currency)
    return found.model_copy(update={"within": _within(results, quantity, limit)})


def spread_out(
    quantity: str,
    title: Title,
    histogram: Histogram,
    zeros: int,
    longest: float,
    percentiles: dict[str, Estimate],
    limit: Limit | None = None,
    currency: str = "",
) -> CaseSpread:
    """Return how cases spread that are counted in a histogram, `zeros` of them exactly zero, as a picture has it."""
    many = histogram.total
    end = max(_end(histogram, zeros), BEHIND_A_LIMIT * (_marked(limit) or 0.0))
    width = width_of_bars(end, MOST_BARS)
    counts = histogram.in_bars(width, int(np.ceil(end / width)))
    beyond = 1 - counts.sum() / many
    counts[0] -= zeros
    return CaseSpread(
        quantity=quantity,
        title=title,
        width=width,
        bars=(counts / many).tolist(),
        none=zeros / many,
        beyond=max(0.0, beyond),
        longest=longest,
        beyond_words=_beyond_words(beyond, width * len(counts), longest, title.unit, currency),
        percentiles=percentiles,
        limit=limit,
        within=None,
    )


def _is_of(target: Target, quantity: str) -> bool:
    """Say whether a target's limit is one on the quantity itself: of a percentile or the mean."""
    of, _, statistic = target.figure.rpartition("/")
    return of == quantity and not statistic.startswith("within:") and statistic != "none"


def _marked(limit: Limit | None) -> float | None:
    return None if limit is None else limit.at_most if limit.at_most is not None else limit.at_least


def _end(histogram: Histogram, zeros: int) -> float:
    """Return where the axis ends so that the bulk of those who are above zero fills it."""
    some = histogram.total - zeros
    if some <= 0:
        return 1.0
    most, nearly_all = (histogram.end_of((zeros + share * some) / histogram.total) for share in (0.75, 0.99))
    return min(nearly_all, FAR * most)


def _beyond_words(beyond: float, end: float, longest: float, unit: Unit, currency: str) -> str:
    if beyond <= 0:
        return ""
    share = figure_words(beyond, Unit.SHARE, "")
    return f"{share} beyond {figure_words(end, unit, currency)}, up to {figure_words(longest, unit, currency)}"


def _within(results: Results, quantity: str, limit: Limit | None) -> Estimate | None:
    marked = _marked(limit)
    return None if marked is None else results.figure(f"{quantity}/within:{marked}min")
