"""The search for the cheapest rosters that keep their targets, stage by stage."""

from collections.abc import Generator, Sequence
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from flowcore.results.aims import Aims
from flowcore.results.week_grid import Floats, days_with_work
from flowcore.sizing.aiming.judging import least_margin, margins_of
from flowcore.sizing.aiming.trials import AS_IT_IS, Outcome, Staffing, Trial
from flowcore.sizing.search import Asking, Search, Stage, Tried
from flowcore.sizing.staffing.cover import Cover, Covering
from flowcore.sizing.staffing.experience import Experience
from flowcore.sizing.staffing.loosening import in_the_way
from flowcore.sizing.staffing.need import ANYBODY, Need, Settled, Staffed, least_by_margin, least_by_theory, settle
from flowcore.sizing.staffing.neighbours import Neighbour, Neighbourhood
from flowcore.sizing.staffing.plans import Plan, rows_of
from flowcore.sizing.staffing.pools import Pool, pools_of
from flowcore.study import StudyDocument
from flowcore.study.sizing import Sizing
from flowcore.theory.weekly import members_in_week

REPLICATIONS = 10
"""So many replications, all with the same luck, judge a staffing while one is looked for."""
FEW = 4
"""So many are enough to see about where a need holds, and which neighbours seem good."""
MARGINS = tuple((np.arange(-2, 13) / 4).tolist())
"""Roots of the offered load that are tried on top of it."""
HIGHER = 5
"""So many steps of MARGINS higher rosters are looked for that keep a tightened target."""
LOWEST_MARGIN = -1.0
MARGIN_STEP = 0.5
AT_ONCE = 16
BATCHES = 8
"""After so many times AT_ONCE neighbours of which none holds, no cheaper one is looked for."""
MOST_STEPS = 80
MOST_CUTS = 5
"""So often the programme is solved again with what the trial of its roster has shown."""
MISSES = (1.6, 1.25, 0.7, 0.4)
"""What may be missed of the first target, as parts of what it allows: the frontier is looked for at each of them."""
BATCHES_OF_FRONTIER = 2
NEARLY_HOLDS = 0.005
"""What seems to miss by less than this after a few replications is tried with all."""
ALIKE = 1e-6


