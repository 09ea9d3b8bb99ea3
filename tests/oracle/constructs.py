"""Which constructs a study is put together from, as its document names them."""

from collections import Counter
from collections.abc import Iterator, Sequence
from itertools import combinations
from typing import Any

CHOOSE = {
    "at_break", "at_shift_end", "discipline", "dist", "fact", "is", "kind", "overtime", "paid", "pick", "pick_place",
    "picks", "spread", "stay", "strikes", "taken", "when_blocked", "when_full",
}  # fmt: skip
"""Keys each of whose values is a construct."""
OF_ONE_TEAM = ("at_break", "at_shift_end", "paid", "stay")
"""Of these a study has one value, since one team has the key."""
ONE_OF = ({"completed", "empty"}, {"divert", "send"})
"""Of these a study has one, since it has one run and one deadline."""
PLAIN = {
    "after", "all", "any", "arrivals", "at", "balks_to", "big", "by_value", "calendars", "case_types", "cases", "clock",
    "clauses", "closing", "days", "deadlines", "distance", "due", "every", "first", "fri", "from", "full_to", "gap",
    "gives_up_to", "high", "id", "interval", "join", "length", "limit", "line", "low", "mean", "metres", "mix", "mon",
    "name", "needs", "next", "otherwise", "people", "places", "priority", "rate", "replications", "roster", "run",
    "sat", "sd", "seed", "sessions", "share", "shares", "site", "size", "skills", "small", "sort", "start", "steps",
    "streams", "sun", "team", "teams", "thu", "time", "to", "traits", "tue", "type", "urgent", "use_cost", "usual",
    "value", "values", "waiting_cost", "wed", "week", "weekly", "within", "work", "working", "x", "y", "abandoned",
    "pace",
}  # fmt: skip
"""Keys that every study has, or that only come along with a construct."""


def constructs_of(part: Any) -> Iterator[str]:
    """Yield the constructs in a part of a document: its keys, and the values of those that choose."""
    if isinstance(part, dict):
        for key, value in part.items():
            if key in CHOOSE and isinstance(value, str):
                yield f"{key} {value.split(':')[0]}"
            elif key not in PLAIN:
                yield key
            yield from constructs_of(value)
    elif isinstance(part, list):
        for each in part:
            yield from constructs_of(each)


def frequencies(documents: Sequence[Any]) -> dict[str, float]:
    """Return the share of the documents in which each construct is, of those that are in any."""
    found = Counter(construct for document in documents for construct in set(constructs_of(document)))
    return {construct: count / len(documents) for construct, count in found.items()}


def unmet_pairs(documents: Sequence[Any]) -> list[tuple[str, str]]:
    """Return the pairs of constructs that are in no document together, though they could be."""
    sets = [sorted(set(constructs_of(document))) for document in documents]
    met = {pair for each in sets for pair in combinations(each, 2)}
    pairs = combinations(sorted({construct for each in sets for construct in each}), 2)
    return [pair for pair in pairs if pair not in met and not exclude_each_other(*pair)]


def exclude_each_other(one: str, other: str) -> bool:
    """Say whether a study cannot have both."""
    keys = {one.partition(" ")[0], other.partition(" ")[0]}
    return {one, other} in ONE_OF or (len(keys) == 1 and keys <= set(OF_ONE_TEAM))
