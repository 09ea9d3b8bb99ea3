"""What every search has: targets, what was tried, and the choice among the best of that.

A search asks for trials and goes on with their outcomes, and knows nothing of who runs them: the answer depends on the
study, the limits and the seed alone, and what is known already need not be run again.
"""

from abc import ABC, abstractmethod
from collections.abc import Generator, Mapping, Sequence
from dataclasses import dataclass, field
from typing import ClassVar

from flowcore.problems import StudyError, error_at
from flowcore.results.aims import Aims
from flowcore.results.statistics import Estimate
from flowcore.results.week_grid import Floats, interval_of
from flowcore.sizing.aiming.choosing import Choice, choose
from flowcore.sizing.aiming.judging import least_margin
from flowcore.sizing.aiming.trials import Outcome, Staffing, Trial
from flowcore.sizing.staffing.cover import Cover
from flowcore.sizing.staffing.need import Need
from flowcore.sizing.staffing.plans import Plan
from flowcore.study import StudyDocument
from flowcore.study.sizing import Sizing

FINALISTS = 6
"""So many of the cheapest that hold are compared in the end."""

Asking = Generator[list[Trial], list[Outcome], None]


@dataclass(frozen=True)
class Tried:
    """A staffing that was tried, with the plan behind its rosters where there is one, and what it says."""

    plan: Plan | None
    staffing: Staffing
    outcome: Outcome

    @property
    def cost(self) -> float:
        """What it costs a week."""
        return float(self.outcome.costs.mean())


@dataclass
class Found:
    """What a search has found so far.

    `need` is settled by simulation where `need_holds`, or where no interval could be raised or lowered any more;
    `short` is a cover of the need that lacks members because the limits allow no better one, and
    `in_the_way` the limit without which it could; `figures` are those of
    what is proposed, by the key of its staffing. Where it `is_over` nothing more is looked for.
    """

    need: Need = field(default_factory=dict)
    by_theory: Need = field(default_factory=dict)
    need_holds: bool = False
    today: Tried | None = None
    tried: dict[str, Tried] = field(default_factory=dict)
    choice: Choice | None = None
    short: Cover | None = None
    in_the_way: str = ""
    is_over: bool = False
    figures: dict[str, Mapping[str, Estimate]] = field(default_factory=dict)


@dataclass(frozen=True)
class Stage:
    """A stretch of a search: what it does, in words, and about which share of the whole time it takes."""

    words: str
    share: float


class Search(ABC):
    """Looks for the cheapest that keeps some targets, in `STAGES` of which it is at `stage`."""

    STAGES: ClassVar[Sequence[Stage]]

    def __init__(self, study: StudyDocument, sizing: Sizing) -> None:
        self.sizing = sizing
        self.study, self.aims = tried_with(study, sizing)
        self.grid = self.aims.grid
        self.targets = sizing.targets or study.targets
        self.found = Found()
        self.stage = 0

    @abstractmethod
    def run(self) -> Asking:
        """Ask for trials until the cheapest that holds is chosen; what was found is in `found`."""

    @property
    def changes_teams(self) -> set[str]:
        """The teams that may change: those with limits, or, where levers are moved, all."""
        return {each.team for each in self.sizing.teams} or {team.id for team in self.study.teams}

    def needed(self, need: Need) -> dict[str, Floats]:
        """Return the members of each team that a need of pools takes in each interval of the week."""
        return {"+".join(teams): members for teams, members in need.items()}

    def tried(self) -> list[Tried]:
        """Return all that was tried within the limits."""
        return list(self.found.tried.values())

    def best(self, aims: Aims | None = None) -> Tried | None:
        """Return the cheapest within the limits that keeps the targets, or aims, by the trials so far."""
        return min(self._holding(aims or self.aims), key=lambda each: each.cost, default=None)

    def _holding(self, aims: Aims) -> list[Tried]:
        return [each for each in self.tried() if least_margin(aims, each.outcome) >= 0]

    def _choose(self) -> Asking:
        """Choose among the cheapest that hold, with luck by which none of them was found."""
        holding = sorted(self._holding(self.aims), key=lambda each: each.cost)
        finalists = [each.staffing for each in holding[:FINALISTS]]
        if finalists:
            self.found.choice = yield from choose(self.aims, finalists)
        self.found.is_over = True


def tried_with(study: StudyDocument, sizing: Sizing) -> tuple[StudyDocument, Aims]:
    """Return the study with whose luck the trials of a search are run, and what is aimed at in them."""
    seed = study.run.seed if sizing.seed is None else sizing.seed
    run = study.run.model_copy(update={"seed": seed})
    return study.model_copy(update={"run": run}), Aims(study, sizing.targets or study.targets, interval_of(study))


def sizing_of(study: StudyDocument, sizing_id: str | None) -> Sizing:
    """Return one of the searches that a study asks for, by default the first; StudyError names what is not there."""
    sizing = next((each for each in study.sizing if sizing_id in (None, each.id)), None)
    if sizing is None:
        known = ", ".join(each.id for each in study.sizing) or "none"
        what = "The study has no search." if sizing_id is None else f"There is no search “{sizing_id}”."
        raise StudyError([error_at("sizing", what, f"Known are: {known}.")])
    return sizing
