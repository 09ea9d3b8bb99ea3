"""Counts, levels over time, and where the minutes go."""

from typing import Any

import numpy as np
from numpy.typing import NDArray

from flowcore.kernel.records import choices as c
from flowcore.kernel.records import kinds as k
from flowcore.kernel.records.ledger import EXACT_BINS, INSIDE_LEVEL, LEAST_OF_WIDE_BINS, LINE_LEVEL, Tally
from flowcore.kernel.records.record import Table
from flowcore.kernel.records.world import Plan, World
from flowcore.kernel.summary.views import (
    causes_of_steps,
    causes_of_teams,
    causes_of_types,
    levels_of_rooms,
    levels_of_steps,
    levels_of_types,
)
from flowcore.results.arrays import Values, columns_of, plain, ratio, ratios
from flowcore.results.catalogue import ANY_CAUSE, OF_ARRIVED
from flowcore.results.samples import INSTANT
from flowcore.study import StudyDocument
from flowcore.study.graph import links_of
from flowcore.study.steps import Exit, Gather, Serve, Signal, Step

CAUSES = {
    "busy": k.Account.BUSY,
    "break": k.Account.BREAK,
    "absent": k.Account.ABSENCE,
    "off-shift": k.Account.OFF_SHIFT,
    "interrupted": k.Account.INTERRUPTION,
    "place": k.Account.PLACE,
    "closed": k.Account.CLOSED,
    "next-line": k.Account.NEXT_LINE,
    "signal": k.Account.SIGNAL,
    "batch": k.Account.BATCH,
    "branches": k.Account.BRANCHES,
    "minimum": k.Account.MINIMUM,
    "person": k.Account.PERSON,
}


_LEFT = ("completed", "completed", "abandoned", "turned_away")
_LEFT_QUANTITIES = ("completed", "served", "abandoned", "turned-away")


class Outcomes:
    """How many cases left by each exit; `arrived` are all of them, `served` those who completed."""

    def __init__(self, study: StudyDocument) -> None:
        self._exits = [number for number, step in enumerate(study.steps) if isinstance(step, Exit)]
        self.addresses = [
            f"outcome/{study.steps[number].id}/{quantity}"
            for number in self._exits
            for quantity in (*_LEFT_QUANTITIES, "inside", "arrived")
        ]

    def __call__(self, world: World) -> Values:
        """Return the figures of a replication at its end."""
        *left, arrived = columns_of(world.step_tally, *_LEFT, "arrived")[:, self._exits]
        return np.stack([*left, np.zeros(len(self._exits)), arrived], axis=1).ravel()


class Tallies:
    """How many cases came to steps, were served there or not, and how they left."""

    def __init__(self, study: StudyDocument) -> None:
        steps = len(study.steps)
        counted = [
            (column * steps + number, f"step/{step.id}/{_OF_STEPS[column]}")
            for number, step in enumerate(study.steps)
            for column in _counted_at(step)
        ]
        self._steps = np.array([place for place, _ in counted], np.int64)
        self._types = [case_type.id for case_type in study.case_types]
        self._streams = [stream.id for stream in study.streams]
        each = (*_LEFT_QUANTITIES, "arrived", "inside")
        of_all = ("arrived", "completed", "abandoned", "turned-away", "served", "inside")
        self.addresses = [address for _, address in counted]
        for subject, ids in (("type", self._types), ("stream", self._streams)):
            self.addresses += [f"{subject}/{name}/{quantity}" for name in ids for quantity in each]
            self.addresses += [f"{subject}/all/{quantity}" for quantity in of_all]

    def __call__(self, world: World) -> Values:
        """Return the figures of a replication at its end."""
        steps = columns_of(world.step_tally, "arrived", "served", "abandoned", "turned_away").ravel()[self._steps]
        cases = plain(world.cases)
        present = cases["weight"] == 1
        types = _of_subjects(world.type_tally, cases["type"][present], len(self._types))
        streams = _of_subjects(world.stream_tally, cases["stream"][present], len(self._streams))
        return np.concatenate([steps, *types, *streams])


_OF_STEPS = ("arrived", "served", "abandoned", "turned-away")


def _counted_at(step: Step) -> list[int]:
    """Return which of _OF_STEPS are told of a step."""
    served = [] if isinstance(step, Exit) else [1]
    abandoned = [2] if isinstance(step, Serve | Signal | Gather) else []
    return [0, *served, *abandoned, *([3] if isinstance(step, Serve) else [])]


