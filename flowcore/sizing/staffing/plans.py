"""Plans: who works when, and the same as rows of rosters."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from flowcore.sizing.staffing.shifts import Shift, Tour
from flowcore.study.rosters import RosterRow


@dataclass(frozen=True)
class Person:
    """One member of a team: the tour, and the shift of each of its days with its breaks."""

    tour: Tour
    shifts: tuple[Shift, ...]

    @property
    def key(self) -> tuple[object, ...]:
        """What tells members apart that work differently; in order."""
        hours = tuple((day, each.begin, each.length) for day, each in zip(self.tour.days, self.shifts, strict=True))
        return (self.tour.kind, hours, tuple(tuple(after for after, _ in each.breaks) for each in self.shifts))


@dataclass(frozen=True)
class Plan:
    """Who works when: the members of the teams with shifts, and how many the others have."""

    people: Mapping[str, tuple[Person, ...]]
    sizes: Mapping[str, int]


def rows_of(people: Sequence[Person], fixed: Sequence[RosterRow] = ()) -> list[RosterRow]:
    """Return members as rows of a roster: who has the same hours and breaks on the same days is in one row."""
    counts: dict[Shift, list[int]] = {}
    for person in people:
        for day, shift in zip(person.tour.days, person.shifts, strict=True):
            counts.setdefault(shift, [0] * 7)[day] += 1
    rows = list(fixed)
    in_order = sorted(counts, key=lambda each: (each.begin, each.length, [after for after, _ in each.breaks]))
    for shift in in_order:
        rows += _layers(shift, counts[shift])
    return rows


def _layers(shift: Shift, counts: Sequence[int]) -> list[RosterRow]:
    """Return the rows of one shift of which there are so many on each day."""
    layers: dict[tuple[int, ...], int] = {}
    for level in range(1, max(counts) + 1):
        days = tuple(day for day, count in enumerate(counts) if count >= level)
        layers[days] = layers.get(days, 0) + 1
    return [shift.row(days, people) for days, people in layers.items()]
