"""Scenarios side by side, of one run or of several, also of different versions of a study."""

from collections import Counter
from collections.abc import Sequence
from typing import Annotated, Any

from django.http import HttpRequest
from ninja import Query, Router, Schema

from flowcore.findings.comparison import ByTimeRow, by_time_rows, grounds, verdict_sentences
from flowcore.findings.words import Words
from flowcore.problems import StudyError, error_at
from flowcore.reports.comparison import Column, MeasureRow, TradeOff, measure_rows, measures_of, telling, trade_off
from flowcore.reports.pair import ScenarioPair, pair_of
from flowcore.reports.response import Family, MovedLever, families, moved_levers
from flowcore.study.base import Text
from flowcore.study.differences import Change, differences
from urbanqueue.api.errors import Problems
from urbanqueue.api.people import person_of
from urbanqueue.api.reading import computed
from urbanqueue.runs.models import Part
from urbanqueue.runs.policies import RunPolicy
from urbanqueue.runs.samples import some_results_of, study_of
from urbanqueue.studies.actions import current_version, document_of
from urbanqueue.studies.models import Version
from urbanqueue.studies.policies import StudyPolicy

router = Router(tags=["runs"], by_alias=True)

MOST_COLUMNS = 201
WHOLE_RUN = "*"
COST, WAIT = "cost/total/per:day", "type/all/wait/mean"
Addresses = tuple[str, ...]
Question = tuple[tuple[int, ...], int, Addresses, tuple[str, str], Addresses, Addresses, Addresses]
"""Parts; whose targets hold; measures; two to trade off; of which more, of which less is better; levers."""
PairQuestion = tuple[tuple[int, ...], str]
"""Two parts, and a figure."""


class ScenarioColumn(Schema):
    """A scenario as it was run, and what differs in it from the first column."""

    run: int
    number: int
    version: int
    scenario: str
    name: str
    done: int
    changes: list[Change]


class Comparison(Schema):
    """Scenarios side by side: the first is the baseline of all differences.

    `levers` are those that do not stand the same in all columns; `families` are the columns that differ in nothing
    but the levers `by` id: those asked about, else the first.
    """

    columns: list[ScenarioColumn]
    rows: list[MeasureRow]
    by_time: list[ByTimeRow]
    sentences: list[list[Words]]
    grounds: str
    trade_off: TradeOff
    levers: list[MovedLever]
    by: list[str]
    families: list[Family]


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
    without: Annotated[list[Text], Query(max_length=MOST_COLUMNS)] = [],  # noqa: B006
    address: Annotated[list[Text], Query(max_length=100)] = [],  # noqa: B006
    more_is_better: Annotated[list[Text], Query(max_length=100)] = [],  # noqa: B006
    less_is_better: Annotated[list[Text], Query(max_length=100)] = [],  # noqa: B006
    across: Text = COST,
    up: Text = WAIT,
    lever: Annotated[list[Text], Query(max_length=2)] = [],  # noqa: B006
) -> Any:
    """Compare scenarios with the first one, pair by pair; without addresses, by the targets and the main measures.

    The targets are those of the study as it is now. A column is a run and a scenario of it, such as `12:one-more`, or
    `12:` for the study as it is; `12:*` are all of a run that are neither named themselves nor `without`.
    """
    parts = parts_of(request, study_id, column, without)
    now = current_version(StudyPolicy(person_of(request)).get(study_id)).pk
    question = (now, tuple(address), (across, up), tuple(more_is_better), tuple(less_is_better), tuple(lever))
    return computed(compared, parts, *question)


@router.get(
    "/studies/{study_id}/comparison/pair",
    response={200: ScenarioPair, 404: Problems, 422: Problems, 503: Problems},
    operation_id="comparePair",
    summary="Two scenarios over each other",
)
def compare_pair(request: HttpRequest, study_id: int, first: Text, other: Text, address: Text = WAIT) -> Any:
    """Lay two scenarios over each other: how a figure spreads in both, and the cases inside by the hour of the week."""
    return computed(_pair, [parts_of(request, study_id, [each])[0] for each in (first, other)], address)


