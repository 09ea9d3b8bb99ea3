"""Scenarios side by side, of one run or of several, also of different versions of a study."""

from collections import Counter
from typing import Annotated, Any

from django.http import HttpRequest
from ninja import Query, Router, Schema

from flowcore.findings.comparison import grounds, verdict_sentences
from flowcore.findings.words import Words
from flowcore.problems import StudyError, error_at
from flowcore.reports.comparison import Column, MeasureRow, TradeOff, measure_rows, measures_of, telling, trade_off
from flowcore.study.base import Text
from flowcore.study.differences import Change, differences
from urbanqueue.api.errors import Problems
from urbanqueue.api.people import person_of
from urbanqueue.api.reading import computed
from urbanqueue.runs.models import Part
from urbanqueue.runs.policies import RunPolicy
from urbanqueue.runs.samples import some_results_of, study_of
from urbanqueue.studies.policies import StudyPolicy

router = Router(tags=["runs"], by_alias=True)

MOST_COLUMNS = 201
COST, WAIT = "cost/total/per:day", "type/all/wait/mean"
Question = tuple[tuple[int, ...], tuple[str, ...], tuple[str, str], tuple[str, ...], tuple[str, ...]]
"""Parts of runs, measures, two figures to trade off, measures of which more is better, those of which less."""


class ScenarioColumn(Schema):
    """A scenario as it was run, where its levers stand, and what differs in it from the first column."""

    run: int
    number: int
    version: int
    scenario: str
    name: str
    done: int
    levers: dict[str, Any]
    changes: list[Change]


class Comparison(Schema):
    """Scenarios side by side: the first is the baseline of all differences."""

    columns: list[ScenarioColumn]
    rows: list[MeasureRow]
    sentences: list[list[Words]]
    grounds: str
    confidence: float
    trade_off: TradeOff


@router.get(
    "/studies/{study_id}/comparison",
    response={200: Comparison, 404: Problems, 422: Problems, 503: Problems},
    operation_id="compareScenarios",
    summary="Compare",
)
def compare_scenarios(
    request: HttpRequest,
    study_id: int,
    column: Annotated[list[Text], Query(max_length=MOST_COLUMNS)],
    address: Annotated[list[Text], Query(max_length=100)] = [],  # noqa: B006
    more_is_better: Annotated[list[Text], Query(max_length=100)] = [],  # noqa: B006
    less_is_better: Annotated[list[Text], Query(max_length=100)] = [],  # noqa: B006
    across: Text = COST,
    up: Text = WAIT,
) -> Any:
    """Compare scenarios with the first one, pair by pair; without addresses, by the targets and the main measures.

    A column is a run and a scenario of it, such as `12:one-more`, or `12:` for the study as it is.
    """
    person = person_of(request)
    study = StudyPolicy(person).get(study_id)
    runs = {run.pk: run for run in RunPolicy(person).visible().filter(version__study=study)}
    parts = []
    for each in column:
        number, _, scenario = each.partition(":")
        run = runs.get(int(number)) if number.isdecimal() and len(number) < 10 else None
        part = next((part for part in run.parts.all() if part.scenario == scenario), None) if run else None
        if part is None:
            raise StudyError([error_at("column", f"“{each}” has not been run.", "Choose a scenario of a run.")])
        parts.append(part)
    if not parts:
        raise StudyError([error_at("column", "Nothing is chosen.", "Choose a baseline and what to compare it with.")])
    question = (tuple(address), (across, up), tuple(more_is_better), tuple(less_is_better))
    return computed(_comparison, parts, *question)


def _comparison(question: Question) -> Comparison:
    pks, asked, (across, up), more, less = question
    found = Part.objects.select_related("sample", "run__version").in_bulk(pks)
    parts = [found[pk] for pk in pks]
    studies = [study_of(part) for part in parts]
    known = list(dict.fromkeys(address for part in parts for address in part.sample.addresses))
    addresses = measures_of(studies[0], known, asked)
    columns = [
        Column(name, study, some_results_of(part, [*addresses, across, up]))
        for name, part, study in zip(_names(parts), parts, studies, strict=True)
    ]
    rows = measure_rows(columns, addresses, {each: 1 for each in more} | {each: -1 for each in less})
    rows = rows if asked else telling(rows, studies[0])
    return Comparison(
        columns=[
            _column(part, column.name, differences(studies[0], column.study))
            for part, column in zip(parts, columns, strict=True)
        ],
        rows=rows,
        sentences=verdict_sentences(columns, rows),
        grounds=grounds(columns, rows),
        confidence=columns[0].results.confidence,
        trade_off=trade_off(columns, across, up),
    )


def _names(parts: list[Part]) -> list[str]:
    """Return what the columns are called: by the run too where one scenario is there twice."""
    many = Counter(part.name for part in parts)
    return [part.name if many[part.name] == 1 else f"{part.name}, {_run_name(part)}" for part in parts]


def _run_name(part: Part) -> str:
    return part.run.name or f"run {part.run.number}"


def _column(part: Part, name: str, changes: list[Change]) -> ScenarioColumn:
    scenarios = {each["id"]: each for each in part.run.version.document.get("scenarios", [])}
    return ScenarioColumn(
        run=part.run_id,
        number=part.run.number,
        version=part.run.version.number,
        scenario=part.scenario,
        name=name,
        done=part.done,
        levers=scenarios.get(part.scenario, {}).get("levers", {}),
        changes=changes,
    )
