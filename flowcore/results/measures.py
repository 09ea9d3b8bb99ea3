"""What the measures of the analyst's own say of one replication."""

import numpy as np

from flowcore.kernel.records.ledger import Measured
from flowcore.kernel.records.world import World
from flowcore.results.arrays import Values, ratio
from flowcore.study import StudyDocument
from flowcore.study.measures import OwnMeasure, by_moment


class Measures:
    """The shares, counts and levels that a study's own measures ask for; times are told with the spans."""

    def __init__(self, study: StudyDocument) -> None:
        self._asked = [measure for measures in by_moment(study.measures) for measure in measures]
        self.addresses = [f"measure/{measure.id}/{_quantity(measure)}" for measure in self._asked]

    def __call__(self, world: World) -> Values:
        """Return the figures of a replication at its end."""
        return np.array([_told(*each) for each in zip(self._asked, world.measured, strict=True)], np.float64)


def _quantity(measure: OwnMeasure) -> str:
    if measure.share is not None:
        return "share"
    return "count" if measure.count is not None else "level"


def _told(measure: OwnMeasure, told: Measured) -> float:
    if measure.share is not None:
        return ratio(float(told.held), float(told.among))
    if measure.count is not None:
        return float(told.held)
    if measure.level is not None and measure.level.statistic == "mean":
        return ratio(float(told.area), float(told.held))
    return float(told.highest) if told.held > 0 else float("nan")
