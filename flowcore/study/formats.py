"""Documents of earlier formats, brought up to the present one: one small function a format.

What was written stays as it was; it is brought up each time it is read.
"""

import re
from collections.abc import Callable, Mapping
from typing import Any, Final

FORMAT: Final = 2


def brought_up(document: object) -> object:
    """Return a document as the present format has it; what is of no known format stays as it is."""
    while isinstance(document, Mapping) and type(number := document.get("format")) is int and number in _NEXT:
        document = {**_NEXT[number](document), "format": number + 1}
    return document


def _from_1(document: Mapping[str, Any]) -> dict[str, Any]:
    """A step at which cases wait for something is a *signal* and says when it *clears*: it was a hold with a signal."""
    return {key: _SIGNALS.get(key, _with_signals)(value) for key, value in document.items()}


def _with_signals(value: Any) -> Any:
    """Return a part of a document with each hold in it a signal."""
    if isinstance(value, list):
        return [_with_signals(each) for each in value]
    if not isinstance(value, dict):
        return value
    inner = {key: _with_signals(each) for key, each in value.items()}
    if inner.get("kind") != "hold":
        return inner
    named = {"clears" if key == "signal" else key: each for key, each in inner.items()}
    return named | {"kind": "signal"}


def _with_pointers(value: Any) -> Any:
    """Return levers or scenarios with pointers into steps that lead to the new key, and new parts in the new words."""
    if isinstance(value, list):
        return [_with_pointers(each) for each in value]
    if isinstance(value, str):
        return re.sub(r"^(/steps/[^/]+)/signal(?=/|$)", r"\1/clears", value)
    if not isinstance(value, dict):
        return value
    changed = {key: _with_pointers(each) for key, each in _with_signals(value).items()}
    turns = isinstance(path := changed.get("path"), str) and re.fullmatch(r"/steps/[^/]+/kind", path)
    return changed | {"value": "signal"} if turns and changed.get("value") == "hold" else changed


_SIGNALS: dict[str, Callable[[Any], Any]] = {"levers": _with_pointers, "scenarios": _with_pointers}
_NEXT: dict[int, Callable[[Mapping[str, Any]], dict[str, Any]]] = {1: _from_1}
