"""Pydantic's errors in our words: an address by ids, the trouble, and the mend."""

from collections.abc import Mapping, Sequence
from typing import Any, cast

from pydantic_core import ErrorDetails

from flowcore.problems import Problem, error_at

MOST_SHOWN = 40
_KINDS = {
    "bool": ("neither true nor false", "Write true or false."),
    "int": ("not a whole number", "Give a whole number."),
    "float": ("not a number", "Give a number."),
    "finite": ("not a number", "Give a number."),
    "string": ("not a text", "Write a text in quotes."),
    "list": ("not a list", "Write a list in square brackets."),
    "dict": ("not a group of keys with values", "Write keys and values in curly brackets."),
    "model": ("not a group of keys with values", "Write keys and values in curly brackets."),
}
_BOUNDS = {
    "greater_than": ("{shown} is not above {gt}.", "Give a number above {gt}."),
    "greater_than_equal": ("{shown} is below {ge}.", "Give {ge} or more."),
    "less_than": ("{shown} is not below {lt}.", "Give a number below {lt}."),
    "less_than_equal": ("{shown} is above {le}.", "Give {le} or less."),
    "string_too_short": ("The text is empty or too short.", "Write {min_length} or more characters."),
    "string_too_long": ("The text is too long.", "Shorten it to {max_length} characters."),
    "too_short": ("The list is empty or too short.", "Give {min_length} or more."),
    "too_long": ("The list is too long.", "Give {max_length} at most."),
}


def problem_of(error: ErrorDetails, document: object) -> Problem:
    """Turn one validation error into a problem with an address and a mend, whatever the value is."""
    path = _path_in(error, document)
    what, mend = _words(error["type"], dict(error.get("ctx", {})), path, _shown(_value_at(document, path)))
    return error_at(where=address_of(path, document), what=what, mend=mend)


def address_of(path: Sequence[str | int], document: object) -> str:
    """Return the address of a place in a document: its path, with ids in place of numbers."""
    return "/".join(_by_ids(path, document)) or "study"


def _words(kind: str, context: dict[str, Any], path: Sequence[str | int], shown: str) -> tuple[str, str]:
    """Return what is wrong and what mends it, for one kind of error."""
    last = path[-1] if path else "study"
    if kind == "trouble":
        return context["what"], context["mend"]
    if kind == "extra_forbidden":
        return f'The key "{_shortened(str(last))}" is not known here.', "Remove it, or correct its spelling."
    if kind == "missing":
        return f'The key "{last}" is missing.', "Add it."
    if kind in ("union_tag_invalid", "literal_error", "union_tag_not_found"):
        return _unknown_choice(kind, context, shown)
    if kind == "string_pattern_mismatch":
        return f"{shown} is not written as it should be.", _pattern_mend(last)
    if kind in _BOUNDS:
        what, mend = _BOUNDS[kind]
        return what.format(shown=shown, **context), mend.format(**context)
    if kind == "int_from_float":
        return f"{shown} is not a whole number.", "Give a whole number."
    stem = kind.partition("_")[0]
    if stem in _KINDS:
        return f"{shown} is {_KINDS[stem][0]}.", _KINDS[stem][1]
    return f"{shown} is not understood here.", "Correct the value."


def _unknown_choice(kind: str, context: dict[str, Any], shown: str) -> tuple[str, str]:
    known = str(context.get("expected_tags") or context.get("expected") or "").replace("'", "").replace(" or ", ", ")
    if kind == "union_tag_not_found":
        return "It does not say of which kind it is.", 'Add its "kind", or its "dist".'
    if kind == "union_tag_invalid":
        return f'"{_shortened(str(context["tag"]))}" is not a known kind.', f"Use one of {known}."
    return f"{shown} is not one of the choices.", f"Use one of {known}."


def _pattern_mend(key: str | int) -> str:
    if key == "start":
        return 'Write a date and a time, such as "2027-03-01T08:00".'
    if key == "currency":
        return 'Write a currency code of three capitals, such as "EUR".'
    if key in ("from", "to", "at"):
        return 'Write a time of day, such as "08:30", or a date with a time, such as "2027-03-01T08:00".'
    if key in ("date", "from_date", "to_date", "closed"):
        return 'Write a date, such as "2027-03-01".'
    if key == "figure":
        return 'Write the address of a figure, such as "type/all/wait/mean".'
    if key == "fact":
        return 'Write a fact, such as "type", "waited" or "line:" with the id of a step.'
    if key == "sets":
        return 'Write a pointer into the study, such as "/teams/0/size".'
    return "Start with a small letter; use small letters, digits and hyphens."


def _shortened(text: str) -> str:
    return text if len(text) <= MOST_SHOWN else f"{text[:MOST_SHOWN]}…"


def _shown(value: object) -> str:
    """Return a value as a reader recognises it, never more than a few words of it."""
    if isinstance(value, str):
        return f'"{_shortened(value)}"'
    if isinstance(value, bool) or value is None:
        return {True: "true", False: "false", None: "Nothing"}[value]
    if isinstance(value, int | float):
        return _shortened(f"{value:.10g}" if isinstance(value, float) else str(value)[: MOST_SHOWN + 1])
    return "A list" if isinstance(value, list) else "A group of keys with values"


def _value_at(document: object, path: Sequence[str | int]) -> object:
    """Return what stands in the document at the end of a path, or None."""
    here: Any = document
    for part in path:
        if isinstance(here, list) and isinstance(part, int) and part < len(here):
            here = here[part]
        else:
            here = here.get(part) if isinstance(here, Mapping) else None
    return here


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
    """Return a path with the ids of elements in place of their numbers, where they have any."""
    names: list[str] = []
    for position, part in enumerate(path):
        here = _value_at(document, path[: position + 1])
        own = here.get("id") if isinstance(part, int) and isinstance(here, Mapping) else None
        names.append(_shortened(own if isinstance(own, str) and own else str(part)))
    return names
