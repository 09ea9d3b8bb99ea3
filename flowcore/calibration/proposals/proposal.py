"""One value that a log proposes for a study."""

from enum import StrEnum
from typing import Any

from pydantic import BaseModel

from flowcore.calibration.durations import Fitted
from flowcore.calibration.paces import PersonPace


class Proposed(StrEnum):
    """What a proposal is of."""

    TIME = "time"
    SHARES = "shares"
    ARRIVALS = "arrivals"
    MIX = "mix"
    BOOKING = "booking"
    TRAIT = "trait"
    ROSTER = "roster"


class PlaceSet(BaseModel):
    """A place of the document, as a pointer that may name elements by their ids, and what is put there."""

    at: str
    value: Any


class Proposal(BaseModel):
    """A value of the log beside the one that a study has at a place; all that is `set` is set together.

    `name` is of the part of the study, `what` says what of it the value is. Each hour of a week of arrivals is between
    `low` and `high`. A duration is `fitted`: then `factor` is by how much the times of the log are multiplied to be
    work, as members work at a pace; `people` are those who did it. `agrees` says whether the old value is one that the
    log could come from, None where that cannot be told. `method` is how the value was found, `evidence` what it rests
    on, `doubt` why it should not be trusted, "" where nothing speaks against it.
    """

    kind: Proposed
    at: str
    name: str
    what: str
    old: Any
    new: Any
    set: list[PlaceSet]
    low: list[float] = []
    high: list[float] = []
    fitted: Fitted | None = None
    people: list[PersonPace] = []
    factor: float = 1.0
    agrees: bool | None
    method: str
    evidence: str
    doubt: str = ""
