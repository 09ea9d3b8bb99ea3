"""The tables that count for several kinds of subject, each kind by itself; all are views."""

import numpy as np
from numpy.typing import NDArray

from flowcore.kernel.records.kinds import MEMBER_STATES
from flowcore.kernel.records.ledger import Sections
from flowcore.kernel.records.world import World

Floats = NDArray[np.float64]


def _sections(world: World) -> Sections:
    return world.plan.sections[0]


def causes_of_steps(minutes: Floats, world: World) -> Floats:
    """Return the rows of minutes by cause that are of the document's steps, shape (steps, ACCOUNTS)."""
    return minutes[: _sections(world).type_causes]


def causes_of_types(minutes: Floats, world: World) -> Floats:
    """Return the rows of minutes by cause that are of case types, shape (types, ACCOUNTS)."""
    here = _sections(world)
    return minutes[here.type_causes : here.team_causes]


def series_of_lines(world: World) -> Floats:
    """Return the minutes waited at the document's steps by interval, shape (intervals, steps)."""
    return world.series[:, : _sections(world).type_series]


def series_of_states(world: World) -> Floats:
    """Return the minutes of teams' members in each state by interval, shape (intervals, teams, MEMBER_STATES)."""
    here = _sections(world)
    return world.series[:, here.team_series : here.stream_series].reshape(len(world.series), -1, MEMBER_STATES)
