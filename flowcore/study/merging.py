"""Two documents that were both made from an older one, brought together."""

from typing import Any

from flowcore.study.differences import have_ids

MISSING = object()


def merged(base: Any, theirs: Any, mine: Any, where: str = "") -> tuple[Any, list[str]]:
    """Return a document with the changes of both sides, and the places that both changed differently.

    Elements of lists are told by their ids. Where both sides changed one value, mine is kept.
    """
    if theirs in (mine, base):
        return mine, []
    if base == mine:
        return theirs, []
    if all(isinstance(each, dict) for each in (base, theirs, mine)):
        return _merged_keys(base, theirs, mine, where)
    if all(have_ids(each) for each in (base, theirs, mine)):
        keyed = [{each["id"]: each for each in side} for side in (base, theirs, mine)]
        found, clashes = _merged_keys(keyed[0], keyed[1], keyed[2], where)
        return list(found.values()), clashes
    return mine, [where]


def _merged_keys(
    base: dict[str, Any], theirs: dict[str, Any], mine: dict[str, Any], where: str
) -> tuple[dict[str, Any], list[str]]:
    found: dict[str, Any] = {}
    clashes: list[str] = []
    for key in [*mine, *(key for key in theirs if key not in mine)]:
        place = f"{where}/{key}" if where else key
        older, other, own = (side.get(key, MISSING) for side in (base, theirs, mine))
        value, inner = merged(older, other, own, place)
        clashes += inner
        if value is not MISSING:
            found[key] = value
    return found, clashes
