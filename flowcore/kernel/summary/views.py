"""The tables that count for several kinds of subject, each kind by itself; all are views."""

import numpy as np
from numpy.typing import NDArray

from flowcore.kernel.records.kinds import MEMBER_STATES
from flowcore.kernel.records.ledger import Level, Sections
from flowcore.kernel.records.record import Table
from flowcore.kernel.records.world import World

Floats = NDArray[np.float64]


def _sections(world: World) -> Sections:
    return world.plan.sections[0]


def levels_of_steps(world: World, column: int) -> Table[Level]:
    """Return the levels of the document's steps, shape (steps,): LINE_LEVEL or INSIDE_LEVEL."""
    return world.levels[column : _sections(world).type_levels : 2]


def levels_of_types(world: World, column: int) -> Table[Level]:
    """Return the levels of case types, shape (types,): LINE_LEVEL or INSIDE_LEVEL."""
    here = _sections(world)
    return world.levels[here.type_levels + column : here.room_levels : 2]


def levels_of_rooms(world: World) -> Table[Level]:
    """Return the levels of shared waiting rooms, shape (rooms,)."""
    return world.levels[_sections(world).room_levels :]


def causes_of_steps(minutes: Floats, world: World) -> Floats:
    """Return the rows of minutes by cause that are of the document's steps, shape (steps, ACCOUNTS)."""
    return minutes[: _sections(world).type_causes]


def causes_of_types(minutes: Floats, world: World) -> Floats:
    """Return the rows of minutes by cause that are of case types, shape (types, ACCOUNTS)."""
    here = _sections(world)
    return minutes[here.type_causes : here.team_causes]


def causes_of_teams(minutes: Floats, world: World) -> Floats:
    """Return the rows of minutes by cause that are of teams, shape (teams, ACCOUNTS)."""
    return minutes[_sections(world).team_causes :]


def series_of_lines(world: World) -> Floats:
    """Return the minutes waited at the document's steps by interval, shape (intervals, steps)."""
    return world.series[:, : _sections(world).type_series]


def series_of_types(world: World) -> Floats:
    """Return the minutes inside of types' cases by interval, shape (intervals, types)."""
    here = _sections(world)
    return world.series[:, here.type_series : here.team_series]


def series_of_states(world: World) -> Floats:
    """Return the minutes of teams' members in each state by interval, shape (intervals, teams, MEMBER_STATES)."""
    here = _sections(world)
    return world.series[:, here.team_series : here.stream_series].reshape(len(world.series), -1, MEMBER_STATES)


def series_of_counts(world: World) -> Floats:
    """Return the arrivals by stream, and behind them all completions, by interval, shape (intervals, streams + 1)."""
    return world.series[:, _sections(world).stream_series :]