class RosterSearch(Search):
    """Looks for rosters; see `run`."""

    STAGES = (
        Stage("How many it takes, interval by interval", 0.04),
        Stage("Covering that with shifts", 0.1),
        Stage("Taking people off where the targets still hold", 0.22),
        Stage("What a little more or less would buy", 0.54),
        Stage("Choosing among the cheapest", 0.1),
    )

    def __init__(self, study: StudyDocument, sizing: Sizing) -> None:
        super().__init__(study, sizing)
        self.pools = pools_of(study, self.grid)
        self.teams = [each.team for each in sizing.teams]
        load = np.sum([pool.load for pool in self.pools] or [np.zeros(self.grid.count)], axis=0)
        self._days = days_with_work(load, self.grid)
        self.covering = Covering(study, sizing.teams, self._days, self.grid)
        self.pools = [pool.within(self._hours_of(pool)) for pool in self.pools]
        self.staffed = Staffed(study, self.pools, self.teams, self.grid)
        self._experience = Experience()
        self._glanced: set[str] = set()
        self._covers: dict[bytes, Cover] = {}
        self._about = 0

    @property
    def mine(self) -> list[Pool]:
        """The pools in which a team may change."""
        return [pool for pool in self.pools if set(pool.teams) & set(self.teams)]

    def _hours_of(self, pool: Pool) -> NDArray[np.bool_]:
        """Return when somebody of a pool may be there, or is today: at other times its work waits."""
        every = self.grid.interval
        today = [members_in_week(self.study, team, every) for team in self.study.teams if team.id in pool.teams]
        mine = [team for team in self.covering.teams if team.team.id in pool.teams]
        allowed = [team.presences.max(axis=0, initial=0.0) for team in mine]
        hours: NDArray[np.bool_] = np.sum([*today, *allowed], axis=0) > 0
        return hours

    def run(self) -> Asking:
        """Ask for trials until the cheapest that holds is chosen, and the frontier known; the rest is in `found`."""
        yield from self._look_at_today()
        yield from self._settle_need()
        self.stage = 1
        yield from self._cover()
        self.stage = 2
        yield from self._go_down(self.aims, BATCHES)
        self.stage = 3
        yield from self._look_along_frontier()
        yield from self._go_down(self.aims, BATCHES)
        self.stage = 4
        yield from self._choose()

    def needed(self, need: Need) -> dict[str, Floats]:
        """Return the members of each team that a need of pools takes: what several can do is of the cheapest."""
        return self.staffed.members(need)

    def staffing_of(self, plan: Plan) -> Staffing:
        """Return the staffing of a plan."""
        fixed = {each.team.id: each.fixed for each in self.covering.teams}
        rosters = {team: rows_of(people, fixed[team]) for team, people in plan.people.items()}
        return Staffing(rosters, dict(plan.sizes), {})

    @property
    def _numbers(self) -> tuple[int, ...]:
        return tuple(range(REPLICATIONS))

    def _look_at_today(self) -> Asking:
        [outcome] = yield [Trial(AS_IT_IS, self._numbers)]
        self.found.today = None if outcome.stands_still else Tried(None, AS_IT_IS, outcome)

    def try_plans(self, plans: Sequence[Plan]) -> Generator[list[Trial], list[Outcome], list[Tried]]:
        """Try plans, of which those that are known are not run again."""
        staffings = {each.key: (plan, each) for plan in plans for each in [self.staffing_of(plan)]}
        new = {key: each for key, each in staffings.items() if key not in self.found.tried}
        if new:
            outcomes = yield [Trial(staffing, self._numbers) for _, staffing in new.values()]
            for (key, (plan, staffing)), outcome in zip(new.items(), outcomes, strict=True):
                self.found.tried[key] = Tried(plan, staffing, outcome)
        return [self.found.tried[key] for key in staffings]

    def _settle_need(self) -> Asking:
        """Find the need by theory, then by simulation where a target can be told interval by interval."""
        by_interval = self.aims.by_interval
        self.found.by_theory = least_by_theory(self.study, self.pools, by_interval, margin=1.0)
        self.found.need = self.found.by_theory
        if by_interval.aims:
            settled: Settled = yield from settle(
                self.study, self.pools, by_interval, self.staffed, self.found.by_theory, self._numbers
            )
            self.found.need, self.found.need_holds = settled.need, settled.holds

    def _cover(self) -> Asking:
        """Cover needs, from about what holds: the settled one, and the offered load with some roots of it more."""
        needs = [self._with_margins([margin] * len(self.mine)) for margin in MARGINS]
        outcomes = yield [Trial(self.staffed.staffing(need), self._numbers[:FEW]) for need in needs]
        enough = [n for n, outcome in enumerate(outcomes) if least_margin(self.aims, outcome) >= 0]
        about = max(1, enough[0] if enough else len(MARGINS) - 1)
        if any(aim.cells == self.grid.count for aim in self.aims.aims):
            yield from self._cut_where_missed()
        holds = yield from self._holds_with([needs[about - 1]])
        lower = about - 1
        while not holds and about < len(MARGINS) and self.found.short is None:
            holds = yield from self._holds_with([needs[about]])
            about += 1
        while holds and lower > 0 and lower == about - 1:
            lower, about = lower - 1, about - 1
            holds = yield from self._holds_with([needs[lower]])
        self._about = min(about, len(MARGINS) - 1)
        if self.best() is not None and self.covering.is_quick:
            yield from self._shift_margins([MARGINS[self._about]] * len(self.mine))

    def _cut_where_missed(self) -> Asking:
        """Cover the settled need, and again with one more wherever an interval misses its target, until none does.

        Source: Atlason, Epelman and Henderson, Optimizing call center staffing using simulation and analytic center
        cutting-plane methods, Management Science 54 (2008).
        """
        need = {pool.teams: self.found.need[pool.teams].copy() for pool in self.mine}
        for _ in range(MOST_CUTS):
            cover = self._covered(need)
            if cover.short:
                self._fall_short(need, cover)
                return
            [tried] = yield from self.try_plans([cover.plan])
            there = self.covering.coverage(cover.plan)
            missed = {pool.teams: self._missed_by(pool, tried) for pool in self.mine}
            if not any(each.any() for each in missed.values()):
                return
            for teams, where in missed.items():
                present = np.floor(sum((there[team] for team in teams), np.zeros(self.grid.count)) + 0.5)
                need[teams] = np.where(where, np.maximum(need[teams], present + 1), need[teams])

    def _fall_short(self, need: Need, cover: Cover) -> None:
        """Note the first need that the limits do not let be covered, and which of them stands in the way."""
        if self.found.short is None:
            self.found.short = cover
            self.found.in_the_way = in_the_way(self.study, self.sizing.teams, self._days, self.grid, need)

    def _missed_by(self, pool: Pool, tried: Tried) -> np.ndarray:
        """Return in which intervals a target that is about a pool's work, or about everything, is missed."""
        missed = np.zeros(self.grid.count, bool)
        for each in margins_of(self.aims, tried.outcome):
            subject, name, *_ = each.aim.target.figure.split("/")
            others = (subject == "step" and name not in pool.steps) or (subject == "team" and name not in pool.teams)
            if each.aim.cells == self.grid.count and not others:
                missed[each.cells] |= each.cautious < 0
        return missed & (pool.arrivals > ANYBODY)

    @cached_property
    def _neighbourhood(self) -> Neighbourhood:
        return Neighbourhood(self.covering, self.mine, self.aims.waits_at_most)

    def _covered(self, need: Need) -> Cover:
        """Return the cover of a need, the one that is known where there is one."""
        key = b"".join(members.tobytes() for members in need.values())
        if key not in self._covers:
            self._covers[key] = self.covering.solve(need)
        return self._covers[key]

    def _with_margins(self, margins: Sequence[float]) -> Need:
        return least_by_margin(self.mine, margins)

    def _shift_margins(self, margins: list[float]) -> Asking:
        """Take members from pools that can spare them, and give some to others for it, as long as that saves."""
        while self.found.short is None:
            before = self.best()
            steps = [_stepped(margins, less, more) for less in range(len(margins)) for more in range(-1, len(margins))]
            options = [each for each in steps if min(each) >= LOWEST_MARGIN and each != margins]
            plans = [self._covered(self._with_margins(each)).plan for each in options]
            yield from self.try_plans(plans)
            after = self.best()
            if before is None or after is None or after.cost >= before.cost - ALIKE:
                return
            keys = [self.staffing_of(plan).key for plan in plans]
            if after.staffing.key not in keys:
                return
            margins = options[keys.index(after.staffing.key)]

    def _holds_with(self, needs: Sequence[Need]) -> Generator[list[Trial], list[Outcome], bool]:
        """Cover needs, and say whether one of the rosters keeps the targets; what cannot be covered is `short`."""
        covers = [self._covered(need) for need in needs]
        for need, cover in zip(needs, covers, strict=True):
            if cover.short:
                self._fall_short(need, cover)
        tried = yield from self.try_plans([cover.plan for cover in covers if not cover.short])
        return any(least_margin(self.aims, each.outcome) >= 0 for each in tried)

    def _go_down(self, aims: Aims, batches: int) -> Asking:
        """Go from the cheapest plan that holds to cheaper ones next to it, as long as there are any that hold."""
        here = self.best(aims)
        for _ in range(MOST_STEPS):
            if here is None:
                return
            here = yield from self._step_from(here, aims, batches)

    def _step_from(self, here: Tried, aims: Aims, batches: int) -> Generator[list[Trial], list[Outcome], Tried | None]:
        """Return a cheaper plan next to one that holds too; None where none of the most promising does."""
        assert here.plan is not None
        margin = least_margin(aims, here.outcome)
        ahead = self._neighbourhood.of(here.plan)
        for _ in range(batches):
            ahead = self._experience.promising(ahead, margin)
            batch, ahead = ahead[:AT_ONCE], ahead[AT_ONCE:]
            tried = yield from self._try_next_to(here, batch, aims)
            better = [each for each in tried if least_margin(aims, each.outcome) >= 0 and each.cost < here.cost - ALIKE]
            if better:
                return min(better, key=lambda each: each.cost)
        return None

    def _try_next_to(
        self, here: Tried, neighbours: Sequence[Neighbour], aims: Aims
    ) -> Generator[list[Trial], list[Outcome], list[Tried]]:
        """Look at plans next to one by a few replications, and try those that seem cheaper and seem to hold."""
        known = self.found.tried
        staffings = [self.staffing_of(each.plan) for each in neighbours]
        new = [n for n, each in enumerate(staffings) if each.key not in known and each.key not in self._glanced]
        outcomes = (yield [Trial(staffings[n], self._numbers[:FEW]) for n in new]) if new else []
        few = here.outcome.first(FEW)
        margin = least_margin(aims, here.outcome)
        seem_good = []
        for n, outcome in zip(new, outcomes, strict=True):
            self._glanced.add(staffings[n].key)
            lost = least_margin(aims, few) - least_margin(aims, outcome)
            dearer = float(outcome.costs.mean() - few.costs.mean())
            self._experience.learn(neighbours[n], lost, dearer)
            if dearer < 0 and margin - lost >= -NEARLY_HOLDS:
                seem_good.append((n, outcome))
        rest = (yield [Trial(staffings[n], self._numbers[FEW:]) for n, _ in seem_good]) if seem_good else []
        for (n, first), more in zip(seem_good, rest, strict=True):
            known[staffings[n].key] = Tried(neighbours[n].plan, staffings[n], first.with_more(more))
        return [known[each.key] for each in staffings if each.key in known]

    def _look_along_frontier(self) -> Asking:
        """Look for the cheapest with the first target tightened and loosened."""
        for part in MISSES if self.aims.aims else ():
            aims = self.aims.with_misses(part)
            for higher in range(self._about + 1, min(self._about + HIGHER, len(MARGINS))):
                if self.best(aims) is None:
                    yield from self._holds_with([self._with_margins([MARGINS[higher]] * len(self.mine))])
            yield from self._go_down(aims, BATCHES_OF_FRONTIER)


def _stepped(margins: list[float], less: int, more: int) -> list[float]:
    """Return margins with one a step lower, and another, where there is one, a step higher."""
    stepped = list(margins)
    stepped[less] -= MARGIN_STEP
    if more >= 0 and more != less:
        stepped[more] += MARGIN_STEP
    return stepped
