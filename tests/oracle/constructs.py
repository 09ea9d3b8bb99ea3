"""Which constructs a study is put together from, as its document names them."""

from collections.abc import Iterator
from typing import Any

WITH_VALUE = {
    "at_break", "at_shift_end", "discipline", "dist", "fact", "is", "kind", "measure", "paid", "overtime", "pick",
    "pick_place", "picks", "spread", "stay", "strikes", "taken", "then", "when_blocked", "when_full",
}  # fmt: skip
"""Keys whose value is a construct of its own."""
NO_CONSTRUCTS = {
    "id", "name", "to", "next", "steps", "streams", "teams", "case_types", "run", "length", "replications", "seed",
    "start", "traits", "days", "from", "people", "mix", "type", "rate", "x", "y", "metres", "distance", "site",
    "mean", "sd", "low", "high", "value", "values", "priority", "due", "within", "at", "size", "sort", "after", "every",
    "weekly", "calendars", "deadlines", "share", "otherwise", "limit", "interval", "week", "mon", "tue", "wed", "thu",
    "fri", "sat", "sun", "urgent", "usual", "big", "small", "clock", "working", "cases", "first", "work", "time",
    "full_to", "gives_up_to", "balks_to", "join", "clauses", "abandoned", "waiting_cost", "use_cost", "pace",
    "roster", "closing", "skills", "line", "gap", "is", "needs", "team", "capacity_", "arrivals", "by_value", "places",
    "sessions", "shares", "any", "all",
}  # fmt: skip


def constructs_of(part: Any, key: str = "") -> Iterator[str]:
    """Yield the constructs in a part of a document: keys, and the values of those that choose."""
    if isinstance(part, dict):
        for name, value in part.items():
            if name in WITH_VALUE and isinstance(value, str):
                yield f"{name} {value.split(':')[0]}"
            elif name not in NO_CONSTRUCTS:
                yield name
            yield from constructs_of(value, name)
    elif isinstance(part, list):
        for each in part:
            yield from constructs_of(each, key)
