"""How long members stay after their shifts until nobody is inside any more."""

import numpy as np
from numpy.typing import NDArray

from flowcore.study import StudyDocument, minutes
from flowcore.study.teams import Team
from flowcore.theory.lagging import Lagging


def empties(study: StudyDocument, interval: float) -> NDArray[np.float64]:
    """Return the chance that nobody is inside at some moment of each interval of an ordinary week, were nobody to wait.

    With endless servers those inside are Poisson, so nobody is with e^-L where L are inside on average, and that begins
    anew as often as cases come in such a moment. Source: Takács, Introduction to the Theory of Queues (1962), chapter 3.
    """
    lagging = Lagging(study, interval)
    inside = np.sum([lagging.in_work(number) for number in range(len(study.steps))], axis=0)
    first = {stream.to for stream in study.streams}
    coming = np.sum(
        [lagging.arrivals(number) for number, step in enumerate(study.steps) if step.id in first], axis=0
    )
    nobody = np.exp(-inside)
    return np.maximum(nobody, 1 - np.exp(-coming * nobody))


def expected_stays(team: Team, chances: NDArray[np.float64], interval: float) -> NDArray[np.float64]:
    """Return the minutes that a member of a team stays whose shift ends with the beginning of each interval.

    `chances` are those of `empties`. Who only finishes the case in hand, or clears the line, stays for next to nothing.
    """
    count = len(chances)
    if team.closing.stay != "empty":
        return np.zeros(count)
    most = float(count) * interval if team.closing.at_most is None else minutes(team.closing.at_most)
    twice = np.tile(1 - chances, 2)
    stays = np.zeros(2 * count + 1)
    for number in range(2 * count - 1, -1, -1):
        stays[number] = twice[number] * (interval + stays[number + 1])
    return np.minimum(stays[:count], most)
