"""What cases carry: the shares of the categories of each trait, by type where types differ; numbers as observed."""

from typing import Any

import numpy as np
from pydantic import BaseModel

from flowcore.calibration.shares import Share, differ, share_of
from flowcore.logs.visits import Places, Visits

MOST_CATEGORIES = 50
MOST_OBSERVED = 200
DIGITS = 6


class TraitFound(BaseModel):
    """A trait by its name in the log: its categories in shares, those of types where these differ, or its numbers.

    `numbers` is a distribution as the document has it, None where a value is no number.
    """

    name: str
    cases: int
    shares: list[Share]
    by_type: dict[str, list[Share]]
    numbers: Any


def traits_of(visits: Visits) -> list[TraitFound]:
    """Return what the cases of a log carry."""
    return [
        _trait(name, values, carried, visits)
        for name, values, carried in zip(visits.traits, visits.categories, visits.carried, strict=True)
        if (carried >= 0).any()
    ]


def _trait(name: str, values: list[str], carried: Places, visits: Visits) -> TraitFound:
    known = carried >= 0
    counts = np.bincount(carried[known], minlength=len(values)).tolist()
    few = len(values) <= MOST_CATEGORIES
    rows = {
        kind: np.bincount(carried[known & (visits.type == place)], minlength=len(values)).tolist()
        for place, kind in enumerate(visits.types)
        if (known & (visits.type == place)).any()
    }
    apart = few and len(rows) > 1 and differ(list(rows.values()))
    return TraitFound(
        name=name,
        cases=int(known.sum()),
        shares=_shares(values, counts) if few else [],
        by_type={kind: _shares(values, row) for kind, row in rows.items()} if apart else {},
        numbers=_numbers(values, carried[known]),
    )


def _shares(values: list[str], counts: list[int]) -> list[Share]:
    return [share_of(value, many, sum(counts)) for value, many in zip(values, counts, strict=True)]


def _numbers(values: list[str], carried: Places) -> Any:
    """Return the numbers that cases carry, evenly spread over all in order."""
    try:
        read = np.array([float(value.replace(",", ".")) for value in values])
    except ValueError:
        return None
    if not np.isfinite(read).all():
        return None
    seen = np.quantile(read[carried], np.linspace(0, 1, min(len(carried), MOST_OBSERVED)), method="nearest")
    return {"dist": "empirical", "values": [float(f"{each:.{DIGITS}g}") for each in seen]}
