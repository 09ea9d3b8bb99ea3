"""The search for the cheapest staffing that keeps its targets, stage by stage.

A search asks for trials and goes on with their outcomes, and knows nothing of who runs them: the answer depends on the
study, the limits and the seed alone, and what is known already need not be run again.
"""

from collections.abc import Generator, Sequence
from dataclasses import dataclass, field

import numpy as np

from flowcore.problems import StudyError, error_at
from flowcore.sizing.aims import Aims
from flowcore.sizing.choosing import Choice, choose
from flowcore.sizing.cover import Cover, Covering, Plan, days_with_work, hours_of_week, interval_of, rows_of
from flowcore.sizing.judging import least_margin, missing
from flowcore.sizing.need import Need, Settled, Staffed, least_by_margin, least_by_theory, settle
from flowcore.sizing.experience import Experience
from flowcore.sizing.neighbours import Neighbourhood
from flowcore.sizing.pools import Pool, pools_of
from flowcore.sizing.trials import Outcome, Staffing, Trial
from flowcore.study import StudyDocument
from flowcore.study.sizing import Sizing

REPLICATIONS = 10
"""So many replications, all with the same luck, judge a staffing while one is looked for."""
MARGINS = tuple(np.arange(-2, 13) / 4)
"""Roots of the offered load that are tried on top of it."""
AT_ONCE = 8
BATCHES = 8
"""After so many times AT_ONCE neighbours of which none holds, no cheaper one is looked for."""
MOST_STEPS = 80
FINALISTS = 6

ALIKE = 1e-6

Asking = Generator[list[Trial], list[Outcome], None]


@dataclass(frozen=True)
class Tried:
    """A plan that was tried: its staffing, what it says, and the cautious margin by which it keeps its targets."""

    plan: Plan | None
    staffing: Staffing
    outcome: Outcome
    margin: float
    missing: float

    @property
    def cost(self) -> float:
        """What it costs a week."""
        return float(self.outcome.costs.mean())

    @property
    def holds(self) -> bool:
        """Whether it keeps all targets, as far as the search can tell."""
        return self.margin >= 0


@dataclass
class Found:
    """What a search has found so far."""

    need: Need = field(default_factory=dict)
    by_theory: Need = field(default_factory=dict)
    need_holds: bool = False
    today: Tried | None = None
    tried: dict[str, Tried] = field(default_factory=dict)
    choice: Choice | None = None
    short: Cover | None = None

    def best(self) -> Tried | None:
        """Return the cheapest that holds."""
        return min((each for each in self.with_plans() if each.holds), key=lambda each: each.cost, default=None)

    def with_plans(self) -> list[Tried]:
        """Return all that were tried within the limits."""
        return [each for each in self.tried.values() if each.plan is not None]


