"""The search among the values of levers: every combination or the most promising, replications where they tell most."""

from collections.abc import Iterator, Mapping, Sequence
from itertools import product
from math import prod

import numpy as np

from flowcore.problems import StudyError, error_at
from flowcore.sizing.aiming.allocation import allocation
from flowcore.sizing.aiming.judging import least_margin, spread_of_worst
from flowcore.sizing.aiming.trials import AS_IT_IS, Staffing, Trial
from flowcore.sizing.search import Asking, Search, Stage, Tried
from flowcore.study import StudyDocument
from flowcore.study.levers import values_of
from flowcore.study.sizing import Sizing

MOST_TRIED = 300
"""Of so many combinations every one is tried; of more, so many of those that a guide proposes."""
AT_ONCE = 15
MOST_IN_VAIN = 4
FIRST = 6
"""So many replications each combination gets at first."""
ON_AVERAGE = 20
"""So many each gets on average in the end."""
ROUNDS = 8


class LeverSearch(Search):
    """Looks for the values of some levers; see `run`."""

    STAGES = (
        Stage("Trying combinations of the levers", 0.3),
        Stage("Running again where it tells most", 0.5),
        Stage("Choosing among the cheapest", 0.2),
    )

    def __init__(self, study: StudyDocument, sizing: Sizing) -> None:
        super().__init__(study, sizing)
        self._values = {lever.id: values_of(lever) for lever in study.levers if lever.id in sizing.levers}
        for lever, values in self._values.items():
            if not values:
                what = f"Nothing says what {lever} may be."
                mend = "Give the lever values, or a range with a step."
                raise StudyError([error_at(f"sizing/{sizing.id}/levers", what, mend)])

    def run(self) -> Asking:
        """Ask for trials until the cheapest combination that holds is chosen; what was found is in `found`."""
        [outcome] = yield [Trial(AS_IT_IS, tuple(range(FIRST)))]
        self.found.today = None if outcome.stands_still else Tried(None, AS_IT_IS, outcome)
        count = prod(len(values) for values in self._values.values())
        if count <= MOST_TRIED:
            yield from self._try([self._at(dict(zip(self._values, each, strict=True))) for each in self._places()])
        else:
            yield from self._try_promising()
        self.stage = 1
        for part in range(1, ROUNDS + 1):
            yield from self._add(part / ROUNDS)
        self.stage = 2
        yield from self._choose()

    def _places(self) -> Iterator[tuple[int, ...]]:
        return product(*(range(len(values)) for values in self._values.values()))

    def _at(self, places: Mapping[str, int]) -> Staffing:
        """Return the levers with each at the value of that place in its list."""
        return Staffing({}, {}, {lever: self._values[lever][place] for lever, place in places.items()})

    def _try(self, staffings: Sequence[Staffing]) -> Asking:
        """Try levers where they stand so, those that are not known."""
        new = list({each.key: each for each in staffings if each.key not in self.found.tried}.values())
        outcomes = (yield [Trial(each, tuple(range(FIRST))) for each in new]) if new else []
        for staffing, first in zip(new, outcomes, strict=True):
            self.found.tried[staffing.key] = Tried(None, staffing, first)

    def _try_promising(self) -> Asking:
        """Try what a guide proposes, until so many are tried as may be, or it proposes nothing new any more."""
        from flowcore.sizing.guiding import Guide  # it is slow to load, and seldom needed

        guide = Guide({lever: len(values) for lever, values in self._values.items()}, self.study.run.seed)
        in_vain = 0
        while len(self.found.tried) < MOST_TRIED and in_vain < MOST_IN_VAIN:
            before = len(self.found.tried)
            proposed = [self._at(each) for each in guide.propose(AT_ONCE)]
            yield from self._try(proposed)
            tried = [self.found.tried[each.key] for each in proposed]
            guide.learn(tried, [least_margin(self.aims, each.outcome) for each in tried])
            in_vain = 0 if len(self.found.tried) > before else in_vain + 1

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
