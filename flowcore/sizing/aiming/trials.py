"""A staffing tried out: the study with it, run so often with the same luck as any other."""

import json
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any

import numpy as np

from flowcore.kernel.records.world import World
from flowcore.problems import StudyError
from flowcore.results.aims import DAYS_A_WEEK, Aim, Aims
from flowcore.results.arrays import plain
from flowcore.results.catalogue import MEASURES
from flowcore.results.statistics import PERCENTILE_NAMES, Estimate
from flowcore.results.surveys import minute_of_week
from flowcore.results.week_grid import Floats
from flowcore.simulate import Replicator, never, require_sound, simulate
from flowcore.study import StudyDocument
from flowcore.study.durations import in_unit, plain_number
from flowcore.study.rosters import RosterRow
from flowcore.study.runs import Scenario
from flowcore.study.scenarios import apply_scenario
from flowcore.study.teams import Closing, Team

COST = "cost/total/per:day"
TRIED = "tried"
DIGITS = 6
FRESH_LUCK = 1_000_003
"""What is added to the seed for runs by which nothing was chosen before."""


@dataclass(frozen=True, eq=False)
class Staffing:
    """What a study is changed to: the roster or the number of some teams, or levers.

    `leaves_on_time` is for needs: who is there for an interval does not stay to finish the line.
    """

    rosters: Mapping[str, Sequence[RosterRow]]
    sizes: Mapping[str, int]
    levers: Mapping[str, Any]
    leaves_on_time: bool = False

    @cached_property
    def key(self) -> str:
        """The same text for the same staffing."""
        rows = {team: [_written(row) for row in rows] for team, rows in self.rosters.items()}
        told = {"rosters": rows, "sizes": dict(self.sizes), "levers": dict(self.levers), "on_time": self.leaves_on_time}
        return json.dumps(told, sort_keys=True)

    @classmethod
    def of_key(cls, key: str) -> "Staffing":
        """Return the staffing that has this key."""
        told = json.loads(key)
        rosters = {team: [RosterRow.model_validate(row) for row in rows] for team, rows in told["rosters"].items()}
        return cls(rosters, told["sizes"], told["levers"], told["on_time"])

    def __eq__(self, other: object) -> bool:
        return isinstance(other, Staffing) and self.key == other.key

    def __hash__(self) -> int:
        return hash(self.key)

    def of(self, study: StudyDocument) -> StudyDocument:
        """Return the study as it is with this staffing."""
        if self.levers:
            moved = Scenario(id=TRIED, name=TRIED, levers=dict(self.levers))
            return apply_scenario(study.model_copy(update={"scenarios": [moved]}), TRIED)
        return study.model_copy(update={"teams": [self._changed(team) for team in study.teams]})

    def _changed(self, team: Team) -> Team:
        if team.id in self.sizes:
            return team.model_copy(update={"size": self.sizes[team.id], "roster": []})
        if team.id not in self.rosters:
            return team
        rows = list(self.rosters[team.id])
        update: dict[str, Any] = {"roster": rows, "size": None if rows else 0}
        if self.leaves_on_time:
            update["closing"] = Closing()
        return team.model_copy(update=update)


AS_IT_IS = Staffing({}, {}, {})
"""The study without any change."""


def _written(row: RosterRow) -> dict[str, Any]:
    return row.model_dump(mode="json", exclude_defaults=True)


@dataclass(frozen=True)
class Trial:
    """Replications of a staffing, by their numbers; with luck by which nothing was chosen where it is `fresh`.

    One that `looks` is told interval by interval, whatever the targets are of; one that `shows` tells figures, and
    nothing of how the targets are kept.
    """

    staffing: Staffing
    numbers: tuple[int, ...]
    fresh: bool = False
    looks: bool = False
    shows: bool = False


