"""Pointers (RFC 6901) into a study's JSON document.

Where a pointer passes through a list of elements it may name one by its id, so that it still leads there when the
list's order changes.
"""

from typing import Any

from jsonpointer import JsonPointer, JsonPointerException


def pointer_to(document: Any, path: str) -> JsonPointer:
    """Return a pointer with ids turned into places in their lists; KeyError names what is not there.

    What is left out on the way is made on the way: a line without settings gets them where one of them is pointed at.
    """
    parts: list[str] = []
    here = document
    given = JsonPointer(path).parts
    for depth, name in enumerate(given):
        by_id = isinstance(here, list) and not name.isdigit() and name != "-"
        parts.append(str(_place_of(here, name)) if by_id else name)
        if depth + 1 < len(given):
            here = _part_of(here, parts[-1], given[depth + 1])
    return JsonPointer.from_parts(parts)


def leads_somewhere(document: dict[str, Any], path: str) -> bool:
    """Say whether a pointer leads to something that is there."""
    try:
        pointer_to(document, path).resolve(document)
    except (KeyError, JsonPointerException):
        return False
    return True


def _place_of(elements: list[Any], element_id: str) -> int:
    for place, element in enumerate(elements):
        if isinstance(element, dict) and element.get("id") == element_id:
            return place
    raise KeyError(element_id)


def _part_of(here: Any, part: str, after: str) -> Any:
    if isinstance(here, dict) and part in here:
        if here[part] is None:
            here[part] = [] if after.isdigit() or after == "-" else {}
        return here[part]
    if isinstance(here, list) and part.isdigit() and int(part) < len(here):
        return here[int(part)]
    raise KeyError(part)
