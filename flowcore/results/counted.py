"""What a world counts, as one row of numbers, and where in it each of them stands."""

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from flowcore.kernel.records import choices as c
from flowcore.kernel.records import kinds as k
from flowcore.kernel.records.world import Plan, World
from flowcore.results.arrays import Values, plain
from flowcore.results.sums import Places, Sums

_TALLY = ("arrived", "served", "completed", "abandoned", "turned_away", "cost", "changeover")
_FIELDS = {
    "step_tally": _TALLY,
    "type_tally": _TALLY,
    "stream_tally": _TALLY,
    "links": ("taken", "travel"),
    "deadlines": ("started", "met", "missed", "left"),
    "measured": ("among", "held", "area", "highest"),
    "levels": ("area", "overtime", "now", "highest"),
    "teams": ("uses",),
}
_GRIDS = ("cause_minutes", "value_minutes", "member_time")
_IN_OVERTIME = {
    "step_tally": "steps_in_overtime",
    "type_tally": "types_in_overtime",
    "stream_tally": "streams_in_overtime",
}
_ONE, _MINUTES, _OVERTIME, _DAYS_OPEN = range(4)


class Minutes:
    """Minutes of members by state, where they stand: shape (subjects, shifts, MEMBER_STATES)."""

    def __init__(self, places: Places) -> None:
        self._places = places

    def __getitem__(self, subjects: Sequence[int] | slice) -> "Minutes":
        return Minutes(self._places[subjects])

    def half(self, shift: int) -> "Minutes":
        """Return those in regular time (0) or in overtime (1)."""
        return Minutes(self._places[:, shift : shift + 1])

    def of(self, *states: k.MemberState) -> Sums:
        """Return the minutes in some states, or, where none is named, in all."""
        return Sums.at(self._places[:, :, list(states or k.MemberState)])

    def where(self, counts: NDArray[np.bool_]) -> Sums:
        """Return the minutes in the states that count, shape (subjects, MEMBER_STATES)."""
        minutes = self.of()
        return Sums(minutes.places, np.tile(counts, self._places.shape[1]).astype(np.float64))


class Counted:
    """Makes the row of all that worlds of a plan count, and says where in it each number stands."""

    def __init__(self, plan: Plan) -> None:
        self.plan = plan
        run, sections, members = plan.run[0], plan.sections[0], plain(plan.teams)["members"]
        self._some = np.flatnonzero(members)
        self._firsts = (np.cumsum(members) - members)[self._some]
        rows = {
            "step_tally": run.document_steps, "type_tally": run.types, "stream_tally": len(plan.streams),
            "links": len(plan.links), "deadlines": len(plan.deadlines), "measured": len(plan.measures),
            "levels": sections.levels, "teams": len(plan.teams), "cause_minutes": sections.causes,
            "value_minutes": run.types, "member_time": members.sum(),
        }  # fmt: skip
        self._many = _DAYS_OPEN + 1
        self._fields = {
            (table, field): self._room(rows[table]) for table, fields in _FIELDS.items() for field in fields
        }
        columns = {"cause_minutes": k.ACCOUNTS, "value_minutes": c.VALUE_CLASSES, "member_time": 2 * k.MEMBER_STATES}
        self._grids = {name: (self._room(rows[name] * columns[name]), columns[name]) for name in _GRIDS}
        self._teams = self._room(len(members) * 2 * k.MEMBER_STATES)
        self._inside = {"type": self._room(run.types), "stream": self._room(len(plan.streams))}
        self.one, self.minutes = self._alone(_ONE), self._alone(_MINUTES)
        self.overtime, self.days_open = self._alone(_OVERTIME), self._alone(_DAYS_OPEN)

    def of(self, table: str, field: str) -> Sums:
        """Return a field of each record of a table."""
        return self._at(self._fields[table, field])

    def rows_of(self, table: str) -> Places:
        """Return where the numbers of a table stand, shape (rows, columns)."""
        room, columns = self._grids[table]
        return np.arange(room.start, room.stop).reshape(-1, columns)

    def minutes_of_members(self) -> Minutes:
        """Return the minutes of each member."""
        return Minutes(self.rows_of("member_time").reshape(-1, 2, k.MEMBER_STATES))

    def minutes_of_teams(self) -> Minutes:
        """Return the minutes of each team's members together."""
        return Minutes(np.arange(self._teams.start, self._teams.stop).reshape(-1, 2, k.MEMBER_STATES))

    def inside(self, field: str) -> Sums:
        """Return how many cases of each type, or of each stream, are inside at the end."""
        return self._at(self._inside[field])

    def __call__(self, world: World, minutes: float, days_open: int) -> Values:
        """Return the row of a world at its end that collected for `minutes`, on so many days of opening."""
        row = np.empty(self._many)
        row[: _DAYS_OPEN + 1] = 1.0, minutes, world.clock[0].overtime_minutes, days_open
        for table, fields in _FIELDS.items():
            here = plain(getattr(world, table))
            for field in fields:
                row[self._fields[table, field]] = here[field]
        for name, (room, _) in self._grids.items():
            row[room] = getattr(world, name).ravel()
        of_teams = row[self._teams].reshape(-1, 2 * k.MEMBER_STATES)
        of_teams[:] = 0.0
        if len(self._some):
            of_teams[self._some] = np.add.reduceat(world.member_time, self._firsts, axis=0)
        row[self._fields["measured", "highest"]][row[self._fields["measured", "held"]] <= 0.0] = np.nan
        cases = plain(world.cases)
        present = cases["weight"] == 1
        for field, room in self._inside.items():
            row[room] = np.bincount(cases[field][present], minlength=room.stop - room.start)
        return row

    def halves(self, world: World, row: Values) -> tuple[Values, Values]:
        """Return what of a world's row was counted in overtime, and what in regular time.

        Of what is not told apart, as who is inside, neither says anything.
        """
        overtime, now = row.copy(), float(world.clock[0].is_overtime)
        for whole, part in _IN_OVERTIME.items():
            here = plain(getattr(world, part))
            for field in _TALLY:
                room = self._fields[whole, field]
                overtime[room] = here[field] + now * row[room]
        causes, uses = self._grids["cause_minutes"][0], self._fields["teams", "uses"]
        overtime[causes] = world.causes_in_overtime.ravel() + now * row[causes]
        overtime[uses] = plain(world.teams)["uses_in_overtime"] + now * row[uses]
        overtime[self._fields["levels", "area"]] = row[self._fields["levels", "overtime"]]
        for room in (self._grids["member_time"][0], self._teams):
            overtime[room].reshape(-1, 2, k.MEMBER_STATES)[:, 0] = 0.0
        overtime[_MINUTES] = row[_OVERTIME]
        regular = row - overtime
        regular[[_ONE, _DAYS_OPEN]] = row[[_ONE, _DAYS_OPEN]]
        return overtime, regular

    def _room(self, many: int) -> slice:
        """Return room for so many numbers more."""
        first = self._many
        self._many += int(many)
        return slice(first, self._many)

    def _at(self, room: slice) -> Sums:
        return Sums.at(np.arange(room.start, room.stop)[:, None])

    def _alone(self, place: int) -> Sums:
        return Sums.at(np.array([[place]]))
