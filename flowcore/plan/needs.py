"""What steps ask for: needs, and the pools of lines that ask for exactly the same."""

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from itertools import combinations, product

from flowcore.kernel.records import choices as c
from flowcore.kernel.records import kinds as k
from flowcore.kernel.records import plan as p
from flowcore.kernel.records.record import row
from flowcore.plan.layout import Layout, PlannedStep
from flowcore.plan.store import Store
from flowcore.study import StudyDocument
from flowcore.study.needs import all_needs, teams_of
from flowcore.study.steps import Delay, Need, Serve

MOST_NEEDS_COMBINED = 10
_OVERTIME = {"yes": c.WhenDone.ALWAYS, "no": c.WhenDone.NOT_IN_OVERTIME, "only": c.WhenDone.ONLY_IN_OVERTIME}


@dataclass(frozen=True)
class Asked:
    """A need with its teams as numbers, the preferred first."""

    count: int
    teams: tuple[int, ...]
    slot: int = k.NONE
    same_as: int = k.NONE
    keep_until: int = k.NONE


@dataclass(frozen=True)
class _PoolKey:
    needs: tuple[Asked, ...]
    reserve: bool
    preempts: bool
    overtime: int
    never: bool
    calendar: str | None


@dataclass
class NeedCompiler:
    """Turns needs into records and finds the pools."""

    study: StudyDocument
    layout: Layout
    store: Store
    teams: dict[str, int]
    rooms: dict[str, int]
    slots: dict[str, int]
    rows: list[tuple[object, ...]] = field(default_factory=list)
    pools: list[tuple[object, ...]] = field(default_factory=list)
    conditions: list[tuple[object, ...]] = field(default_factory=list)
    calendars: list[str | None] = field(default_factory=list)
    _numbers: dict[_PoolKey, int] = field(default_factory=dict)
    _incidences: int = 0

    def __post_init__(self) -> None:
        documents = {step.id: number for number, step in enumerate(self.study.steps)}
        self._documents = documents
        self._keeping = [need for need in all_needs(self.study) if need.keep_until is not None]

    def asked_by(self, planned: PlannedStep) -> list[Asked]:
        """Return what a step of the plan asks for, room at its place last."""
        asked = [self._asked(need, planned) for need in planned.needs]
        if planned.place in self.rooms and planned.escort is None and isinstance(planned.step, Serve | Delay):
            asked.append(Asked(1, (self.rooms[planned.place],)))
        return asked

    def _asked(self, need: Need, planned: PlannedStep) -> Asked:
        keep_until = self._documents[need.keep_until] if need.keep_until else k.NONE
        return Asked(
            need.count,
            tuple(self.teams[team] for team in teams_of(need, self.study)),
            self.slots.get(need.as_ or "", k.NONE),
            self.slots[need.same_as] if need.same_as else k.NONE,
            k.NONE if keep_until == planned.document and planned.escort is None else keep_until,
        )

    def coverable(self, planned: PlannedStep) -> int:
        """Return, as bits, the needs that a case's own people may meet."""
        bits = 0
        for number, need in enumerate(planned.needs):
            bits |= (1 << number) if self._most_covered(need) else 0
        return bits

    def _most_covered(self, need: Need) -> int:
        """Return how many of a need the case's own people may meet: one who is asked for, and all that it has kept."""
        able = set(teams_of(need, self.study))
        kept = sum(each.count for each in self._keeping if able & set(teams_of(each, self.study)))
        return min(need.count, kept + (need.same_as is not None))

    def _most_of_all(self, planned: PlannedStep, asked: Sequence[Asked]) -> list[int]:
        """Return how many of each need the case's own people may meet; none of the room at a place, which is last."""
        covered = [self._most_covered(need) for need in planned.needs]
        return covered + [0] * (len(asked) - len(covered))

    def put_needs(self, planned: PlannedStep, asked: Sequence[Asked]) -> int:
        """Enter a step's needs and return where they begin."""
        first = len(self.rows)
        for each, most in zip(asked, self._most_of_all(planned, asked), strict=True):
            self._put(each, most)
        return first

    def _put(self, each: Asked, most_covered: int) -> int:
        self.rows.append(
            row(
                p.Need,
                count=each.count,
                first_team=self.store.put(each.teams),
                teams=len(each.teams),
                slot=each.slot,
                same_as=each.same_as,
                keep_until=each.keep_until,
                most_covered=most_covered,
            )
        )
        return len(self.rows) - 1

    def pools_of(self, planned: PlannedStep, asked: Sequence[Asked], first: int) -> list[int]:
        """Return a step's pools, one for each way in which the case's own people may meet its needs.

        How many of the first need they meet changes fastest.
        """
        ranges = [range(most + 1) for most in reversed(self._most_of_all(planned, asked))]
        return [self._pool(planned, asked, tuple(reversed(covered)), first) for covered in product(*ranges)]

    def _pool(self, planned: PlannedStep, asked: Sequence[Asked], covered: tuple[int, ...], first: int) -> int:
        step = planned.step
        activity = step if isinstance(step, Serve | Delay) and planned.escort is None else None
        serve = activity if isinstance(activity, Serve) else None
        lacking = [
            (first + number, replace(each, count=each.count - met))
            for number, (each, met) in enumerate(zip(asked, covered, strict=True))
            if each.count > met
        ]
        key = _PoolKey(
            needs=tuple(need for _, need in lacking),
            reserve=serve is not None and serve.reserve,
            preempts=serve is not None and serve.preempts,
            overtime=c.WhenDone.ALWAYS if activity is None else _OVERTIME[activity.overtime],
            never=activity is not None and activity.overtime == "only" and self._has_no_shifts(asked),
            calendar=None if activity is None else activity.open,
        )
        if not asked and key.calendar is None and (serve is None or serve.line.min_wait is None):
            return k.NONE
        if key not in self._numbers:
            self._numbers[key] = len(self.pools)
            whole = {first + number: each for number, each in enumerate(asked)}
            self._add_pool(key, [n if whole[n] == need else self._put(need, 0) for n, need in lacking])
        return self._numbers[key]

    def _has_no_shifts(self, asked: Sequence[Asked]) -> bool:
        """Say whether teams are asked of which none has shifts, which may end in overtime."""
        teams = [number for each in asked for number in each.teams if number < len(self.study.teams)]
        return bool(asked) and not any(self.study.teams[number].roster for number in teams)

    def _add_pool(self, key: _PoolKey, needs: list[int]) -> None:
        teams = list(dict.fromkeys(team for need in key.needs for team in need.teams))
        conditions = conditions_of(key.needs)
        first_condition = len(self.conditions)
        for count, mask, last, among in conditions:
            first_team = self.store.put(among)
            self.conditions.append(
                row(p.Condition, count=count, mask=mask, last=needs[last], first_team=first_team, teams=len(among))
            )
        mixed = len(key.needs) > 1 and any(len(need.teams) > 1 for need in key.needs)
        self.pools.append(
            row(
                p.Pool,
                first_need=self.store.put(needs),
                needs=len(needs),
                first_condition=first_condition,
                conditions=len(conditions),
                first_incidence=self._incidences,
                incidences=len(teams),
                first_team=self.store.put(teams),
                mixed=mixed,
                reserve=key.reserve,
                preempts=key.preempts,
                overtime=key.overtime,
                never=key.never,
                only_team=teams[0] if len(key.needs) == len(teams) == 1 else k.NONE,
                only_count=key.needs[0].count if key.needs else 0,
            )
        )
        self._incidences += len(teams)
        self.calendars.append(key.calendar)


