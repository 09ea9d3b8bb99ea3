"""Arrivals as they were: when each case came, of which type and where, for a stream that brings them on these dates."""

from datetime import timedelta

import numpy as np
from pydantic import BaseModel

from flowcore.logs.looks import EPOCH
from flowcore.logs.visits import Visits

MOST_DATES = 20_000


class Dates(BaseModel):
    """When cases came that were not booked, in order, each with its type (None without one) and its first step."""

    at: list[str]
    type: list[str | None]
    step: list[str]


def dates_of(visits: Visits) -> Dates | None:
    """Return the arrivals of a log; None where there are too many to stand in a document."""
    first = visits.is_first_of_case
    case, step = visits.case[first], visits.step[first]
    came = np.isnan(visits.planned[case]) & ~np.isnan(visits.arrived[case])
    case, step = case[came], step[came]
    if len(case) > MOST_DATES:
        return None
    order = np.argsort(visits.arrived[case], kind="stable")
    types = [visits.types[each] if each >= 0 else None for each in visits.type[case[order]].tolist()]
    moments = [EPOCH + timedelta(seconds=round(60 * each)) for each in visits.arrived[case[order]].tolist()]
    return Dates(
        at=[each.isoformat(timespec="seconds") for each in moments],
        type=types,
        step=[visits.steps[each] for each in step[order].tolist()],
    )