def _of_subjects(rows: Table[Tally], present: NDArray[np.int64], named: int) -> tuple[Values, Values]:
    """Return how many of each subject left, came and are inside, of those with a name, and of all."""
    completed, abandoned, turned_away, arrived = columns_of(rows, "completed", "abandoned", "turned_away", "arrived")
    inside = np.bincount(present, minlength=len(rows)).astype(np.float64)
    each = np.stack([completed, completed, abandoned, turned_away, arrived, inside], axis=1)[:named].ravel()
    of_all = (arrived, completed, abandoned, turned_away, completed, inside)
    return each, np.array([column.sum() for column in of_all])


class Counts:
    """The tallies, which ways were taken how often, and how deadlines were kept."""

    def __init__(self, study: StudyDocument, plan: Plan) -> None:
        self._tallies = Tallies(study)
        counted = self._tallies.addresses
        lost = [address for address in counted if address.endswith(("/abandoned", "/turned-away"))]
        self._lost = [counted.index(address) for address in lost]
        self._arrived = [counted.index(f"{address.rpartition('/')[0]}/arrived") for address in lost]
        ways = [
            (planned.first_link + number, f"link/{step.id}:{link.to}")
            for planned in plan.steps
            if not planned.travel_kind
            for step in [study.steps[planned.document]]
            for number, link in enumerate(links_of(step))
        ]
        named = list(dict.fromkeys(address for _, address in ways))
        self._links = np.array([link for link, _ in ways], np.int64)
        self._ways = np.array([named.index(address) for _, address in ways], np.int64)
        self.addresses = [*counted, *(f"{address}/{OF_ARRIVED}" for address in lost)]
        self.addresses += [f"{address}/{quantity}" for address in named for quantity in ("arrived", "travel/mean")]
        self.addresses += [f"deadline/{each.id}/{quantity}" for each in study.deadlines for quantity in _OF_DEADLINES]

    def __call__(self, world: World) -> Values:
        """Return the figures of a replication at its end."""
        counted = self._tallies(world)
        shares = ratios(counted[self._lost], counted[self._arrived])
        links = columns_of(world.links, "taken", "travel")[:, self._links]
        taken, travel = (np.bincount(self._ways, each).astype(np.float64) for each in links)
        ways = np.stack([taken, ratios(travel, taken)], axis=1).ravel()
        return np.concatenate([counted, shares, ways, columns_of(world.deadlines, *_OF_DEADLINES).T.ravel()])


_OF_DEADLINES = ("started", "met", "missed", "left")


class Levels:
    """Means, maxima and ends of lines and of cases inside, in regular time and overtime too."""

    def __init__(self, study: StudyDocument) -> None:
        self._splits = study.has_shifts
        types = [case_type.id for case_type in study.case_types]
        self._kinds = [
            (levels_of, column, [number for number, each in enumerate(ids) if each])
            for levels_of, ids in ((levels_of_steps, timed_steps(study)), (levels_of_types, types))
            for column in (LINE_LEVEL, INSIDE_LEVEL)
        ]
        of_each = ("/mean", "/max", "/end", *((":regular/mean", ":overtime/mean") if self._splits else ()))
        self.addresses = []
        for subject, ids in (("step", timed_steps(study)), ("type", types)):
            for quantity in ("line", "inside"):
                self.addresses += [f"{subject}/all/{quantity}/mean", f"{subject}/all/{quantity}/end"]
                self.addresses += [f"{subject}/{each}/{quantity}{rest}" for each in ids if each for rest in of_each]
        self.addresses += [f"line/{name}/inside{rest}" for name in shared_rooms(study) for rest in of_each[:3]]

    def __call__(self, world: World, minutes: float) -> Values:
        """Return the figures of a replication at its end that collected for `minutes`."""
        found: list[Values] = []
        for levels_of, column, numbers in self._kinds:
            here = plain(levels_of(world, column))
            found.append(np.array([ratio(float(here["area"].sum()), minutes), float(here["now"].sum())]))
            found.append(self._each(here[numbers], world, minutes, self._splits))
        return np.concatenate([*found, self._each(plain(levels_of_rooms(world)), world, minutes, False)])

    def _each(self, here: Any, world: World, minutes: float, splits: bool) -> Values:
        told = [ratios(here["area"], minutes), here["highest"], here["now"]]
        if splits:
            overtime = float(world.clock[0].overtime_minutes)
            told += [ratios(here["area"] - here["overtime"], minutes - overtime), ratios(here["overtime"], overtime)]
        return np.stack(told, axis=1).astype(np.float64).ravel()


VALUES = {"adds": c.ValueClass.ADDS, "necessary": c.ValueClass.NECESSARY, "waste": c.ValueClass.WASTE}


