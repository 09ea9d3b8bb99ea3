"""Runs: start, watch, stop, read, compare."""

from collections.abc import Callable
from datetime import datetime
from math import isnan
from typing import Annotated, Any, TypeVar

from django.http import HttpRequest
from ninja import Query, Router, Schema, Status

from flowcore.problems import Problem, error_at
from flowcore.results.catalogue import Title, main_measures, titled
from flowcore.results.comparison import Difference, compare
from flowcore.results.cost_lines import CostLine, cost_lines
from flowcore.results.headline import Words, headline
from flowcore.results.statistics import Estimate
from flowcore.results.steady_state import doubts, proposed_warm_up
from flowcore.study.differences import Change, differences
from urbanqueue.api.aside import Busy, figures
from urbanqueue.api.errors import Problems
from urbanqueue.api.people import person_of
from urbanqueue.runs import actions
from urbanqueue.runs.models import Run
from urbanqueue.runs.policies import RunPolicy
from urbanqueue.studies.actions import document_of
from urbanqueue.studies.policies import StudyPolicy

router = Router(tags=["runs"], by_alias=True)

MOST_LISTED = 100
FEW_REPLICATIONS = 200
Question = tuple[tuple[int, ...], tuple[str, ...]]
"""Runs, and the addresses of figures."""
Answer = TypeVar("Answer")


class RunEntry(Schema):
    """A run: what it runs and how far it is."""

    id: int
    study: int
    version: int
    number: int
    state: Run.State
    replications: int
    done: int
    length: str
    warm_up: str
    engine: str
    problem: str
    created_at: datetime
    finished_at: datetime | None


class Waits(Schema):
    """How long the cases of all replications waited: counts in bins of equal width from zero."""

    subject: str
    width: float
    counts: list[int]


class Figures(Schema):
    """What a run says, in a sentence and in figures, and what makes it doubtful, gravest first.

    `bins` tells of shares within a time that were read from bins so many minutes wide. The proposed warm-up is in
    minutes.
    """

    confidence: float
    replications: int
    headline: list[Words]
    doubts: list[Problem]
    proposed_warm_up: float | None
    figures: dict[str, Estimate]
    costs: list[CostLine]
    bins: dict[str, float]
    waits: list[Waits]


class RunComparison(Schema):
    """Two runs side by side."""

    pairs: int
    same_luck: bool
    confidence: float
    changes: list[Change]
    differences: list[Difference]
    titles: dict[str, Title]


def _entry(run: Run) -> RunEntry:
    return RunEntry(
        id=run.pk,
        study=run.version.study_id,
        version=run.version.number,
        number=run.number,
        state=Run.State(run.state),
        replications=run.replications,
        done=run.done,
        length=run.settings["length"],
        warm_up=run.settings["warm_up"],
        engine=run.engine,
        problem=run.problem,
        created_at=run.created_at,
        finished_at=run.finished_at,
    )


@router.post(
    "/studies/{study_id}/runs",
    response={201: RunEntry, 404: Problems, 422: Problems},
    operation_id="startRun",
    summary="Run",
)
def start_run(request: HttpRequest, study_id: int) -> Status[RunEntry]:
    """Run the current version of a study with the settings in its document."""
    study = StudyPolicy(person_of(request)).get(study_id)
    return Status(201, _entry(actions.start_run(study)))


@router.get(
    "/studies/{study_id}/runs", response={200: list[RunEntry], 404: Problems}, operation_id="listRuns", summary="Runs"
)
def list_runs(request: HttpRequest, study_id: int, before: int | None = None) -> list[RunEntry]:
    """List the latest runs of a study, the latest first; those `before` a number are older."""
    study = StudyPolicy(person_of(request)).get(study_id)
    runs = actions.runs_of(study).order_by("-number")
    older = runs if before is None else runs.filter(number__lt=before)
    return [_entry(run) for run in older[:MOST_LISTED]]


@router.get("/runs/{run_id}", response={200: RunEntry, 404: Problems}, operation_id="getRun", summary="One run")
def get_run(request: HttpRequest, run_id: int) -> RunEntry:
    """Say how far a run is."""
    run = RunPolicy(person_of(request)).get(run_id)
    return _entry(run)


@router.post("/runs/{run_id}/cancel", response={200: RunEntry, 404: Problems}, operation_id="stopRun", summary="Stop")
def cancel_run(request: HttpRequest, run_id: int) -> RunEntry:
    """Stop a run and keep the replications that are done."""
    policy = RunPolicy(person_of(request))
    actions.stop_run(policy.get(run_id))
    run = policy.get(run_id)
    return _entry(run)