@dataclass(frozen=True)
class Outcome:
    """What the replications of a trial say, one row each.

    `costs` of a week, shape (replications,); `cells` are part and whole of every aim, shape (replications, 2, cells).
    Where the trial `looks`, `waited` are the minutes that those waited who came to a step in an interval of the week,
    over all replications, shape (steps, intervals). With a staffing that `stands_still` a replication could not go on.
    Where the trial `shows`, there are `figures` by address, those of the targets and those that every comparison shows,
    and neither costs nor cells.
    """

    costs: Floats
    cells: Floats
    waited: Floats | None = None
    stands_still: bool = False
    figures: Mapping[str, Estimate] = field(default_factory=dict)

    @property
    def count(self) -> int:
        """How many replications it has."""
        return len(self.costs)

    def first(self, count: int) -> "Outcome":
        """Return what the first so many replications say."""
        return Outcome(self.costs[:count], self.cells[:count], stands_still=self.stands_still)

    def with_more(self, other: "Outcome") -> "Outcome":
        """Return both together."""
        costs, cells = (np.concatenate(both) for both in ((self.costs, other.costs), (self.cells, other.cells)))
        return Outcome(costs, cells, stands_still=self.stands_still or other.stands_still)


def run_trial(study: StudyDocument, aims: Aims, trial: Trial, should_stop: Callable[[], bool] = never) -> Outcome:
    """Run a trial; one with which a replication cannot go on is known not to keep any target. Raises Stopped."""
    try:
        return _shown(study, aims, trial, should_stop) if trial.shows else _run(study, aims, trial, should_stop)
    except StudyError:
        asked = aims.by_interval if trial.looks else aims
        many = len(trial.numbers)
        waited = np.zeros((len(study.steps), aims.grid.count)) if trial.looks else None
        return Outcome(np.zeros(many), np.zeros((many, 2, asked.cells)), waited, stands_still=True)


def _with(study: StudyDocument, trial: Trial) -> StudyDocument:
    """Return the study as a trial runs it."""
    changed = trial.staffing.of(study)
    seed = study.run.seed + FRESH_LUCK if trial.fresh else study.run.seed
    run = changed.run.model_copy(update={"seed": seed % 2**63, "precision": None})
    return changed.model_copy(update={"run": run})


def _shown(study: StudyDocument, aims: Aims, trial: Trial, should_stop: Callable[[], bool]) -> Outcome:
    results = simulate(_with(study, trial), numbers=trial.numbers, should_stop=should_stop)
    asked = dict.fromkeys([*shown_figures(aims), *MEASURES])
    figures = {address: results.figure(address) for address in asked if results.has(address)}
    return Outcome(np.zeros(0), np.zeros((0, 2, 0)), figures=figures)


def shown_figures(aims: Aims) -> list[str]:
    """Return the figures of the targets, and with a percentile that has a limit the share that is within that."""
    return list(dict.fromkeys(figure for aim in aims.aims for figure in (aim.target.figure, ratio_of(aim))))


def ratio_of(aim: Aim) -> str:
    """Return the figure that an aim is the ratio of: with a percentile the share within its limit, else its own."""
    quantity, _, statistic = aim.target.figure.rpartition("/")
    limit = aim.target.at_most if aim.sign > 0 else aim.target.at_least
    if statistic not in PERCENTILE_NAMES or limit is None:
        return aim.target.figure
    return f"{quantity}/within:{in_unit(plain_number(limit), 'min', DIGITS).replace(' ', '')}"


def _run(study: StudyDocument, aims: Aims, trial: Trial, should_stop: Callable[[], bool]) -> Outcome:
    changed = _with(study, trial)
    if not all(trial.staffing.rosters.values()) or 0 in trial.staffing.sizes.values():
        require_sound(changed)
    replicator = Replicator(changed, should_stop)
    asked = aims.by_interval if trial.looks else aims
    wanted = replicator.telling([COST, *asked.addresses])
    costs, cells = [], []
    waited = np.zeros((len(study.steps), aims.grid.count)) if trial.looks else None
    for number in trial.numbers:
        world = replicator.world_of(number)
        cost, *figures = wanted(world, *replicator.counted(world)).tolist()
        costs.append(cost * DAYS_A_WEEK)
        cells.append(asked.tell(world, figures))
        if waited is not None:
            waited += _waited(changed, aims, world)
    return Outcome(np.array(costs), np.array(cells), waited)


def _waited(study: StudyDocument, aims: Aims, world: World) -> Floats:
    """Return the minutes waited by step and by the interval of the week in which the wait began."""
    visits = plain(world.visits[: world.clock[0].visits])
    places = visits["step"] * aims.grid.count + aims.grid.place(visits["joined_at"] + minute_of_week(study))
    found = np.bincount(places, visits["wait"], len(study.steps) * aims.grid.count).astype(np.float64)
    return found.reshape(len(study.steps), -1)
