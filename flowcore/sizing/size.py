"""Right-sizing a study: a search with somebody who runs its trials, and the one way to do that in a process."""

from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from contextlib import suppress
from dataclasses import dataclass
from itertools import accumulate

from flowcore.checks.sizing import sizing_problems
from flowcore.problems import StudyError
from flowcore.results.aims import target_problems
from flowcore.simulate import Stopped, never, require_sound
from flowcore.sizing.aiming.trials import Outcome, Trial, run_trial
from flowcore.sizing.answer import Answer, answer_of, figures_of_proposed
from flowcore.sizing.levers import LeverSearch
from flowcore.sizing.rosters import RosterSearch
from flowcore.sizing.search import Asking, Search, sizing_of
from flowcore.study import StudyDocument
from flowcore.study.sizing import Sizing

Runner = Callable[[list[Trial]], list[Outcome]]
"""Runs trials and returns their outcomes in the same order.

Where the search is to stop it raises Stopped, but for trials that show: a search that is stopped still tells figures.
"""


@dataclass(frozen=True)
class Progress:
    """How far a search is: the `stage`, in words.

    About which `share` of the whole was behind it when the stage began, and will be when it ends (`share_then`).
    `cost` is what the cheapest that seems to hold costs a week, None where none does.
    """

    stage: str
    share: float
    share_then: float
    tried: int
    replications: int
    cost: float | None

    def __str__(self) -> str:
        so_far = "none holds yet" if self.cost is None else f"the cheapest that holds costs {self.cost:,.0f} a week"
        return f"{self.stage}: {self.tried} tried, {so_far}"


def require_searchable(study: StudyDocument, sizing_id: str | None = None) -> Sizing:
    """Return one of the searches that a study asks for, by default the first.

    Raises StudyError where it is not there, where the study has errors, or where a target cannot be aimed at.
    """
    require_sound(study)
    sizing = sizing_of(study, sizing_id)
    where = f"sizing/{sizing.id}/targets" if sizing.targets else "targets"
    problems = [*sizing_problems(study, sizing), *target_problems(study, sizing.targets or study.targets, where)]
    if problems:
        raise StudyError(problems)
    return sizing


def search_for(study: StudyDocument, sizing_id: str | None = None) -> Search:
    """Return a search of a study that can begin; see `require_searchable`.

    Raises StudyError too where nothing within the limits can do the work.
    """
    sizing = require_searchable(study, sizing_id)
    return LeverSearch(study, sizing) if sizing.levers else RosterSearch(study, sizing)


class Conversation:
    """A search and who runs its trials, so far."""

    def __init__(self, search: Search, run: Runner, told: Callable[[Progress], None]) -> None:
        self._search, self._run, self._told = search, run, told
        self._tried = self._replications = 0

    def answer(self) -> Answer:
        """Go through the search to its end, or until it is stopped, and return what it found."""
        with suppress(Stopped):
            self._go_through(self._search.run())
        self._go_through(figures_of_proposed(self._search))
        return answer_of(self._search, self._tried, self._replications)

    def _go_through(self, asking: Asking) -> None:
        try:
            trials = next(asking)
            while True:
                self._told(self._progress())
                outcomes = self._run(trials)
                self._tried += len(trials)
                self._replications += sum(len(trial.numbers) for trial in trials)
                trials = asking.send(outcomes)
        except StopIteration:
            return

    def _progress(self) -> Progress:
        stages, at = self._search.STAGES, self._search.stage
        best = self._search.best()
        shares = list(accumulate((each.share for each in stages), initial=0.0))
        cost = None if best is None else best.cost
        return Progress(stages[at].words, shares[at], shares[at + 1], self._tried, self._replications, cost)


def in_threads(search: Search, pool: ThreadPoolExecutor, should_stop: Callable[[], bool] = never) -> Runner:
    """Return what runs the trials of a search in this process."""

    def run(trials: list[Trial]) -> list[Outcome]:
        if should_stop() and not trials[0].shows:
            raise Stopped
        return list(pool.map(lambda trial: run_trial(search.study, search.aims, trial), trials))

    return run


def size(
    study: StudyDocument,
    sizing_id: str | None = None,
    threads: int = 1,
    told: Callable[[Progress], None] = lambda _: None,
) -> Answer:
    """Right-size a study, and return what was found; see `search_for`."""
    search = search_for(study, sizing_id)
    with ThreadPoolExecutor(threads) as pool:
        return Conversation(search, in_threads(search, pool), told).answer()
