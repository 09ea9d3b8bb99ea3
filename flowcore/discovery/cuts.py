"""How a graph of what follows what is cut: one or the other, one after the other, together, again and again."""

from enum import StrEnum
from itertools import combinations
from typing import NamedTuple

from flowcore.discovery.graph import Follows, Part, components


class Kind(StrEnum):
    """How parts of a flow belong together."""

    CHOICE = "choice"
    SEQUENCE = "sequence"
    TOGETHER = "together"
    LOOP = "loop"


class Cut(NamedTuple):
    """Parts of a graph, in order for a sequence; of a loop the first is done, and done again after each other one.

    Where nothing is between two rounds of a loop, one ends with one of the `ends` and the next begins with one of the
    `starts`.
    """

    kind: Kind
    parts: list[Part]
    ends: Part = frozenset()
    starts: Part = frozenset()


def cut_of(follows: Follows) -> Cut | None:
    """Return the first cut that parts a graph of two steps or more, None where there is none."""
    for kind, parts in (
        (Kind.CHOICE, components(follows.steps, follows.edges)),
        (Kind.SEQUENCE, _sequence(follows)),
        (Kind.TOGETHER, _together(follows)),
        (Kind.LOOP, _loop(follows)),
    ):
        if len(parts) > 1:
            return Cut(kind, parts)
    return None


def _sequence(follows: Follows) -> list[Part]:
    """Parts of which each is reached from those before and from none behind: what is neither way, or both, is one."""
    reached = follows.reachable()
    undecided = [
        (one, other)
        for one, other in combinations(sorted(follows.steps), 2)
        if (other in reached[one]) == (one in reached[other])
    ]
    parts = components(follows.steps, undecided)
    while True:
        mixed = next(
            (
                (one, other)
                for one, other in combinations(parts, 2)
                if not _all_reach(one, other, reached) and not _all_reach(other, one, reached)
            ),
            None,
        )
        if mixed is None:
            break
        parts = [each for each in parts if each not in mixed] + [mixed[0] | mixed[1]]
    return sorted(parts, key=lambda part: -sum(_all_reach(part, other, reached) for other in parts if other != part))


def _all_reach(one: Part, other: Part, reached: dict[int, set[int]]) -> bool:
    return all(to in reached[step] for step in one for to in other)


def _together(follows: Follows) -> list[Part]:
    """Parts all of whose steps follow those of the others and go before them; each can begin and end."""
    lacking = [
        (one, other)
        for one, other in combinations(sorted(follows.steps), 2)
        if (one, other) not in follows.edges or (other, one) not in follows.edges
    ]
    parts = components(follows.steps, lacking)
    whole = [part for part in parts if part & follows.starts.keys() and part & follows.ends.keys()]
    rest = frozenset().union(*(part for part in parts if part not in whole))
    if rest and whole:
        whole[0] = whole[0] | rest
    return whole


def _loop(follows: Follows) -> list[Part]:
    """The part with all beginnings and ends, and parts that lead from its ends to its beginnings alone."""
    starts, ends = follows.starts.keys(), follows.ends.keys()
    body = frozenset(starts | ends)
    inner = [(one, other) for one, other in follows.edges if one not in body and other not in body]
    again = []
    for part in components(follows.steps - body, inner):
        entered_by = {one for one, other in follows.edges if other in part and one not in part}
        leads_to = {other for one, other in follows.edges if one in part and other not in part}
        is_from_all_ends = entered_by <= ends and all(
            all((end, into) in follows.edges for end in ends)
            for into in part
            if any((one, into) in follows.edges for one in entered_by)
        )
        is_to_all_starts = leads_to <= starts and all(
            all((out, start) in follows.edges for start in starts)
            for out in part
            if any((out, other) in follows.edges for other in leads_to)
        )
        if entered_by and leads_to and is_from_all_ends and is_to_all_starts:
            again.append(part)
        else:
            body |= part
    return [body, *again] if again else []