class RosterSearch:
    """Looks for rosters; see `run`."""

    def __init__(self, study: StudyDocument, sizing: Sizing) -> None:
        self.study, self.sizing = study, sizing
        self.grid = interval_of(study)
        self.targets = sizing.targets or study.targets
        self.aims = Aims(study, self.targets, self.grid)
        self.pools = pools_of(study, self.grid)
        self.teams = [each.team for each in sizing.teams]
        load = np.sum([pool.load for pool in self.pools] or [np.zeros(self.grid.count)], axis=0)
        self.covering = Covering(study, sizing.teams, days_with_work(load, self.grid), self.grid)
        self.found = Found()

    @property
    def mine(self) -> list[Pool]:
        """The pools in which a team may change."""
        return [pool for pool in self.pools if set(pool.teams) & set(self.teams)]

    def run(self) -> Asking:
        """Ask for trials until the cheapest that holds is chosen; what was found is in `found`."""
        yield from self._look_at_today()
        yield from self._settle_need()
        yield from self._cover()
        best = self.found.best()
        if best is not None:
            yield from self._go_down(best)
        yield from self._choose()

    def _look_at_today(self) -> Asking:
        [outcome] = yield [Trial(Staffing({}, {}, {}), self._numbers)]
        self.found.today = self._judged(None, Staffing({}, {}, {}), outcome)

    @property
    def _numbers(self) -> tuple[int, ...]:
        return tuple(range(REPLICATIONS))

    def _judged(self, plan: Plan | None, staffing: Staffing, outcome: Outcome) -> Tried:
        return Tried(plan, staffing, outcome, least_margin(self.aims, outcome), missing(self.aims, outcome))

    def staffing_of(self, plan: Plan) -> Staffing:
        """Return the staffing of a plan."""
        fixed = {each.team.id: each.fixed for each in self.covering.teams}
        rosters = {team: rows_of(people, fixed[team]) for team, people in plan.people.items()}
        return Staffing(rosters, dict(plan.sizes), {})

    def _try(self, plans: Sequence[Plan]) -> Generator[list[Trial], list[Outcome], list[Tried]]:
        """Try plans, of which those that are known are not run again."""
        staffings = {self.staffing_of(plan).key: (plan, self.staffing_of(plan)) for plan in plans}
        new = {key: each for key, each in staffings.items() if key not in self.found.tried}
        if new:
            outcomes = yield [Trial(staffing, self._numbers) for _, staffing in new.values()]
            for (key, (plan, staffing)), outcome in zip(new.items(), outcomes, strict=True):
                self.found.tried[key] = self._judged(plan, staffing, outcome)
        return [self.found.tried[key] for key in staffings]

    def _settle_need(self) -> Asking:
        """Find the need by theory, then by simulation where a target can be told interval by interval."""
        by_interval = self.aims.by_interval
        self.found.by_theory = least_by_theory(self.study, self.pools, by_interval, margin=1.0)
        if not by_interval.aims:
            self.found.need = self.found.by_theory
            return
        settled: Settled = yield from settle(
            self.study, self.pools, by_interval, self.teams, self.found.by_theory, self._numbers[:5]
        )
        self.found.need, self.found.need_holds = settled.need, settled.holds

    def _cover(self) -> Asking:
        """Cover needs, from about what holds: the settled one, and the offered load with some roots of it more."""
        staffed = Staffed(self.study, self.pools, self.teams, self.grid)
        needs = [least_by_margin(self.mine, margin) for margin in MARGINS]
        outcomes = yield [Trial(staffed.staffing(need), self._numbers[:4]) for need in needs]
        enough = [n for n, outcome in enumerate(outcomes) if least_margin(self.aims, outcome) >= 0]
        about = enough[0] if enough else len(MARGINS) - 1
        covers = [self._covered(needs[max(0, about - 1)])]
        if any(aim.cells == self.grid.count for aim in self.aims.aims):
            covers.append(self._covered({each: self.found.need[each] for each in needs[0]}))
        tried = yield from self._try([cover.plan for cover in covers if not cover.short])
        while not any(each.holds for each in tried) and about < len(MARGINS) - 1:
            about += 1
            cover = self._covered(needs[about])
            if cover.short:
                self.found.short = cover
                return
            tried = yield from self._try([cover.plan])
        while tried and all(each.holds for each in tried) and about > 1:
            about -= 1
            tried = yield from self._try([self._covered(needs[about - 1]).plan])

    def _covered(self, need: Need) -> Cover:
        return self.covering.solve(need)

    def _go_down(self, best: Tried) -> Asking:
        """Go from a plan that holds to cheaper ones next to it, as long as there are any that hold."""
        neighbourhood, experience = Neighbourhood(self.covering, self.mine), Experience()
        here: Tried | None = best
        for _ in range(MOST_STEPS):
            if here is None:
                return
            here = yield from self._step_from(here, neighbourhood, experience)

    def _step_from(
        self, here: Tried, neighbourhood: Neighbourhood, experience: Experience
    ) -> Generator[list[Trial], list[Outcome], Tried | None]:
        """Return a cheaper plan next to one that holds too; None where none of the most promising does."""
        assert here.plan is not None
        ahead = neighbourhood.of(here.plan)
        for _ in range(BATCHES):
            batch = experience.promising(ahead, here.margin)[:AT_ONCE]
            if not batch:
                return None
            ahead = [each for each in ahead if each not in batch]
            tried = yield from self._try([each.plan for each in batch])
            for neighbour in batch:
                there = self.found.tried[self.staffing_of(neighbour.plan).key]
                experience.learn(neighbour, here.margin - there.margin, there.cost - here.cost)
            better = [each for each in tried if each.holds and each.cost < here.cost - ALIKE]
            if better:
                return min(better, key=lambda each: each.cost)
        return None

    def _choose(self) -> Asking:
        """Choose among the cheapest that hold, with luck by which none of them was found."""
        holding = sorted((each for each in self.found.with_plans() if each.holds), key=lambda each: each.cost)
        finalists = [each.staffing for each in holding[:FINALISTS]]
        if finalists:
            self.found.choice = yield from choose(self.aims, finalists)


def search_of(study: StudyDocument, sizing_id: str | None) -> RosterSearch:
    """Return the search that a study asks for; StudyError names what is not there."""
    sizing = next((each for each in study.sizing if sizing_id in (None, each.id)), None)
    if sizing is None:
        known = ", ".join(each.id for each in study.sizing) or "none"
        raise StudyError([error_at("sizing", f"There is no search “{sizing_id}”.", f"Known are: {known}.")])
    return RosterSearch(study, sizing)


def hours_of_plan(plan: Plan) -> float:
    """Return the hours of a week that a plan's members are paid for."""
    return sum(hours_of_week(people) for people in plan.people.values())
