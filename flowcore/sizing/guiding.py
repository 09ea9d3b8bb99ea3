"""A guide through more combinations than can be tried: it proposes some, is told what they say, and proposes others.

Tree-structured Parzen estimators with constraints, by ask and tell: Bergstra, Bardenet, Bengio and Kégl, Algorithms for
hyper-parameter optimization, NIPS 24 (2011); Watanabe and Hutter, c-TPE, IJCAI (2023).
"""

import warnings
from collections.abc import Mapping, Sequence

import optuna
from optuna.distributions import IntDistribution
from optuna.trial import Trial

from flowcore.sizing.search import Tried

MISSES = "misses"
FIRST_BY_CHANCE = 30
MOST_SEED = 2**32
optuna.logging.set_verbosity(optuna.logging.WARNING)


class Guide:
    """Proposes places in lists of so many values each; the same seed and the same answers, the same proposals."""

    def __init__(self, counts: Mapping[str, int], seed: int) -> None:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore", optuna.exceptions.ExperimentalWarning)
            sampler = optuna.samplers.TPESampler(
                n_startup_trials=FIRST_BY_CHANCE,
                seed=seed % MOST_SEED,
                multivariate=True,
                constant_liar=True,
            )
        self._study = optuna.create_study(sampler=sampler)
        self._counts = {name: IntDistribution(0, count - 1) for name, count in counts.items()}
        self._asked: list[Trial] = []

    def propose(self, many: int) -> list[dict[str, int]]:
        """Return so many proposals, some of which may have been made before."""
        self._asked = [self._study.ask(dict(self._counts)) for _ in range(many)]
        return [dict(each.params) for each in self._asked]

    def learn(self, tried: Sequence[Tried], margins: Sequence[float]) -> None:
        """Be told of each proposal what it costs, and by how much it keeps the targets: below zero, it does not."""
        for trial, each, margin in zip(self._asked, tried, margins, strict=True):
            trial.set_constraint(MISSES, -margin)
            self._study.tell(trial, each.cost)