def parts_of(request: HttpRequest, study_id: int, asked: list[str], without: Sequence[str] = ()) -> list[Part]:
    """Return the parts of runs that columns name, in their order; raises StudyError for what was not run."""
    person = person_of(request)
    study = StudyPolicy(person).get(study_id)
    runs = {run.pk: run for run in RunPolicy(person).visible().filter(version__study=study)}
    parts: list[Part] = []
    for each in asked:
        number, _, scenario = each.partition(":")
        run = runs.get(int(number)) if number.isdecimal() and len(number) < 10 else None
        found = [part for part in run.parts.all() if _is_meant(part, scenario, (*asked, *without))] if run else []
        if not found:
            raise StudyError([error_at("column", f"“{each}” has not been run.", "Choose a scenario of a run.")])
        parts += found
    if not parts:
        raise StudyError([error_at("column", "Nothing is chosen.", "Choose a baseline and what to compare it with.")])
    if len(parts) > MOST_COLUMNS:
        raise StudyError([error_at("column", f"{len(parts)} scenarios are too many.", f"Choose up to {MOST_COLUMNS}.")])
    return parts


def _is_meant(part: Part, scenario: str, named: Sequence[str]) -> bool:
    """Say whether a column means a part: by its name, or as one of a whole run that is not named itself."""
    if scenario != WHOLE_RUN:
        return part.scenario == scenario
    return part.done > 0 and f"{part.run_id}:{part.scenario}" not in named


def compared(question: Question) -> Comparison:
    """Compare parts of runs with the first of them."""
    pks, now, asked, (across, up), more, less, asked_levers = question
    parts = _parts(pks)
    wanted = document_of(Version.objects.get(pk=now)).targets
    studies = [study_of(part).model_copy(update={"targets": wanted}) for part in parts]
    known = list(dict.fromkeys(address for part in parts for address in part.sample.addresses))
    addresses = measures_of(studies[0], known, asked)
    columns = [
        Column(name, study, some_results_of(part, [*addresses, across, up]), _levers_of(part))
        for name, part, study in zip(_names(parts), parts, studies, strict=True)
    ]
    rows = measure_rows(columns, addresses, {each: 1 for each in more} | {each: -1 for each in less})
    rows = rows if asked else telling(rows, studies[0])
    by_time = by_time_rows(columns)
    levers = moved_levers(columns)
    moved = [lever.id for lever in levers]
    by = [each for each in dict.fromkeys(asked_levers) if each in moved] or moved[:1]
    return Comparison(
        columns=[
            _column(part, column.name, differences(studies[0], column.study))
            for part, column in zip(parts, columns, strict=True)
        ],
        rows=rows,
        by_time=by_time,
        sentences=verdict_sentences(columns, rows, by_time),
        grounds=grounds(columns, rows),
        trade_off=trade_off(columns, across, up),
        levers=levers,
        by=by,
        families=families(columns, levers, by),
    )


def _pair(question: PairQuestion) -> ScenarioPair:
    pks, address = question
    first, other = [
        Column(part.name, study_of(part), some_results_of(part, [address], with_inside=True)) for part in _parts(pks)
    ]
    return pair_of(first, other, address)


def _parts(pks: tuple[int, ...]) -> list[Part]:
    found = Part.objects.select_related("sample", "run__version").in_bulk(pks)
    return [found[pk] for pk in pks]


def _levers_of(part: Part) -> dict[str, Any]:
    """Return where a scenario set the levers in the version that was run."""
    scenarios = {each["id"]: each for each in part.run.version.document.get("scenarios", [])}
    levers: dict[str, Any] = scenarios.get(part.scenario, {}).get("levers", {})
    return levers


def _names(parts: list[Part]) -> list[str]:
    """Return what the columns are called: by the run too where one scenario is there twice."""
    many = Counter(part.name for part in parts)
    return [part.name if many[part.name] == 1 else f"{part.name}, {_run_name(part)}" for part in parts]


def _run_name(part: Part) -> str:
    return part.run.name or f"run {part.run.number}"


def _column(part: Part, name: str, changes: list[Change]) -> ScenarioColumn:
    return ScenarioColumn(
        run=part.run_id,
        number=part.run.number,
        version=part.run.version.number,
        scenario=part.scenario,
        name=name,
        done=part.done,
        changes=changes,
    )
