"""The draws, the one thing that the oracle shares with the kernel, as plain Python."""

import functools
from types import FunctionType, SimpleNamespace
from typing import Any

import numpy as np

from flowcore.kernel.clockwork import draws, samples
from flowcore.kernel.records.choices import Shape
from flowcore.kernel.records.kinds import DrawFor
from flowcore.plan.keys import stable_key
from flowcore.study.distributions import row_of

GAP, TYPE, WORK, WAY, TRAVEL, GROUP, PATIENCE, CHANGEOVER, RANK, PLACE, TRAIT, PUNCTUALITY, MEMBER, ABSENCE = (
    DrawFor.GAP,
    DrawFor.TYPE,
    DrawFor.WORK,
    DrawFor.WAY,
    DrawFor.TRAVEL,
    DrawFor.GROUP,
    DrawFor.PATIENCE,
    DrawFor.CHANGEOVER,
    DrawFor.RANK,
    DrawFor.PLACE,
    DrawFor.TRAIT,
    DrawFor.PUNCTUALITY,
    DrawFor.MEMBER,
    DrawFor.ABSENCE,
)


def in_plain_python(*modules: Any) -> SimpleNamespace:
    """Return the functions of some modules uncompiled, calling each other uncompiled."""
    names = {name: value for module in modules for name, value in vars(module).items()}
    for name, value in list(names.items()):
        if hasattr(value, "py_func"):
            names[name] = FunctionType(value.py_func.__code__, names, name)
    return SimpleNamespace(**names)


_plain = in_plain_python(draws, samples)
np.seterr(over="ignore")


def chain(key: Any, *parts: int) -> Any:
    """Return a key that depends on another and on some numbers."""
    for part in parts:
        key = _plain.chain(np.uint64(key), np.uint64(part))
    return key


def uniform(key: Any, turn: int = 0) -> float:
    """Return the turn-th number of a key, between 0 and 1."""
    return float(_plain.uniform(key, turn))


def value(distribution: Any, key: Any) -> float:
    """Return what a distribution gives for a key."""
    row = row_of(distribution)
    kind = Shape[row.family.upper()]
    record = SimpleNamespace(a=row.a, b=row.b, c=row.c, kind=kind, stages=row.stages, first=0)
    return float(_plain.sample(list(row.numbers), record, key))


@functools.cache
def key(part: str, name: str) -> Any:
    """Return the key of an element."""
    return np.uint64(stable_key(part, name))


def of_case(case: Any, element: Any, purpose: int) -> Any:
    """Return the key of a case's draw at an element, on the lap of the loop that it is in."""
    occasion = np.uint64(case.laps << 8 | purpose)
    return _plain.chain(case.luck, element + occasion * _plain._FIRST)


def pick(shares: list[float], draw: float) -> int:
    """Return which share a draw falls under, the last where rounding leaves it under none."""
    total = 0.0
    for number, share in enumerate(shares[:-1]):
        total += share
        if draw < total:
            return number
    return len(shares) - 1
