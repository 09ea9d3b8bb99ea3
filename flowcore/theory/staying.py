"""How long members stay after their shifts until nobody is inside any more."""

from math import ceil

import numpy as np
from numpy.typing import NDArray

from flowcore.study import StudyDocument, minutes
from flowcore.study.teams import Team
from flowcore.theory.lagging import Lagging


def empties(study: StudyDocument, interval: float) -> NDArray[np.float64]:
    """Return the chance that nobody is inside at some moment of each interval of an ordinary week, were nobody to wait.

    With endless servers those inside are Poisson, so nobody is with e^-L where L are inside on average, and that begins
    anew as often as cases come in such a moment. Source: Takács, Introduction to the Theory of Queues (1962), ch. 3.
    """
    lagging = Lagging(study, interval)
    inside = np.sum([lagging.in_work(number) for number in range(len(study.steps))], axis=0)
    first = {stream.to for stream in study.streams}
    coming = np.sum([lagging.arrivals(number) for number, step in enumerate(study.steps) if step.id in first], axis=0)
    nobody = np.exp(-inside)
    chances: NDArray[np.float64] = np.maximum(nobody, 1 - np.exp(-coming * nobody))
    return chances


def still_there(team: Team, chances: NDArray[np.float64], interval: float) -> NDArray[np.float64]:
    """Return who of a team is still there in the intervals after a shift's end: shares, shape (ends, intervals).

    The shift ends with the beginning of an interval of the week; `chances` are those of `empties`. Who only finishes
    the case in hand, or clears the line, stays for next to nothing.
    """
    count = len(chances)
    there = np.zeros((count, count))
    if team.closing.stay != "empty":
        return there
    most = count if team.closing.at_most is None else min(count, ceil(minutes(team.closing.at_most) / interval))
    staying = np.ones(count)
    for after in range(most):
        places = (np.arange(count) + after) % count
        staying = staying * (1 - chances[places])
        there[np.arange(count), places] = staying
    return there
