"""Damages the demo studies at random, and looks at what checks and runs make of them.

`python -m tests.flowcore.damage COUNT [FIRST]` does so many and prints what should not be.
"""

import copy
import json
import random
import sys
import time
from collections.abc import Iterator
from pathlib import Path
from typing import Any

from flowcore.checks import check_study
from flowcore.problems import Problem, Severity, StudyError
from flowcore.simulate import Replicator
from flowcore.study import read_study
from tests.browser.everything import everything

DEMOS = [json.loads(path.read_text()) for path in sorted(Path("demo").glob("*.json"))] + [everything()]
STRANGE: list[Any] = [
    None, True, 0, 1, -1, 2, 0.5, 1e9, -1e-9, 10**30, 1e308, "", "x", "0 min", "1 s", "5", "-3 min", "99999999 wk",
    "24:00", "08:00", "25:61", "2027-02-30", "2027-03-01T08:00", [], {}, [[]], [1], {"a": 1}, "ä" * 300, "clerks",
    {"dist": "exponential", "mean": "0 min"}, {"dist": "constant"},
    {"dist": "uniform", "low": "9 min", "high": "1 min"},
]  # fmt: skip
LIBRARY_WORDS = ("Input should", "validation", "pydantic", "Value error", "Field required", "Traceback", "NoneType")


def places_of(value: Any) -> Iterator[tuple[Any, Any]]:
    """Yield every list and group with each of its keys."""
    for key in range(len(value)) if isinstance(value, list) else list(value):
        yield value, key
        if isinstance(value[key], dict | list):
            yield from places_of(value[key])


def damaged(number: int) -> Any:
    """Return a demo study with one to three things wrong: always the same for a number."""
    luck = random.Random(number)
    document = copy.deepcopy(luck.choice(DEMOS))
    for _ in range(luck.choice([1, 1, 1, 2, 3])):
        where, key = luck.choice(list(places_of(document)))
        _damage(luck, document, where, key)
    document_run = document.get("run") if isinstance(document, dict) else None
    if isinstance(document_run, dict):
        document_run.pop("precision", None)
    return document


def _damage(luck: random.Random, document: Any, where: Any, key: Any) -> None:
    kind = luck.choice(["take", "strange", "alike", "alike", "alike", "other", "twice", "extra", "number"])
    value = where[key]
    if kind == "take":
        del where[key]
    elif kind == "other":
        other, place = luck.choice(list(places_of(document)))
        where[key] = copy.deepcopy(other[place])
    elif kind == "alike":
        where[key] = _alike(luck, document, value)
    elif kind == "twice" and isinstance(where, list):
        where.append(copy.deepcopy(value))
    elif kind == "extra" and isinstance(where, dict):
        where[luck.choice(["colour", "x", "id", "kind", "open", "size"])] = luck.choice(STRANGE)
    elif kind == "number" and isinstance(value, int | float):
        where[key] = value * luck.choice([0, -1, 0.001, 1000])
    else:
        where[key] = luck.choice(STRANGE)


def _alike(luck: random.Random, document: Any, value: Any) -> Any:
    """Return another value of the same type: from the document, or a strange one."""
    known = [other[place] for other, place in places_of(document) if type(other[place]) is type(value)]
    strange = [each for each in STRANGE if type(each) is type(value)]
    return copy.deepcopy(luck.choice(known + strange * 2))


def faults_of(document: Any) -> list[str]:
    """Return what should not be: a traceback, an endless check, a problem without its parts or in a library's words."""
    faults: list[str] = []
    begun = time.perf_counter()
    problems: list[Problem] = []
    try:
        study = read_study(document)
        problems = check_study(study)
    except StudyError as error:
        problems, study = error.problems, None
    except Exception as error:
        return [f"reading and checking ended in {error!r}"]
    if time.perf_counter() - begun > 120.0:
        faults.append(f"checking took {time.perf_counter() - begun:.1f} s")
    if study is not None and not any(each.level is Severity.ERROR for each in problems):
        try:
            short = study.run.model_copy(update={"length": "2 h", "warm_up": "0 min"})
            Replicator(study.model_copy(update={"run": short}), _Clock(300.0))(0)
        except StudyError as error:
            problems += error.problems
        except Exception as error:
            faults.append(f"running ended in {error!r}")
    for each in problems:
        said = f"{each.what} {each.mend}"
        if not (each.where and each.what and each.mend) or any(word in said for word in LIBRARY_WORDS):
            faults.append(f"a problem in no words of ours: {each}")
        if len(said) > 1500 or "could not be seen" in each.what:
            faults.append(f"a problem that says too much, or a check that failed: {str(each)[:300]}")
    return faults


class _Clock:
    """Asks a run to stop after so many seconds."""

    def __init__(self, seconds: float) -> None:
        self._ends = time.perf_counter() + seconds

    def __call__(self) -> bool:
        return time.perf_counter() > self._ends


def main() -> None:
    count, first = int(sys.argv[1]), int(sys.argv[2]) if len(sys.argv) > 2 else 0
    wrong = 0
    for number in range(first, first + count):
        for fault in faults_of(damaged(number)):
            wrong += 1
            print(number, fault)
    print(f"{count} damaged studies, {wrong} faults")


if __name__ == "__main__":
    main()
