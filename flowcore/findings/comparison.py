"""What a comparison says: what each scenario gains and costs, which keep the targets, and what that rests on."""

from collections.abc import Sequence

from pydantic import BaseModel

from flowcore.findings.targets import by_time_words, promise
from flowcore.findings.words import Sentence, as_text, figure_words, listed, measure_words, money, plain, value
from flowcore.reports.comparison import Cell, Column, MeasureRow
from flowcore.reports.keeping import Keeps, kept_by_time
from flowcore.results.catalogue import Unit, titled
from flowcore.results.comparison import Verdict
from flowcore.study.durations import spoken
from flowcore.study.runs import Target

COST = "cost/total/per:day"
MOST_TOLD = 3


class ByTimeCell(BaseModel):
    """How one scenario keeps a target of every day or interval; nothing of whether where its run does not tell it."""

    keeps: Keeps | None
    words: str


class ByTimeRow(BaseModel):
    """A target of every day or interval, in words, and how each column keeps it."""

    promise: str
    cells: list[ByTimeCell]


def by_time_rows(columns: Sequence[Column]) -> list[ByTimeRow]:
    """Return the targets of every day or interval, of the first column's study, in every column."""
    study = columns[0].study
    targets = [each for each in study.targets if each.by != "run" and titled(each.figure, study)]
    return [
        ByTimeRow(promise=as_text(promise(study, each)), cells=[_by_time(column, each) for column in columns])
        for each in targets
    ]


def _by_time(column: Column, target: Target) -> ByTimeCell:
    kept = kept_by_time(column.results, column.study, target)
    if kept is None:
        return ByTimeCell(keeps=None, words="not told by this run: run it again")
    return ByTimeCell(keeps=kept.keeps, words=by_time_words(kept, column.study))


def verdict_sentences(
    columns: Sequence[Column], rows: Sequence[MeasureRow], by_time: Sequence[ByTimeRow] = ()
) -> list[Sentence]:
    """Return what the scenarios say against the baseline, the first column; nothing where there is none but it."""
    if len(columns) < 2 or not rows:
        return []
    keeping = [_keeps_all(rows, by_time, place) for place in range(len(columns))]
    told = [place for place in range(1, len(columns)) if not _is_the_same(rows, place)]
    told = told if len(told) <= MOST_TOLD else _worth_telling(rows, keeping)
    if not told:
        return [[plain("Nothing differs in any of the measures.")]]
    told.sort(key=lambda place: not keeping[place])
    many = sum(row.limit is not None for row in rows) + len(by_time)
    return [*_targets(columns, keeping, many), *(_gain_and_cost(columns, rows, place) for place in told)]


def grounds(columns: Sequence[Column], rows: Sequence[MeasureRow]) -> str:
    """Return what a comparison rests on: how many replications, on the same luck or not, and the level of intervals."""
    fewest = min((cell.difference.n for row in rows for cell in row.cells if cell.difference), default=0)
    level = f"Intervals at {100 * columns[0].results.confidence:g} %"
    many = len(columns) - 1
    adjusted = f"{level}, adjusted for {many} comparisons." if many > 1 else f"{level}."
    luck = "the same cases with the same luck in each"
    if len({column.study.run.seed for column in columns}) > 1:
        luck = "with different seeds: with one and the same seed the comparison gets sharper"
    if fewest < 2:
        return "One replication each says nothing about luck: run 10 or more."
    return f"{fewest} replications of {columns[0].study.run.length} side by side, {luck}. {adjusted}"


def _worth_telling(rows: Sequence[MeasureRow], keeping: Sequence[bool]) -> list[int]:
    """Return the scenarios that are worth a sentence among many: of those that keep all targets, else of all.

    The cheapest comes first, of equally cheap ones the one with the best first measure; then the one best in that.
    """
    cost, first = _row_of(rows, COST), rows[0]
    places = [place for place in range(1, len(first.cells)) if keeping[place]]
    of = places or list(range(1, len(first.cells)))
    by_measure = sorted(of, key=lambda place: -first.title.better * _mean(first.cells[place]))
    by_cost = sorted(by_measure, key=lambda place: _mean(cost.cells[place]) if cost else 0.0)
    return list(dict.fromkeys([by_cost[0], by_measure[0]]))


