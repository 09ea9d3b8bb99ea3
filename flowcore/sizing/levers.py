"""The search among the values of levers: every combination, with replications where they tell most."""

from itertools import product
from math import prod

import numpy as np

from flowcore.problems import StudyError, error_at
from flowcore.sizing.aiming.allocation import allocation
from flowcore.sizing.aiming.judging import spread_of_worst
from flowcore.sizing.aiming.trials import AS_IT_IS, Staffing, Trial
from flowcore.sizing.search import Asking, Search, Stage, Tried
from flowcore.study import StudyDocument
from flowcore.study.levers import values_of
from flowcore.study.sizing import Sizing

MOST_COMBINATIONS = 300
FIRST = 6
"""So many replications each combination gets at first."""
ON_AVERAGE = 20
"""So many each gets on average in the end."""
ROUNDS = 8


class LeverSearch(Search):
    """Looks for the values of some levers; see `run`."""

    STAGES = (
        Stage("Trying every combination", 0.3),
        Stage("Running again where it tells most", 0.5),
        Stage("Choosing among the cheapest", 0.2),
    )

    def __init__(self, study: StudyDocument, sizing: Sizing) -> None:
        super().__init__(study, sizing)
        self._combinations = self._all()

    def _all(self) -> list[Staffing]:
        levers = {lever.id: values_of(lever) for lever in self.study.levers if lever.id in self.sizing.levers}
        where = f"sizing/{self.sizing.id}/levers"
        for lever, values in levers.items():
            if not values:
                what = f"Nothing says what {lever} may be."
                raise StudyError([error_at(where, what, "Give the lever values, or a range with a step.")])
        count = prod(len(values) for values in levers.values())
        if count > MOST_COMBINATIONS:
            what = f"The levers have {count:,} combinations, more than can be run ({MOST_COMBINATIONS})."
            raise StudyError([error_at(where, what, "Take fewer levers, or fewer values of each.")])
        return [Staffing({}, {}, dict(zip(levers, each, strict=True))) for each in product(*levers.values())]

    def run(self) -> Asking:
        """Ask for trials until the cheapest combination that holds is chosen; what was found is in `found`."""
        [outcome] = yield [Trial(AS_IT_IS, tuple(range(FIRST)))]
        self.found.today = None if outcome.stands_still else Tried(None, AS_IT_IS, outcome)
        outcomes = yield [Trial(each, tuple(range(FIRST))) for each in self._combinations]
        for staffing, first in zip(self._combinations, outcomes, strict=True):
            self.found.tried[staffing.key] = Tried(None, staffing, first)
        self.stage = 1
        for part in range(1, ROUNDS + 1):
            yield from self._add(part / ROUNDS)
        self.stage = 2
        yield from self._choose()

    def _add(self, part: float) -> Asking:
        """Add replications where they tell most, until that part of all is used."""
        tried = self.tried()
        worst = [spread_of_worst(self.aims, each.outcome) for each in tried]
        counts = np.array([each.outcome.count for each in tried])
        total = len(tried) * (FIRST + round(part * (ON_AVERAGE - FIRST)))
        wanted = allocation(
            np.array([each.cost for each in tried]),
            np.array([each.outcome.costs.std(ddof=1) for each in tried]),
            np.array([mean for mean, _ in worst]),
            np.array([spread for _, spread in worst]),
            total,
        )
        room = max(0, total - int(counts.sum()))
        lacking = np.maximum(0, wanted - counts)
        more = np.minimum(lacking, np.floor(room * lacking / max(1, int(lacking.sum())))).astype(np.int64)
        asked = [(each, int(n)) for each, n in zip(tried, more, strict=True) if n > 0]
        if not asked:
            return
        outcomes = yield [
            Trial(each.staffing, tuple(range(each.outcome.count, each.outcome.count + n))) for each, n in asked
        ]
        for (each, _), outcome in zip(asked, outcomes, strict=True):
            self.found.tried[each.staffing.key] = Tried(None, each.staffing, each.outcome.with_more(outcome))
