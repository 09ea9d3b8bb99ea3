"""What is noted while a file is read: what it does not say, with what is assumed; what of it cannot be kept."""

from collections.abc import Mapping
from typing import Any, Literal

from pydantic import BaseModel

from flowcore.problems import StudyError, error_at
from flowcore.study.distributions.described import Measure, read_distribution

MOST_NOTES = 2000


class Count(BaseModel):
    """How many of something a file has, with the word for it."""

    what: str
    count: int

    @classmethod
    def of(cls, one: str, many: str, count: int) -> "Count":
        """Return a count with the word that goes with it."""
        return cls(what=one if count == 1 else many, count=count)


class Missing(BaseModel):
    """A value that a file does not say: of which element, what is asked, and what is taken as long as nobody says.

    `key` is by which an answer comes back.
    """

    key: str
    element: str
    name: str
    asks: str
    kind: Literal["time", "share", "count"]
    assumed: Any


class NotKept(BaseModel):
    """What of an element cannot be kept, and what is done instead."""

    element: str
    name: str
    what: str
    instead: str


class Notes:
    """Collects both kinds; with answers by key for what is missing."""

    def __init__(self, answers: Mapping[str, Any]) -> None:
        self._answers = answers
        self.missing: dict[str, Missing] = {}
        self.not_kept: list[NotKept] = []

    def ask(self, element: str, name: str, asks: str, kind: Literal["time", "share", "count"], assumed: Any) -> Any:
        """Return the answer to what an element does not say, else what is assumed."""
        key = f"{element}:{asks}"
        self.missing[key] = Missing(key=key, element=element, name=name, asks=asks, kind=kind, assumed=assumed)
        return _fitting(self._answers[key], kind, name) if key in self._answers else assumed

    def lose(self, element: str, name: str, what: str, instead: str) -> None:
        """Note what of an element cannot be kept."""
        note = NotKept(element=element, name=name, what=what, instead=instead)
        if note not in self.not_kept[-20:] and len(self.not_kept) < MOST_NOTES:
            self.not_kept.append(note)


def _fitting(answer: Any, kind: str, name: str) -> Any:
    """Return an answer of the kind that was asked for; raises StudyError otherwise."""
    if kind == "time":
        return _time(answer, name)
    is_number = isinstance(answer, int | float) and not isinstance(answer, bool)
    if kind == "share" and not (is_number and 0 <= answer <= 1):
        raise StudyError([error_at(name, f"{answer} is no share.", "Give a number from 0 to 1.")])
    if kind == "count" and not (is_number and answer == int(answer) and 1 <= answer <= 1000):
        raise StudyError([error_at(name, f"{answer} is no count.", "Give a whole number from 1 to 1,000.")])
    return int(answer) if kind == "count" else answer


def _time(answer: Any, name: str) -> Any:
    try:
        read_distribution(answer, Measure.TIME)
    except StudyError as error:
        raise StudyError([each.model_copy(update={"where": name}) for each in error.problems]) from None
    return answer
