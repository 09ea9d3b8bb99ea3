"""What is timed of a case: spans, own measures of a time, the ways to checkpoints and between them."""

from dataclasses import dataclass
from itertools import permutations

from flowcore.study.base import Id
from flowcore.study.checkpoints import Point
from flowcore.study.document import StudyDocument, checkpoints_of
from flowcore.study.graph import all_ways, reach

MOST_PAIRED = 8
"""Of more checkpoints than these the ways between them are not timed: there would be very many."""


@dataclass(frozen=True)
class Clock:
    """What is timed from one point, or from the arrival, to another; `subject` is that of its figures."""

    subject: str
    from_: Point | None
    to: Point


def clocks_of(study: StudyDocument) -> list[Clock]:
    """Return all that is timed; what begins with the arrival comes last."""
    clocks = [Clock(f"span/{each.id}", each.from_, each.to) for each in study.spans]
    clocks += [Clock(f"measure/{each.id}", each.time.from_, each.time.to) for each in study.measures if each.time]
    clocks += [Clock(f"checkpoint/{each}", None, Point(step=each)) for each in checkpoints_of(study)]
    clocks += [
        Clock(f"checkpoint/{begin}:{end}", Point(step=begin), Point(step=end)) for begin, end in checkpoint_pairs(study)
    ]
    return sorted(clocks, key=lambda each: each.from_ is None)


def checkpoint_pairs(study: StudyDocument) -> list[tuple[Id, Id]]:
    """Return the pairs of checkpoints of which the second can be reached from the first; none where there are many."""
    checkpoints = checkpoints_of(study)
    if len(checkpoints) > MOST_PAIRED:
        return []
    ways = all_ways(study)
    reached = {each: reach(ways[each], ways) for each in checkpoints}
    return [(begin, end) for begin, end in permutations(checkpoints, 2) if end in reached[begin]]
