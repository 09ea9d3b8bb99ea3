"""Scenarios side by side: every measure of each, what differs from the baseline, and what that says."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

import numpy as np
from pydantic import BaseModel

from flowcore.reports.keeping import Keeps, keeps_target, limit_in, times_counted
from flowcore.results.catalogue import Title, Unit, main_measures, preferred_sign, titled
from flowcore.results.comparison import Difference, Values, Verdict, compare, efficient
from flowcore.results.run import Results
from flowcore.results.statistics import Estimate, estimates_of
from flowcore.study import StudyDocument
from flowcore.study.durations import short_number
from flowcore.study.runs import Target

DIGITS = 6


@dataclass(frozen=True)
class Column:
    """A scenario as it was run, and the levers that it moved."""

    name: str
    study: StudyDocument
    results: Results
    levers: Mapping[str, Any] = field(default_factory=dict)


class Limit(BaseModel):
    """The limit that a target sets, in the figure's unit, and in words."""

    at_most: float | None
    at_least: float | None
    words: str


class Cell(BaseModel):
    """A measure of one scenario; of the baseline, and where there is nothing to pair, without a difference."""

    figure: Estimate | None
    difference: Estimate | None = None
    verdict: Verdict | None = None
    exact: bool = False
    more: int | None = None
    words: str = ""
    keeps: Keeps | None = None


class MeasureRow(BaseModel):
    """A measure of every scenario, in the order of the columns, the baseline first."""

    address: str
    title: Title
    limit: Limit | None
    cells: list[Cell]


class TradeOff(BaseModel):
    """Two figures against each other: which columns no other beats in both, in the order of the first figure."""

    across: str
    up: str
    efficient: list[int]


def measures_of(study: StudyDocument, known: Sequence[str], asked: Sequence[str] = ()) -> list[str]:
    """Return the measures to compare by: those asked for, else the targets' and, of the known ones, the main ones."""
    wanted = asked or [*(target.figure for target in study.targets), *main_measures(list(known))]
    return [each for each in dict.fromkeys(wanted) if titled(each, study)]


def measure_rows(columns: Sequence[Column], addresses: Sequence[str], wishes: dict[str, int]) -> list[MeasureRow]:
    """Return each measure that a column has, compared with the first; `wishes` say where another way is better."""
    having = [each for each in addresses if any(column.results.has(each) for column in columns)]
    return [_row(columns, address, wishes.get(address)) for address in having]


def telling(rows: Sequence[MeasureRow], study: StudyDocument) -> list[MeasureRow]:
    """Return the rows that say something: not those that are zero everywhere, nor those of the only case type."""
    of_types = [row for row in rows if row.address.startswith("type/") and not row.address.startswith("type/all/")]
    doubled = of_types if len(study.case_types) == 1 else []
    return [row for row in rows if row not in doubled and (row.limit or any(_is_there(cell) for cell in row.cells))]


def _is_there(cell: Cell) -> bool:
    return cell.figure is not None and bool(cell.figure.mean)


def _row(columns: Sequence[Column], address: str, wish: int | None) -> MeasureRow:
    study = columns[0].study
    title = next(title for column in columns if (title := titled(address, column.study)) is not None)
    better = title.better if wish is None else wish
    target = next((each for each in study.targets if each.figure == address and each.by == "run"), None)
    times = times_counted(columns[0].results, target)
    found = _differences(columns, address, better)
    having = [place for place, column in enumerate(columns) if column.results.has(address)]
    values = [columns[place].results.contributions(address) for place in having]
    figures = dict(zip(having, estimates_of(values, columns[0].results.confidence), strict=True))
    cells = [_cell(figures.get(place), found.get(place), target, times) for place in range(len(columns))]
    limit = limit_of(target, title.unit, times) if target else None
    return MeasureRow(address=address, title=title.model_copy(update={"better": better}), limit=limit, cells=cells)


def limit_of(target: Target, unit: Unit, times: float = 1.0) -> Limit:
    """Return a target's limit in the unit of its figure, so many times that of a day or week, and in words."""
    most, least = limit_in(target.at_most, times), limit_in(target.at_least, times)
    ends = [("at least", least), ("at most", most)]
    words = [f"{name} {_in_unit(end, unit)}" for name, end in ends if end is not None]
    return Limit(at_most=most, at_least=least, words=f"target: {', '.join(words)}")


def _in_unit(amount: float, unit: Unit) -> str:
    return f"{short_number(100 * amount, DIGITS)} %" if unit is Unit.SHARE else short_number(amount, DIGITS)


def _differences(columns: Sequence[Column], address: str, wish: int) -> dict[int, Difference]:
    """Return the differences from the first column, by the place of the column, of those that have the figure."""
    baseline = columns[0].results
    if not baseline.has(address):
        return {}
    having = [place for place, column in enumerate(columns) if place and column.results.has(address)]
    pairs = [paired(baseline, columns[place].results, address) for place in having]
    return dict(zip(having, compare(address, pairs, baseline.confidence, wish), strict=True))


def paired(first: Results, other: Results, address: str) -> tuple[Values, Values]:
    """Return a figure in the replications that both have, in the same order."""
    if _numbers(first) == _numbers(other):
        return first.contributions(address), other.contributions(address)
    common = list(set(_numbers(first)) & set(_numbers(other)))
    both = [each.contributions(address)[np.isin(_numbers(each), common)] for each in (first, other)]
    return both[0], both[1]


def _numbers(results: Results) -> list[int]:
    return [each.number for each in results.replications]


def _cell(figure: Estimate | None, found: Difference | None, target: Target | None, times: float) -> Cell:
    if figure is None:
        return Cell(figure=None)
    keeps = keeps_target(figure, target, times) if target else None
    if found is None:
        return Cell(figure=figure, keeps=keeps)
    return Cell(
        figure=figure,
        difference=found.difference,
        verdict=found.verdict,
        exact=found.exact,
        more=found.more,
        words=verdict_words(found),
        keeps=keeps,
    )


def verdict_words(found: Difference) -> str:
    """Return a verdict as it is told: where nothing is clear yet, with how much more would tell."""
    if found.verdict is not Verdict.UNCLEAR or found.more is None:
        return found.verdict
    return f"{found.verdict} yet: about {found.more:,} more replications would tell"


def trade_off(columns: Sequence[Column], across: str, up: str) -> TradeOff:
    """Return which columns are efficient in two figures; those that lack one are not. Neither way better: less is."""
    points = {
        place: (column.results.figure(across).mean, column.results.figure(up).mean)
        for place, column in enumerate(columns)
        if column.results.has(across) and column.results.has(up)
    }
    known = {place: (x, y) for place, (x, y) in points.items() if x is not None and y is not None}
    wishes = (preferred_sign(across) or -1, preferred_sign(up) or -1)
    places = list(known)
    found = efficient([known[place] for place in places], wishes)
    return TradeOff(across=across, up=up, efficient=[places[n] for n in found])
