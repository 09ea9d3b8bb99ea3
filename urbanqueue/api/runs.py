"""Runs: start, watch, stop, go on, read."""

from datetime import datetime
from math import isnan
from typing import Annotated, Any

from django.http import HttpRequest
from ninja import Query, Router, Schema, Status
from pydantic import Field, StringConstraints

from flowcore.engine import ENGINE
from flowcore.problems import error_at
from flowcore.reports.speed import seconds_a_replication
from flowcore.results.statistics import Estimate
from flowcore.study import RunSettings
from flowcore.study.base import Text
from urbanqueue.api.aside import Busy, pulses
from urbanqueue.api.errors import Problems, Sent
from urbanqueue.api.people import person_of
from urbanqueue.api.reading import computed, part_of
from urbanqueue.runs import actions
from urbanqueue.runs.estimate import Lacking, lacking_of
from urbanqueue.runs.models import Part, Run
from urbanqueue.runs.policies import RunPolicy
from urbanqueue.runs.queue import workers_for_one
from urbanqueue.runs.samples import results_of, some_results_of
from urbanqueue.studies.actions import current_version
from urbanqueue.studies.policies import StudyPolicy

router = Router(tags=["runs"], by_alias=True)

MOST_LISTED = 100
Question = tuple[tuple[int, ...], tuple[str, ...]]
"""Parts of runs, and the addresses of figures."""


class PartEntry(Schema):
    """A scenario of a run and how far it is; without an id the baseline. `stored` were there before the run began."""

    scenario: str
    name: str
    replications: int
    done: int
    stored: int
    problem: str


class Redrawn(Schema):
    """How far a run is drawn again, so that it tells own measures; what went wrong where that failed."""

    share: float
    problem: str


class RunEntry(Schema):
    """A run: what it runs and how far it is. `replications` and `done` are those of all its parts together.

    `each` is how many were wanted of each scenario at first. Whether one can go on with it depends on the engine.
    `seconds` is how long it was under way, as far as it is over.
    """

    id: int
    study: int
    version: int
    number: int
    name: str
    note: str
    started_by: str | None
    state: Run.State
    parts: list[PartEntry]
    replications: int
    done: int
    each: int
    length: str
    warm_up: str
    seed: int
    engine: str
    can_go_on: bool
    problem: str
    redrawn: Redrawn | None
    created_at: datetime
    finished_at: datetime | None
    seconds: float


class NewRun(Sent):
    """What to run: scenarios by id, "" for the baseline, by default all; and how, by default as the study says."""

    scenarios: Annotated[list[Annotated[str, StringConstraints(max_length=64)]], Field(max_length=201)] | None = None
    settings: RunSettings | None = None


class MoreReplications(Sent):
    """How many replications each scenario is to have in all."""

    replications: int


class PartEstimate(Schema):
    """How many replications of a scenario are wanted and stored, and about how many seconds the others will take."""

    scenario: str
    replications: int
    stored: int
    seconds: float


class RunEstimate(Schema):
    """About how many seconds a run will take in all, with as many workers as are there for it; None without any."""

    parts: list[PartEstimate]
    workers: int
    seconds: float | None


class RunNotes(Sent):
    """What a person calls a run, and writes beside it."""

    name: Annotated[str, StringConstraints(strip_whitespace=True, max_length=120)] | None = None
    note: Annotated[str, StringConstraints(max_length=4000)] | None = None


class Figures(Schema):
    """Figures of a run. `bins` tells of shares within a time that were read from bins so many minutes wide."""

    confidence: float
    replications: int
    figures: dict[str, Estimate]
    bins: dict[str, float]


def _entry(run: Run) -> RunEntry:
    parts = list(run.parts.all())
    return RunEntry(
        id=run.pk,
        study=run.version.study_id,
        version=run.version.number,
        number=run.number,
        name=run.name,
        note=run.note,
        started_by=run.started_by.name if run.started_by else None,
        state=Run.State(run.state),
        parts=[_part_entry(part) for part in parts],
        replications=sum(part.replications for part in parts),
        done=sum(part.done for part in parts),
        each=run.settings["replications"],
        length=run.settings["length"],
        warm_up=run.settings["warm_up"],
        seed=run.settings["seed"],
        engine=run.engine,
        can_go_on=run.engine == ENGINE,
        problem=_problem(parts),
        redrawn=_redrawn(run),
        created_at=run.created_at,
        finished_at=run.finished_at,
        seconds=run.took.total_seconds(),
    )


def _redrawn(run: Run) -> Redrawn | None:
    """Return how far a run is drawn again; None where it is not."""
    again = getattr(run, "redrawn_by", None)
    if again is None:
        return None
    parts = list(again.parts.all())
    wanted, done = (sum(getattr(part, what) for part in parts) for what in ("replications", "done"))
    return Redrawn(share=done / max(1, wanted), problem=_problem(parts))


def _part_entry(part: Part) -> PartEntry:
    return PartEntry(
        scenario=part.scenario,
        name=part.name,
        replications=part.replications,
        done=part.done,
        stored=part.stored,
        problem=part.problem,
    )


def _problem(parts: list[Part]) -> str:
    """Return what went wrong in a run: each trouble once, where it is not everywhere with the scenario's name."""
    told = dict.fromkeys(part.problem for part in parts if part.problem)
    if len(told) == 1 and all(part.problem for part in parts):
        return next(iter(told))
    return " ".join(f"{part.name}: {part.problem}" for part in parts if part.problem)


@router.post(
    "/studies/{study_id}/runs",
    response={201: RunEntry, 404: Problems, 422: Problems},
    operation_id="startRun",
    summary="Run",
)
def start_run(request: HttpRequest, study_id: int, payload: NewRun | None = None) -> Status[RunEntry]:
    """Run scenarios of the current version of a study; what was run before is read from there."""
    person = person_of(request)
    study = StudyPolicy(person).get(study_id)
    asked = payload or NewRun()
    run = actions.start_run(study, person, asked.scenarios, asked.settings)
    return Status(201, _entry(RunPolicy(person).get(run.pk)))


