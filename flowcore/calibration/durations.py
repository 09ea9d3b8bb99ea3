"""Durations that were seen, as a distribution of the document: which shape comes nearest, and how near that is."""

from typing import Any

import numpy as np
from pydantic import BaseModel
from scipy import stats

from flowcore.calibration.candidates import CANDIDATES, Numbers, Seen
from flowcore.calibration.fits import DIGITS, ShapeFit, fit_of
from flowcore.calibration.lasting import Lasting
from flowcore.study.durations import DAY, HOUR, in_unit

FEWEST = 10
"""Of fewer times no shape is told."""
FEW = 30
MOST_FITTED = 5_000
"""Of more times so many are fitted, drawn by chance: more would not tell the shapes apart better."""
MOST_OBSERVED = 200
"""A distribution as observed has at most so many values, evenly spread over all in order."""
BINS = 24
PLACES = 6
"""Minutes are told to so many places: less is the rounding of a computer, not a duration."""
ABOUT_THE_SAME = 2.0
"""Shapes whose criteria differ by less are as near as each other; source: Burnham and Anderson (2002), 2.6."""
SAME = 0.01
"""Times that differ by no more than this share are one: a clock tells seconds."""
VISIBLE = 0.05
"""From this share of cases on, a difference between a shape and what was seen can be told by the eye."""
SURE = 0.05


class Fitted(BaseModel):
    """All that can be told of some durations: nearest shape first; in minutes.

    `many` have ended, `longer` are only known to be longer; `mean` has an interval. The `histogram` has shares of
    those that have ended between its `edges`. `as_observed` is what was seen as a distribution of the document, up
    to the share that is `reached` before all others are only known to be longer; `doubt` says why none of it should be
    trusted, "" where nothing speaks against it.
    """

    many: int
    longer: int
    mean: float
    mean_interval: tuple[float, float]
    sd: float
    edges: list[float]
    histogram: list[float]
    fits: list[ShapeFit]
    as_observed: Any
    reached: float
    doubt: str


def fitted(ended: Numbers, longer: Numbers | None = None, confidence: float = 0.95) -> Fitted:
    """Return what durations (minutes) are like: those that `ended`, and those only known to be `longer`.

    Times of zero stand for less than the clock tells and are taken as half of the shortest one. Raises ValueError where
    no time has ended.
    """
    if not len(ended):
        raise ValueError("no duration has ended")
    ended = _above_zero(np.asarray(ended, np.float64).round(PLACES))
    longer = np.empty(0) if longer is None else np.asarray(longer, np.float64)
    seen = _fewer(ended, longer[longer > 0])
    unit = unit_for(float(np.median(ended)))
    edges = np.linspace(0.0, float(np.quantile(ended, 0.99)) * 1.02 or 1.0, BINS + 1)
    lasting = Lasting(seen)
    fits = [] if len(ended) < FEWEST or np.ptp(ended) <= SAME * ended.max() else _fits(seen, lasting, unit, confidence)
    counts = np.histogram(ended, edges)[0]
    mean, interval = _mean(ended, len(longer), lasting, confidence)
    return Fitted(
        many=len(ended),
        longer=len(longer),
        mean=mean,
        mean_interval=interval,
        sd=float(ended.std(ddof=1)) if len(ended) > 1 else 0.0,
        edges=edges.tolist(),
        histogram=(counts / len(ended)).tolist(),
        fits=fits,
        as_observed=_as_observed(lasting, unit),
        reached=float(lasting.shares[-1]),
        doubt=_doubt(len(ended), len(longer), fits),
    )


def _above_zero(times: Numbers) -> Numbers:
    """Return times of which those of zero are half of the shortest other one, or a second where all are zero."""
    above = times[times > 0]
    return np.where(times > 0, times, (above.min() if len(above) else 2 / 60) / 2)


def _fewer(ended: Numbers, longer: Numbers) -> Seen:
    many = len(ended) + len(longer)
    if many <= MOST_FITTED:
        return Seen(ended, longer)
    kept = np.random.default_rng(many).choice(many, MOST_FITTED, replace=False)
    return Seen(ended[kept[kept < len(ended)]], longer[kept[kept >= len(ended)] - len(ended)])


def unit_for(middle: float) -> str:
    """Return the unit in which times of about so many minutes are written."""
    return next((unit for unit, most in (("s", 1.0), ("min", 2 * HOUR), ("h", 2 * DAY)) if middle < most), "d")


def _mean(ended: Numbers, longer: int, lasting: Lasting, confidence: float) -> tuple[float, tuple[float, float]]:
    """Return the mean with its interval; where some are longer, up to the longest that has ended."""
    mean = lasting.mean() if longer else float(ended.mean())
    if len(ended) < 2:
        return mean, (mean, mean)
    half = float(stats.t.ppf((1 + confidence) / 2, len(ended) - 1) * ended.std(ddof=1) / np.sqrt(len(ended)))
    return mean, (max(0.0, mean - half), mean + half)


def _fits(seen: Seen, lasting: Lasting, unit: str, confidence: float) -> list[ShapeFit]:
    found = [
        fit
        for dist, candidate in CANDIDATES.items()
        if not (candidate.needs_ends and len(seen.longer))
        for fit in [fit_of(seen, dist, candidate, lasting, unit, confidence)]
        if fit is not None
    ]
    nearest = min((each.criterion for each in found), default=0.0)
    order = {dist: place for place, dist in enumerate(CANDIDATES)}
    found.sort(key=lambda each: _rank(each, nearest, order[each.dist]))
    return found


def _rank(fit: ShapeFit, nearest: float, place: int) -> tuple[float, int, int]:
    """The nearest first; of those that are about as near, the one with fewer parameters."""
    behind = fit.criterion - nearest
    return (0.0, fit.parameters, place) if behind < ABOUT_THE_SAME else (behind, 0, 0)


def _as_observed(lasting: Lasting, unit: str) -> Any:
    """Return what was seen as values of the document, evenly spread over all in order."""
    many = min(len(lasting.times), MOST_OBSERVED)
    times = lasting.at_share(float(lasting.shares[-1]) * np.linspace(0.0, 1.0, many))
    if times[-1] - times[0] <= SAME * times[-1]:
        return in_unit(float(times.mean()), unit, DIGITS)
    return {"dist": "empirical", "values": [in_unit(float(time), unit, DIGITS) for time in times]}


def _doubt(many: int, longer: int, fits: list[ShapeFit]) -> str:
    if many < FEWEST:
        return f"Only {many} {'time is' if many == 1 else 'times are'} known: too few to tell a shape."
    if longer > many:
        return f"Of {many + longer:,} times {longer:,} have not ended: the shape is a guess for long ones."
    if many < FEW:
        return f"Only {many} times are known: the shape is a guess."
    if fits and fits[0].off > VISIBLE and (fits[0].by_chance or 0.0) < SURE:
        return "No shape comes near: take it as observed."
    return ""
