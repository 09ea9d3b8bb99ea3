"""What sentences are made from: a run's figures, each written in one way wherever it is told."""

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from flowcore.findings.words import Words, figure_words, value
from flowcore.results.catalogue import HOURS_A_WEEK, Unit, titled
from flowcore.results.run import Results
from flowcore.results.statistics import Estimate, mean_of_known
from flowcore.study import StudyDocument
from flowcore.thresholds import A_VISIT, FULL

NOTHING = Estimate(None, None, None, None, None, 0)


@dataclass(frozen=True)
class Source:
    """A study and its results, of one replication or more."""

    study: StudyDocument
    results: Results

    def figure(self, address: str) -> Estimate:
        """Return a figure with its interval; nothing where there is no such figure."""
        return self.results.figure(address) if self.results.has(address) else NOTHING

    def mean(self, address: str) -> float:
        """Return a figure; zero where there is none."""
        return self.figure(address).mean or 0.0

    def told(self, address: str) -> Words:
        """Return a figure as a piece of a sentence that leads to it."""
        title = titled(address, self.study)
        unit = Unit.COUNT if title is None else title.unit
        return value(figure_words(self.mean(address), unit, self.study.currency), address)

    def by_hour(self, quantity: str) -> np.ndarray:
        """Return the mean over the replications of a quantity by the hour of the week, 0 where there is none."""
        if any(quantity not in each.week for each in self.results.replications):
            return np.zeros(HOURS_A_WEEK)
        return np.nan_to_num(mean_of_known(self.results.by_hour(quantity), 0))

    @cached_property
    def is_casework(self) -> bool:
        """Whether cases lie over night as a matter of course, so that how soon they are through matters, not waits.

        Where there is more work than can be done nobody can tell.
        """
        stay = self.figure("type/all/total/p50").mean
        loads = [self.mean(f"team/{team.id}/utilisation") for team in self.study.teams]
        return stay is not None and stay >= A_VISIT and max(loads, default=0.0) < FULL
