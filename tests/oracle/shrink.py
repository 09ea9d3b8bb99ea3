"""Makes a study in which two engines differ smaller, as long as they differ."""

import copy
from collections.abc import Iterator
from typing import Any

from flowcore.checks import errors_of
from flowcore.problems import StudyError
from flowcore.study import read_study
from tests.oracle.compare import difference


def differs(document: dict[str, Any]) -> bool:
    """Say whether a study can be run and the engines differ in it."""
    try:
        study = read_study(document)
        return not errors_of(study) and difference(study) is not None
    except StudyError:
        return False
    except Exception:  # A crash of either engine is a difference too.
        return True


def shrunk(document: dict[str, Any]) -> dict[str, Any]:
    """Return a smaller study that still differs."""
    tried, since = 0, 0
    options = list(_smaller(document))
    while since < len(options):
        smaller = options[tried % len(options)]
        if differs(smaller):
            document, since = smaller, 0
            options = list(_smaller(document))
        else:
            tried, since = tried + 1, since + 1
    return document


def _smaller(document: dict[str, Any]) -> Iterator[dict[str, Any]]:
    """Yield the document without one of its parts, and with a step passed over."""
    for number, step in enumerate(document["steps"]):
        ways = step.get("next", [])
        if ways:
            other = copy.deepcopy(document)
            del other["steps"][number]
            yield _redirected(other, step["id"], ways[0]["to"])
    for path in _paths(document):
        other = copy.deepcopy(document)
        part: Any = other
        for key in path[:-1]:
            part = part[key]
        del part[path[-1]]
        yield other


def _redirected(part: Any, old: str, new: str) -> Any:
    if isinstance(part, dict):
        return {key: _redirected(value, old, new) for key, value in part.items()}
    if isinstance(part, list):
        return [_redirected(each, old, new) for each in part]
    return new if part == old else part


def _paths(part: Any, path: tuple[Any, ...] = ()) -> Iterator[tuple[Any, ...]]:
    items = part.items() if isinstance(part, dict) else enumerate(part) if isinstance(part, list) else ()
    for key, value in items:
        if key in ("run", "length", "limit", "to", "kind"):
            continue
        yield (*path, key)
        yield from _paths(value, (*path, key))
