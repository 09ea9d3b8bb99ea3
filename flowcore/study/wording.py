"""Pydantic's errors in our words: an address by ids, the trouble, and the mend."""

from collections.abc import Mapping, Sequence
from typing import Any, cast

from pydantic_core import ErrorDetails

from flowcore.problems import Problem, error_at

_MENDS = {
    "missing": "Add it.",
    "extra_forbidden": "Remove it, or correct its spelling.",
    "greater_than_equal": "Give a larger number.",
    "less_than_equal": "Give a smaller number.",
    "less_than": "Give a smaller number.",
    "string_too_short": "Write something here.",
    "string_too_long": "Shorten it.",
    "int_parsing": "Give a whole number.",
    "int_from_float": "Give a whole number.",
}


def problem_of(error: ErrorDetails, document: object) -> Problem:
    """Turn one validation error into a problem with an address and a mend."""
    path = _path_in(error, document)
    context = error.get("ctx", {})
    if error["type"] == "trouble":
        what, mend = context["what"], context["mend"]
    elif error["type"] == "extra_forbidden":
        what, mend = f'The key "{path[-1]}" is not known here.', _MENDS["extra_forbidden"]
    elif error["type"] == "missing":
        what, mend = f'The key "{path[-1]}" is missing.', _MENDS["missing"]
    elif error["type"] == "union_tag_invalid":
        what = f"{context['tag']} is not a known kind.".replace("'", '"')
        mend = f"Use one of {context['expected_tags']}.".replace("'", "")
    elif error["type"] == "string_pattern_mismatch":
        what, mend = f'"{error["input"]}" is not written as it should be.', _pattern_mend(path)
    else:
        what, mend = f"{error['msg']}.", _MENDS.get(error["type"], "Correct the value.")
    return error_at(where="/".join(_by_ids(path, document)) or "study", what=what, mend=mend)


def _pattern_mend(path: Sequence[str | int]) -> str:
    if path[-1] == "start":
        return 'Write a date and a time, such as "2027-03-01T08:00".'
    if path[-1] == "currency":
        return 'Write a currency code of three capitals, such as "EUR".'
    return "Start with a small letter; use small letters, digits and hyphens."


def _path_in(error: ErrorDetails, document: object) -> list[str | int]:
    """Drop the union tags from an error's location by walking the document along it."""
    path: list[str | int] = []
    here: object = document
    location = error["loc"]
    for position, part in enumerate(location):
        is_missing = error["type"] == "missing" and position == len(location) - 1
        if isinstance(part, int) and isinstance(here, list):
            path.append(part)
            here = here[part] if part < len(here) else None
        elif isinstance(here, Mapping) and isinstance(part, str) and (part in here or is_missing):
            path.append(part)
            here = cast(Mapping[str, Any], here).get(part)
    return path


def _by_ids(path: Sequence[str | int], document: object) -> list[str]:
    names: list[str] = []
    here: Any = document
    for part in path:
        here = here[int(part)] if isinstance(here, list) else here.get(part)
        has_id = isinstance(part, int) and isinstance(here, Mapping) and "id" in here
        names.append(str(here["id"]) if has_id else str(part))
    return names