@router.post(
    "/studies/{study_id}/runs/estimate",
    response={200: RunEstimate, 404: Problems, 422: Problems, 503: Problems},
    operation_id="estimateRun",
    summary="How long it will take",
)
def estimate_run(request: HttpRequest, study_id: int, payload: NewRun | None = None) -> Any:
    """Say how long a run would take: by what was run before, else by a short try of its first scenario."""
    study = StudyPolicy(person_of(request)).get(study_id)
    asked = payload or NewRun()
    documents = actions.documents_of(current_version(study), asked.scenarios, asked.settings)
    lacking = lacking_of(study, documents)
    pace = 0.0
    if any(each.seconds is None for each in lacking):
        try:
            pace = pulses.compute(seconds_a_replication, next(iter(documents.values())))
        except Busy:
            problem = error_at("run", "Others are simulating right now.", "It is tried again in a moment.")
            return Status(503, Problems(problems=[problem]))
    return _estimate(lacking, pace)


def _estimate(lacking: list[Lacking], pace: float) -> RunEstimate:
    """Return what a run lacks as times, those that nobody knows by a pace: seconds for a replication."""
    workers = workers_for_one()
    parts = [
        PartEstimate(
            scenario=each.scenario,
            replications=each.replications,
            stored=each.stored,
            seconds=(pace if each.seconds is None else each.seconds) * (each.replications - each.stored),
        )
        for each in lacking
    ]
    whole = sum(part.seconds for part in parts) / workers if workers else None
    return RunEstimate(parts=parts, workers=workers, seconds=whole)


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


@router.patch(
    "/runs/{run_id}", response={200: RunEntry, 404: Problems, 422: Problems}, operation_id="nameRun", summary="Name"
)
def name_run(request: HttpRequest, run_id: int, payload: RunNotes) -> RunEntry:
    """Give a run a name and a note."""
    run = RunPolicy(person_of(request)).get(run_id)
    run.name = run.name if payload.name is None else payload.name
    run.note = run.note if payload.note is None else payload.note
    run.save(update_fields=["name", "note"])
    return _entry(run)


@router.delete("/runs/{run_id}", response={204: None, 404: Problems}, operation_id="deleteRun", summary="Delete")
def delete_run(request: HttpRequest, run_id: int) -> Status[None]:
    """Stop a run where it is under way, and take it away for good."""
    actions.delete_run(RunPolicy(person_of(request)).get(run_id))
    return Status(204, None)


@router.post("/runs/{run_id}/cancel", response={200: RunEntry, 404: Problems}, operation_id="stopRun", summary="Stop")
def cancel_run(request: HttpRequest, run_id: int) -> RunEntry:
    """Stop a run and keep the replications that are done."""
    policy = RunPolicy(person_of(request))
    actions.stop_run(policy.get(run_id))
    return _entry(policy.get(run_id))


@router.post(
    "/runs/{run_id}/more",
    response={200: RunEntry, 404: Problems, 422: Problems},
    operation_id="goOnWithRun",
    summary="Go on",
)
def go_on_with_run(request: HttpRequest, run_id: int, payload: MoreReplications) -> RunEntry:
    """Go on with a run that is over until each scenario has so many replications; what failed is tried again."""
    policy = RunPolicy(person_of(request))
    actions.go_on(policy.get(run_id), payload.replications)
    return _entry(policy.get(run_id))


@router.get(
    "/runs/{run_id}/figures",
    response={200: Figures, 404: Problems, 422: Problems, 503: Problems},
    operation_id="getFigures",
    summary="Figures",
)
def get_figures(
    request: HttpRequest,
    run_id: int,
    scenario: Annotated[Text | None, Query()] = None,
    address: Annotated[list[str], Query()] = [],  # noqa: B006
) -> Any:
    """Return figures with their intervals, over the replications that are done; without addresses, all.

    Without a scenario, those of the first one of the run.
    """
    return computed(_figures, [part_of(request, run_id, scenario)], tuple(address))


def _figures(question: Question) -> Figures:
    [part], address = _parts_of(question)
    results = some_results_of(part, address) if address else results_of(part)
    asked = {each: results.figure(each) for each in address if results.has(each)}
    return Figures(
        confidence=results.confidence,
        replications=len(results.replications),
        figures=asked if address else results.figures(),
        bins={each: width for each in asked if (width := results.bin_of(each)) is not None},
    )


@router.get(
    "/runs/{run_id}/replications",
    response={200: dict[str, list[float | None]], 404: Problems, 422: Problems, 503: Problems},
    operation_id="getReplications",
    summary="Figures per replication",
)
def get_replications(
    request: HttpRequest,
    run_id: int,
    scenario: Annotated[Text | None, Query()] = None,
    address: Annotated[list[str], Query()] = [],  # noqa: B006
) -> Any:
    """Return the values of figures replication by replication; without addresses, of all.

    Without a scenario, those of the first one of the run.
    """
    return computed(_replications, [part_of(request, run_id, scenario)], tuple(address))


def _replications(question: Question) -> dict[str, list[float | None]]:
    [part], address = _parts_of(question)
    results = some_results_of(part, address) if address else results_of(part)
    return {
        each: [None if isnan(value) else value for value in column.tolist()]
        for each, column in results.values.items()
        if not address or each in address
    }


def _parts_of(question: Question) -> tuple[list[Part], tuple[str, ...]]:
    pks, address = question
    return [Part.objects.select_related("sample", "run__version").get(pk=pk) for pk in pks], address