def conditions_of(needs: Sequence[Asked]) -> list[tuple[int, int, int, tuple[int, ...]]]:
    """Return so many members among these teams, for these needs (bits) up to the last of them, that are enough.

    Needs can all be met exactly where every set of them finds as many members as it asks for; sets
    that share no team need not be looked at together. Those for the first needs come first.
    """
    found: dict[tuple[int, tuple[int, ...]], tuple[int, int]] = {}
    most = len(needs) if len(needs) <= MOST_NEEDS_COMBINED else 1
    for size in range(1, most + 1):
        for chosen in combinations(range(len(needs)), size):
            if not _hang_together([set(needs[number].teams) for number in chosen]):
                continue
            teams = tuple(sorted({team for number in chosen for team in needs[number].teams}))
            count = sum(needs[number].count for number in chosen)
            mask = sum(1 << number for number in chosen)
            if count > found.get((chosen[-1], teams), (0, 0))[0]:
                found[chosen[-1], teams] = (count, mask)
    return [(count, mask, last, teams) for (last, teams), (count, mask) in sorted(found.items())]


def _hang_together(sets: list[set[int]]) -> bool:
    reached, rest = sets[0], sets[1:]
    while rest:
        touching = [each for each in rest if each & reached]
        if not touching:
            return False
        reached = reached.union(*touching)
        rest = [each for each in rest if not each & reached]
    return True
