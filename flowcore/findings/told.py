"""A sentence of a run's findings: what kind it is, and how much it matters."""

from enum import IntEnum, StrEnum

from pydantic import BaseModel

from flowcore.findings.words import Sentence, as_text


class Kind(StrEnum):
    """What a sentence is about."""

    DOUBT = "doubt"
    TARGET = "target"
    LOST = "lost"
    WAIT = "wait"
    WORST = "worst"
    WHY = "why"
    PEOPLE = "people"
    COST = "cost"


class Weight(IntEnum):
    """How much a sentence matters: those that matter more come first, and of many the others are left out."""

    ASIDE = 0
    KEPT = 1
    COST = 2
    PEOPLE = 3
    WHEN = 4
    WHY = 5
    UNCERTAIN = 6
    WAIT = 7
    LOST = 8
    MISSED = 9
    WORTHLESS = 10


class Told(BaseModel):
    """A sentence about a run. `is_wrong` is what should not be: a target missed, more work than can be done.

    `mend` says what would help against a doubt.
    """

    kind: Kind
    weight: Weight
    sentence: Sentence
    is_wrong: bool = False
    mend: str = ""

    def __str__(self) -> str:
        return as_text(self.sentence)