@router.get(
    "/runs/{run_id}/figures",
    response={200: Figures, 404: Problems, 503: Problems},
    operation_id="getFigures",
    summary="Figures",
)
def get_figures(
    request: HttpRequest,
    run_id: int,
    address: Annotated[list[str], Query()] = [],  # noqa: B006
) -> Any:
    """Return figures with their intervals, over the replications that are done; without addresses, all."""
    return _computed(_figures, [RunPolicy(person_of(request)).get(run_id)], address)


def _figures(question: Question) -> Figures:
    [run], address = _runs_of(question)
    results = actions.results_of(run)
    study = document_of(run.version)
    asked = {each: results.figure(each) for each in address if results.has(each)}
    return Figures(
        confidence=results.confidence,
        replications=len(results.replications),
        headline=headline(study, results),
        doubts=doubts(study, results),
        proposed_warm_up=proposed_warm_up(study, results),
        figures=asked if address else results.figures(),
        costs=[] if address else cost_lines(study, lambda each: results.figure(each).mean),
        bins={each: width for each in asked if (width := results.bin_of(each)) is not None},
        waits=[
            Waits(subject=subject, width=waits.width, counts=list(waits.counts))
            for subject, waits in results.waits().items()
        ],
    )


@router.get(
    "/runs/{run_id}/replications",
    response={200: dict[str, list[float | None]], 404: Problems, 503: Problems},
    operation_id="getReplications",
    summary="Figures per replication",
)
def get_replications(
    request: HttpRequest,
    run_id: int,
    address: Annotated[list[str], Query()] = [],  # noqa: B006
) -> Any:
    """Return the values of figures replication by replication; without addresses, of all."""
    return _computed(_replications, [RunPolicy(person_of(request)).get(run_id)], address)


def _replications(question: Question) -> dict[str, list[float | None]]:
    [run], address = _runs_of(question)
    return {
        each: [None if isnan(value) else value for value in column.tolist()]
        for each, column in actions.results_of(run).values.items()
        if not address or each in address
    }


@router.get(
    "/runs/{run_id}/against/{other_id}",
    response={200: RunComparison, 404: Problems, 503: Problems},
    operation_id="compareRuns",
    summary="Compare",
)
def compare_runs(
    request: HttpRequest,
    run_id: int,
    other_id: int,
    address: Annotated[list[str], Query()] = [],  # noqa: B006
) -> Any:
    """Compare another run with this one, pair by pair; without addresses, the main measures."""
    policy = RunPolicy(person_of(request))
    return _computed(_against, [policy.get(run_id), policy.get(other_id)], address)


def _against(question: Question) -> RunComparison:
    (first, other), address = _runs_of(question)
    before, after = document_of(first.version), document_of(other.version)
    ours, theirs = actions.results_of(first), actions.results_of(other)
    places = [{row.number: place for place, row in enumerate(each.replications)} for each in (ours, theirs)]
    common = sorted(places[0].keys() & places[1].keys())
    chosen = [each for each in address or main_measures(list(ours.values)) if ours.has(each) and theirs.has(each)]
    return RunComparison(
        pairs=len(common),
        same_luck=before.run.seed == after.run.seed,
        confidence=ours.confidence,
        changes=differences(before, after),
        titles={each: title for each in chosen if (title := titled(each, after))},
        differences=[
            compare(
                each,
                ours.contributions(each)[[places[0][n] for n in common]],
                theirs.contributions(each)[[places[1][n] for n in common]],
                ours.confidence,
            )
            for each in chosen
        ],
    )


def _computed(function: Callable[[Question], Answer], runs: list[Run], address: list[str]) -> Answer | Status[Problems]:
    """Return what a function says of runs: at once where little is to be read, else from the process beside."""
    question = (tuple(run.pk for run in runs), tuple(address))
    if sum(run.done for run in runs) <= FEW_REPLICATIONS:
        return function(question)
    try:
        return figures.compute(function, question)
    except Busy:
        problem = error_at("run", "Others' figures are being put together.", "It is tried again in a moment.")
        return Status(503, Problems(problems=[problem]))


def _runs_of(question: Question) -> tuple[list[Run], tuple[str, ...]]:
    pks, address = question
    return [Run.objects.select_related("version").get(pk=pk) for pk in pks], address