def _is_the_same(rows: Sequence[MeasureRow], place: int) -> bool:
    return all(row.cells[place].verdict in (Verdict.SAME, None) for row in rows)


def _keeps_all(rows: Sequence[MeasureRow], by_time: Sequence[ByTimeRow], place: int) -> bool:
    asked = [row.cells[place].keeps for row in rows if row.limit] + [row.cells[place].keeps for row in by_time]
    return bool(asked) and all(keeps is Keeps.KEPT for keeps in asked)


def _targets(columns: Sequence[Column], keeps: Sequence[bool], many: int) -> list[Sentence]:
    """Say which columns keep every one of so many targets."""
    if many == 0:
        return []
    what = {1: "the target", 2: "both targets"}.get(many, f"all {many} targets")
    keeping = [column.name for column, all_of_them in zip(columns, keeps, strict=True) if all_of_them]
    if not keeping:
        return [[plain(f"None of the {len(columns)} keeps {what} for certain.")]]
    if len(keeping) > MOST_TOLD:
        return [[value(f"{len(keeping)} of {len(columns)}"), plain(f" keep {what}.")]]
    verb = "keeps" if len(keeping) == 1 else "keep"
    return [[value(listed([f"“{name}”" for name in keeping])), plain(f" {verb} {what}.")]]


def _gain_and_cost(columns: Sequence[Column], rows: Sequence[MeasureRow], place: int) -> Sentence:
    """Say what one scenario does to the first measure that is no cost, and to the cost."""
    cost = _row_of(rows, COST)
    first = next((row for row in rows if row.title.unit is not Unit.MONEY), None)
    sentence = [plain(f"“{columns[place].name}” ")]
    if first:
        sentence += _gain(first, place, columns[0].study.currency)
    if cost and cost.cells[place].difference:
        sentence += [plain(" and " if first else ""), *_cost(cost, place, columns[0].study.currency)]
    return [*sentence, plain(".")]


def _gain(row: MeasureRow, place: int, currency: str) -> Sentence:
    """Say what a scenario does to a measure."""
    cell, name = row.cells[place], measure_words(row.title)
    if cell.difference is None or cell.difference.mean is None or cell.figure is None:
        return [plain(f"has no {name}")]
    if cell.verdict is Verdict.UNCLEAR:
        return [plain(f"makes no clear difference to {name}")]
    if cell.verdict is Verdict.SAME:
        return [plain(f"leaves {name} as it is")]
    less = cell.difference.mean < 0
    if row.title.unit is Unit.MINUTES:
        size = value(spoken(abs(cell.difference.mean)), row.address)
        return [plain("takes " if less else "adds "), size, plain(f" {'off' if less else 'to'} {name}")]
    before, after = (figure_words(_mean(each), row.title.unit, currency) for each in (row.cells[0], cell))
    return [plain(f"{'lowers' if less else 'raises'} {name} from {before} to "), value(after, row.address)]


def _cost(row: MeasureRow, place: int, currency: str) -> Sentence:
    """Say what a scenario costs against the baseline."""
    cell = row.cells[place]
    mean = cell.difference.mean if cell.difference else None
    if not mean or cell.verdict is Verdict.SAME:
        return [plain("costs the same")]
    if cell.verdict is Verdict.UNCLEAR:
        return [plain("costs about the same")]
    return [plain("costs " if mean > 0 else "saves "), value(f"{money(abs(mean), currency)} a day", row.address)]


def _row_of(rows: Sequence[MeasureRow], address: str) -> MeasureRow | None:
    return next((row for row in rows if row.address == address), None)


def _mean(cell: Cell) -> float:
    return cell.figure.mean if cell.figure and cell.figure.mean is not None else 0.0
