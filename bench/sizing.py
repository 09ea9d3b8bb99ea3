"""What right-sizing finds, how soon, and how far that is from what a very long search finds.

`python -m bench.sizing [SECONDS]` right-sizes two demo studies, tells how the proposal fares in 200 replications with
luck of their own, sets beside it what an analyst does otherwise (Erlang's number in every interval, covered by hand and
as cheaply as can be), and then looks on for so many seconds for anything cheaper. It exits 1 where a goal is missed.
"""

import json
import random
import sys
import time
from collections.abc import Generator, Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import numpy as np

from flowcore.simulate import simulate
from flowcore.sizing.aiming.judging import least_margin
from flowcore.sizing.aiming.trials import Outcome, Staffing, Trial, run_trial
from flowcore.sizing.proposals import chosen_of
from flowcore.sizing.rosters import RosterSearch
from flowcore.sizing.search import Tried
from flowcore.sizing.staffing.need import least_by_theory
from flowcore.sizing.staffing.neighbours import Change, Neighbourhood, changed_by
from flowcore.sizing.staffing.plans import Person, Plan
from flowcore.study import StudyDocument, read_study

DEMO = Path(__file__).parent.parent / "demo"
STUDIES = ("residents-hall", "phone-line")
THREADS = 2
FRESH, REPLICATIONS = 990_017, 200
SOON, ALL = 60.0, 300.0
MOST_GAP = 0.02
HOT = 50.0


@dataclass
class Runner:
    """Runs the trials of a search in threads, and notes when a staffing that holds was first there."""

    search: RosterSearch
    began: float
    replications: int = 0
    first: float | None = None

    def drive(self, asking: Generator[list[Trial], list[Outcome], Any]) -> Any:
        """Run what is asked for to its end, and return what came of it."""
        outcomes: list[Outcome] | None = None
        with ThreadPoolExecutor(THREADS) as pool:
            while True:
                try:
                    trials = next(asking) if outcomes is None else asking.send(outcomes)
                except StopIteration as end:
                    return end.value
                outcomes = list(pool.map(lambda trial: run_trial(self.search.study, self.search.aims, trial), trials))
                self.replications += sum(len(trial.numbers) for trial in trials)
                if self.first is None and self.search.best() is not None:
                    self.first = time.perf_counter() - self.began


def fresh(study: StudyDocument, staffing: Staffing) -> list[str]:
    """Return the figures of the targets with a staffing, in replications by which nothing was chosen."""
    changed = staffing.of(study)
    run = changed.run.model_copy(update={"seed": FRESH, "replications": REPLICATIONS, "precision": None})
    results = simulate(changed.model_copy(update={"run": run}), threads=THREADS)
    told = []
    for target in study.targets:
        figure = results.figure(target.figure)
        assert figure.mean is not None
        told.append(f"{target.figure} {figure.mean:.3f} ± {figure.half_width or 0:.3f}")
    return told


def by_hand(search: RosterSearch) -> tuple[Plan, Plan]:
    """Return rosters for Erlang's number in every interval: longest shifts where most is lacking, and the cheapest."""
    need = least_by_theory(search.study, search.pools, search.aims.by_interval, margin=1.0)
    mine = {pool.teams: need[pool.teams] for pool in search.mine}
    return _longest_shifts(search, mine), search.covering.solve(mine).plan


def _longest_shifts(search: RosterSearch, need: dict[tuple[str, ...], np.ndarray]) -> Plan:
    plan = Plan({team.team.id: () for team in search.covering.teams if team.has_shifts}, {})
    for teams in sorted(need, key=len):
        while True:
            there = search.covering.coverage(plan)
            lacking = np.maximum(0.0, need[teams] - sum(there[team] for team in teams))
            found = _most_useful(search, plan, teams, lacking)
            if found is None:
                break
            team, person = found
            plan = Plan({**plan.people, team: (*plan.people[team], person)}, plan.sizes)
    return plan


def _most_useful(
    search: RosterSearch, plan: Plan, teams: Sequence[str], lacking: np.ndarray
) -> tuple[str, Person] | None:
    """Return the member of longest hours who is there most where some are lacking; None where nobody helps."""
    best: tuple[float, str, Person] | None = None
    for team in search.covering.teams:
        if team.team.id not in teams or not team.has_shifts or len(plan.people[team.team.id]) >= team.people[1]:
            continue
        longest = max(hours.length for tour in team.tours if not tour.kind for hours in tour.hours)
        for tour in team.tours:
            if not tour.kind and max(hours.length for hours in tour.hours) == longest:
                worked = zip(tour.days, tour.hours, strict=True)
                shifts = tuple(hours.with_breaks_where_least(day, lacking, search.grid) for day, hours in worked)
                person = Person(tour, shifts)
                helps = float(np.minimum(search.covering.presence(team, person), lacking).sum())
                if helps > 0.5 and (best is None or helps > best[0] + 1e-9):
                    best = helps, team.team.id, person
    return None if best is None else best[1:]


