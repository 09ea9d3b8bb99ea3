"""The tables that count for several kinds of subject, each kind by itself; all are views."""

from typing import Any

import numpy as np
from numpy.typing import NDArray

from flowcore.kernel.records.kinds import MEMBER_STATES
from flowcore.kernel.records.ledger import Sections
from flowcore.kernel.records.world import Plan, World

Floats = NDArray[np.float64]


def _sections(world: World) -> Sections:
    return world.plan.sections[0]


def causes_of_steps(by_cause: NDArray[Any], plan: Plan) -> NDArray[Any]:
    """Return the rows of a table by cause that are of the document's steps, shape (steps, ACCOUNTS)."""
    return by_cause[: plan.sections[0].type_causes]


def causes_of_types(by_cause: NDArray[Any], plan: Plan) -> NDArray[Any]:
    """Return the rows of a table by cause that are of case types, shape (types, ACCOUNTS)."""
    here = plan.sections[0]
    return by_cause[here.type_causes : here.team_causes]


def causes_of_teams(by_cause: NDArray[Any], plan: Plan) -> NDArray[Any]:
    """Return the rows of a table by cause that are of teams, shape (teams, ACCOUNTS)."""
    return by_cause[plan.sections[0].team_causes :]


def series_of_lines(world: World) -> Floats:
    """Return the minutes waited at the document's steps by interval, shape (intervals, steps)."""
    return world.series[:, : _sections(world).type_series]


def series_of_states(world: World) -> Floats:
    """Return the minutes of teams' members in each state by interval, shape (intervals, teams, MEMBER_STATES)."""
    here = _sections(world)
    return world.series[:, here.team_series : here.stream_series].reshape(len(world.series), -1, MEMBER_STATES)
