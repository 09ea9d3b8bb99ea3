"""How figures answer to levers: where each scenario stands on them, and which scenarios differ in nothing else."""

import json
from collections import defaultdict
from collections.abc import Sequence
from typing import Any

from jsonpointer import JsonPointerException
from pydantic import BaseModel

from flowcore.reports.comparison import Column
from flowcore.study import minutes
from flowcore.study.differences import value_words
from flowcore.study.durations import is_time
from flowcore.study.pointers import pointer_to
from flowcore.study.runs import Lever

TOLD = ("name", "about", "currency", "sources")
ASKED = ("measures", "targets", "observed", "board", "levers", "scenarios", "sizing")
NOT_COMPARED: dict[str, Any] = dict.fromkeys((*TOLD, *ASKED), True)
NOT_COMPARED["run"] = {"replications", "precision", "confidence"}


class Setting(BaseModel):
    """What a lever stands at in a scenario: in words, and where that is on an axis, durations in minutes."""

    at: float
    words: str


class MovedLever(BaseModel):
    """A lever that does not stand the same in all columns: its settings, one a column."""

    id: str
    name: str
    settings: list[Setting]


class Family(BaseModel):
    """Columns that differ in some levers and in nothing else, in the order of these levers' settings."""

    name: str
    columns: list[int]


def moved_levers(columns: Sequence[Column]) -> list[MovedLever]:
    """Return the levers of the baseline's study that do not stand the same in all columns, in the study's order."""
    documents = [_document(column) for column in columns]
    found = []
    for lever in _levers_of(columns):
        values = [_value(lever, column, document) for column, document in zip(columns, documents, strict=True)]
        settings = _settings(values)
        if len({setting.at for setting in settings}) > 1:
            found.append(MovedLever(id=lever.id, name=lever.name, settings=settings))
    return found


def families(columns: Sequence[Column], levers: Sequence[MovedLever], by: Sequence[str]) -> list[Family]:
    """Return the columns that differ in the levers `by` (ids) and in nothing else, together.

    The baseline's family comes first, then larger ones before smaller. One column of equals is enough, and a column
    that differs from all others in something else is in no family.
    """
    varied = [lever for lever in levers if lever.id in by]
    rest = [lever for lever in levers if lever.id not in by]
    alike: dict[str, dict[tuple[float, ...], int]] = defaultdict(dict)
    for place, column in enumerate(columns):
        spot = tuple(lever.settings[place].at for lever in varied)
        alike[_apart_from(column, by)].setdefault(spot, place)
    groups = [[spots[spot] for spot in sorted(spots)] for spots in alike.values() if len(spots) > 1]
    groups.sort(key=lambda places: (0 not in places, -len(places)))
    return [Family(name=_name(columns, rest, places), columns=places) for places in groups]


def _levers_of(columns: Sequence[Column]) -> list[Lever]:
    return [lever for lever in columns[0].study.levers if lever.sets]


def _document(column: Column) -> dict[str, Any]:
    return column.study.model_dump(mode="json", exclude=NOT_COMPARED)


def _value(lever: Lever, column: Column, document: dict[str, Any]) -> Any:
    """Return what a lever stands at: its factor, else what stands at the first place that it drives."""
    if lever.scales:
        return column.levers.get(lever.id, 1)
    try:
        return pointer_to(document, lever.sets[0]).resolve(document)
    except (KeyError, IndexError, TypeError, JsonPointerException):
        return None


def _settings(values: Sequence[Any]) -> list[Setting]:
    """Return settings on one axis: numbers and durations as they are, anything else in the order in which it comes."""
    sizes = [_size(value) for value in values]
    words = [value_words(value) for value in values]
    ranks = list(dict.fromkeys(words))
    at = [float(ranks.index(each)) for each in words] if None in sizes else [size or 0.0 for size in sizes]
    return [Setting(at=place, words=each) for place, each in zip(at, words, strict=True)]


def _size(value: Any) -> float | None:
    if isinstance(value, str):
        return minutes(value) if is_time(value) else None
    return float(value) if isinstance(value, int | float) and not isinstance(value, bool) else None


def _apart_from(column: Column, by: Sequence[str]) -> str:
    """Return all of a column's study but what some levers drive, as text."""
    document = _document(column)
    driven = [path for lever in column.study.levers if lever.id in by for path in lever.sets]
    for path in driven:
        try:
            pointer_to(document, path).set(document, None)
        except (KeyError, IndexError, TypeError, JsonPointerException):
            continue
    return json.dumps(document, sort_keys=True)


def _name(columns: Sequence[Column], rest: Sequence[MovedLever], places: Sequence[int]) -> str:
    """Return what a family is called: by where the other levers stand, else by its first column."""
    words = [f"{lever.name} {lever.settings[places[0]].words}" for lever in rest]
    return ", ".join(words) or columns[places[0]].name