class ValueShares:
    """The minutes per case that add value, are necessary or are waste, and their shares of the time inside.

    Work counts by the value of its step; waiting and being blocked are waste; the way from step to step and
    work at steps without a value count as none of them.
    """

    def __init__(self, study: StudyDocument) -> None:
        self._types = len(study.case_types)
        self.addresses = [
            f"type/{subject}/value:{name}/{statistic}"
            for subject in ("all", *(kind.id for kind in study.case_types))
            for name in VALUES
            for statistic in ("mean", "share")
        ]

    def __call__(self, world: World) -> Values:
        """Return the figures of a replication at its end."""
        causes = causes_of_types(world.cause_minutes, world)
        worked = world.value_minutes.copy()
        worked[:, c.ValueClass.WASTE] += causes[:, k.FIRST_CAUSE :].sum(axis=1)
        left = _all_who_left(world.type_tally)
        totals = np.array([causes.sum(), *causes.sum(axis=1)[: self._types]])
        cases = np.array([left.sum(), *left[: self._types]])
        minutes = np.vstack([worked.sum(axis=0), worked[: self._types]])[:, list(VALUES.values())]
        return np.stack([ratios(minutes, cases[:, None]), ratios(minutes, totals[:, None])], axis=2).ravel()


def _all_who_left(rows: Table[Tally]) -> Values:
    """Return how many of each subject left, however they did."""
    completed, abandoned, turned_away = columns_of(rows, "completed", "abandoned", "turned_away")
    left: Values = completed + abandoned + turned_away
    return left


def level_shares(study: StudyDocument, world: World) -> dict[str, Values]:
    """Return for how large a share of the time each line, and the cases inside, were how many; see `least_of_bins`."""
    subjects = [f"step/{each}" if each else "" for each in timed_steps(study)]
    subjects += [f"type/{kind.id}" for kind in study.case_types]
    rows = [
        2 * number + column for number, each in enumerate(subjects) if each for column in (LINE_LEVEL, INSIDE_LEVEL)
    ]
    minutes = world.level_minutes[rows]
    shares = ratios(minutes, minutes.sum(axis=1)[:, None])
    names = (f"{each}/{quantity}" for each in subjects if each for quantity in ("line", "inside"))
    return dict(zip(names, shares, strict=True))


def least_of_bins() -> list[int]:
    """Return the least number that falls into each bin of a level's shares: each one singly, then ever wider."""
    return [*range(EXACT_BINS), *LEAST_OF_WIDE_BINS]


def shared_rooms(study: StudyDocument) -> list[str]:
    """Return the names of shared waiting rooms, in the order of the plan."""
    named = [step.line.shared for step in study.steps if isinstance(step, Serve) and step.line.shared]
    return list(dict.fromkeys(named))


def timed_steps(study: StudyDocument) -> list[str]:
    """Return the ids of steps, "" for those that take no time."""
    return ["" if step.kind in INSTANT else step.id for step in study.steps]


class Causes:
    """The minutes per case by cause of waiting: of a step's visits, of a type's cases, of all for a team.

    Those who gave up or were turned away count too, as far as they waited.
    """

    def __init__(self, study: StudyDocument) -> None:
        self._steps = [number for number, each in enumerate(timed_steps(study)) if each]
        self._types, self._teams = len(study.case_types), len(study.teams)
        subjects = [f"step/{study.steps[number].id}" for number in self._steps]
        subjects += [f"type/{kind.id}" for kind in study.case_types] + ["type/all"]
        subjects += [f"team/{team.id}" for team in study.teams]
        self.addresses = [f"{subject}/cause:{name}/mean" for subject in subjects for name in (*CAUSES, ANY_CAUSE)]

    def __call__(self, world: World) -> Values:
        """Return the figures of a replication at its end."""
        minutes, left = world.cause_minutes, _all_who_left(world.type_tally)
        served, abandoned, turned_away = columns_of(world.step_tally, "served", "abandoned", "turned_away")
        gone = (served + abandoned + turned_away)[self._steps]
        of_types = causes_of_types(minutes, world)
        of_teams = causes_of_teams(minutes, world)[: self._teams]
        everyone = of_types.sum(axis=0, keepdims=True)
        rows = [causes_of_steps(minutes, world)[self._steps], of_types[: self._types], everyone, of_teams]
        cases = [gone, left[: self._types], np.full(1 + len(of_teams), left.sum())]
        by_cause = np.vstack(rows)[:, list(CAUSES.values())]
        all_causes = np.cumsum(by_cause, axis=1)[:, -1:]
        return ratios(np.hstack([by_cause, all_causes]), np.concatenate(cases)[:, None]).ravel()
