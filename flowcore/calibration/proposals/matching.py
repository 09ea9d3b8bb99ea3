"""Which names of a log stand for which steps and case types of a study."""

import re
from collections.abc import Iterable, Mapping, Sequence
from typing import Protocol

from flowcore.calibration.found import LogFound
from flowcore.logs.roles import Chosen, Word
from flowcore.study import StudyDocument
from flowcore.study.base import Id


class Matching(Chosen):
    """The step, or the case type, of a study by its id for a name of a log; None for a name that stands for none."""

    steps: dict[Word, Id | None] = {}
    types: dict[Word, Id | None] = {}


class _Named(Protocol):
    @property
    def id(self) -> str: ...

    @property
    def name(self) -> str: ...


def matched(found: LogFound, study: StudyDocument, chosen: Matching) -> Matching:
    """Return what every name of a log stands for: as it is chosen, else what is called the same."""
    types = [each.to for each in found.types if each.to is not None]
    return Matching(
        steps=_matched([each.step for each in found.steps], study.steps, chosen.steps),
        types=_matched(types, study.case_types, chosen.types),
    )


def _matched(names: Iterable[str], parts: Sequence[_Named], chosen: Mapping[str, Id | None]) -> dict[str, Id | None]:
    by_word = {plain(word): part.id for part in reversed(parts) for word in (part.id, part.name)}
    known = {part.id for part in parts}
    left = known - {id_ for id_ in chosen.values() if id_ is not None}
    found: dict[str, Id | None] = {}
    for name in names:
        same = by_word.get(plain(name))
        id_ = chosen.get(name, same if same in left else None)
        found[name] = id_ if id_ in known else None
        left.discard(id_ or "")
    return found


def plain(name: str) -> str:
    """Return a name without what people write one way or another: letters and digits, small, with single spaces."""
    return re.sub(r"[^0-9a-z]+", " ", name.casefold()).strip()
