"""What devices do to their logs: clocks that are late, rows that are written twice, ends that are missing."""

from collections.abc import Iterable, Iterator
from dataclasses import dataclass, replace
from datetime import timedelta
from random import Random

from stand_ins.service import Visit


@dataclass(frozen=True)
class Quirks:
    """How much is wrong: the share of rows written `twice`, of ends `missing`, and how many minutes clocks are `late`.

    The clock of every so many places is late, from the first on; by default of every fourth.
    """

    twice: float = 0.0
    missing: float = 0.0
    late: float = 0.0
    every: int = 4
    seed: int = 1


def with_quirks(visits: Iterable[Visit], quirks: Quirks) -> Iterator[Visit]:
    """Yield visits as devices with quirks have them; the same each time."""
    random = Random(quirks.seed)
    places: dict[str, int] = {}
    for visit in visits:
        place = places.setdefault(visit.member, len(places))
        seen = _by_late_clock(visit, quirks.late) if visit.member and place % quirks.every == 0 else visit
        if not seen.gave_up and random.random() < quirks.missing:
            seen = replace(seen, finished=None)
        yield seen
        if random.random() < quirks.twice:
            yield seen


def _by_late_clock(visit: Visit, late: float) -> Visit:
    shift = timedelta(minutes=late)
    return replace(
        visit, called=visit.called and visit.called - shift, finished=visit.finished and visit.finished - shift
    )
