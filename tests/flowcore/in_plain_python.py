"""Runs studies in plain Python with arrays that refuse every index below zero.

Compiled code does not look where it reads; here an index that is wrong raises an IndexError. `python -m
tests.flowcore.in_plain_python` takes a JSON list of studies and prints their figures, a line each.
"""

import json
import os
import sys
from dataclasses import fields, replace
from typing import Any

os.environ["NUMBA_DISABLE_JIT"] = "1"

import numpy as np

from flowcore import read_study, simulate
from flowcore.kernel.compiling.bundle import Bundle
from flowcore.kernel.run import worlds as kernel


def refuse(index: Any) -> None:
    for each in index if isinstance(index, tuple) else (index,):
        if isinstance(each, int | np.integer) and each < 0:
            raise IndexError(f"index {each} is below zero")


class Refusing:
    """Looks at every index of the array that it is mixed into."""

    def __getitem__(self, index: Any) -> Any:
        refuse(index)
        return super().__getitem__(index)  # type: ignore[misc]

    def __setitem__(self, index: Any, value: Any) -> None:
        refuse(index)
        super().__setitem__(index, value)  # type: ignore[misc]


class Watched(Refusing, np.ndarray):
    pass


class WatchedRecords(Refusing, np.recarray):
    pass


def watched(bundle: Any) -> Any:
    """Return a bundle whose arrays are views that look at every index."""
    views: dict[str, Any] = {}
    for field in fields(bundle):
        value = getattr(bundle, field.name)
        if isinstance(value, Bundle):
            views[field.name] = watched(value)
        else:
            views[field.name] = value.view(WatchedRecords if value.dtype.names else Watched)
    return replace(bundle, **views)


def watch(name: str) -> None:
    """Let one of the kernel's entries see the world through such arrays."""
    entry = getattr(kernel, name)
    setattr(kernel, name, lambda world, *more: entry(watched(world), *more))


if __name__ == "__main__":
    for name in ("open_up", "advance", "close_books"):
        watch(name)
    for document in json.load(sys.stdin):
        found = simulate(read_study(document))
        print(json.dumps({address: values.tolist() for address, values in found.values.items()}))