def look_on(runner: Runner, here: Tried, seconds: float) -> Tried:
    """Look for something cheaper among random neighbours, dearer ones taken too at first: simulated annealing.

    Source: Kirkpatrick, Gelatt and Vecchi, Optimization by simulated annealing, Science 220 (1983).
    """
    search, chance, best, began = runner.search, random.Random(5), here, time.perf_counter()
    neighbourhood = Neighbourhood(search.covering, search.mine, search.aims.waits_at_most)
    while (left := 1 - (time.perf_counter() - began) / seconds) > 0:
        assert here.plan is not None
        singles = list(neighbourhood.changes(here.plan))
        chosen = [_some(singles, chance) for _ in range(16)]
        plans = [changed_by(here.plan, each) for each in chosen if sum(change.saves for change in each) > -150]
        allowed = [plan for plan in plans if _keeps_numbers(search, plan)]
        tried: list[Tried] = runner.drive(search.try_plans(allowed[:8])) if allowed else []
        holding = [each for each in tried if least_margin(search.aims, each.outcome) >= 0]
        near = [each for each in holding if each.cost < here.cost + HOT * left * chance.random()]
        here = min(near, key=lambda each: each.cost, default=here)
        best = min(best, here, key=lambda each: each.cost)
    return best


def _some(singles: Sequence[Change], chance: random.Random) -> tuple[Change, ...]:
    one, other = chance.sample(list(singles), 2)
    apart = one.team != other.team or not {each.key for each in one.gone} & {each.key for each in other.gone}
    return (one, other) if apart and chance.random() < 0.5 else (one,)


def _keeps_numbers(search: RosterSearch, plan: Plan) -> bool:
    for team in search.covering.teams:
        people = plan.people.get(team.team.id, ())
        low, high = team.people
        kinds = [sum(each.tour.kind == kind.name for each in people) <= kind.people for kind in team.limits.kinds]
        if team.has_shifts and not (low <= len(people) <= high and all(kinds)):
            return False
    return True


def measure(name: str, seconds: float) -> bool:
    """Print what is found for a demo study, and say whether the goals are reached."""
    study = read_study(json.loads((DEMO / f"{name}.json").read_text()))
    began = time.perf_counter()
    search = RosterSearch(study, study.sizing[0])
    runner = Runner(search, began)
    runner.drive(search.run())
    took = time.perf_counter() - began
    chosen = chosen_of(search)
    today = search.found.today.cost if search.found.today else 0.0
    print(f"{name}: {took:.0f} s with the frontier, the first that seems to hold after {runner.first or took:.0f} s")
    print(f"  {runner.replications} replications of 4 weeks; today costs {today:,.0f}")
    if chosen is None:
        print("  nothing is known to hold")
        return False
    cost = float(chosen.outcome.costs.mean())
    print(f"  chosen: {cost:,.0f} a week; fresh: {'; '.join(fresh(study, chosen.staffing))}")
    for words, plan in zip(("by hand", "as cheaply as can be"), by_hand(search), strict=True):
        staffing = search.staffing_of(plan)
        [outcome] = runner.drive(_once(staffing))
        other = float(outcome.costs.mean())
        told = "; ".join(fresh(study, staffing))
        print(f"  Erlang by interval, covered {words}: {other:,.0f} ({other / cost - 1:+.1%}); fresh: {told}")
    found = search.found.tried[chosen.staffing.key]
    best = look_on(runner, found, seconds)
    gap = found.cost / best.cost - 1
    print(f"  the cheapest that seems to hold after {seconds:.0f} s more: {best.cost:,.0f}, a gap of {gap:.1%}")
    return gap <= MOST_GAP and (runner.first or ALL) <= SOON and took <= ALL


def _once(staffing: Staffing) -> Generator[list[Trial], list[Outcome], list[Outcome]]:
    return (yield [Trial(staffing, tuple(range(FRESH % 7, FRESH % 7 + 30)), fresh=True)])


if __name__ == "__main__":
    asked = float(sys.argv[1]) if len(sys.argv) > 1 else 300.0
    sys.exit(0 if all([measure(name, asked) for name in STUDIES]) else 1)
