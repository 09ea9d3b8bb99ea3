"""Logs: bring a file, look how it is read, let it be read, and what is found in it, and what that says of a study."""

from datetime import date, datetime
from typing import Annotated, Any

from django.http import HttpRequest
from ninja import Query, Router, Schema, Status

from flowcore.calibration.found import LogFound
from flowcore.calibration.proposals import Proposals
from flowcore.calibration.proposals.matching import Matching
from flowcore.discovery.drafts import Draft
from flowcore.logs.doubts import Doubt, Treatment
from flowcore.logs.looks import LogLook
from flowcore.logs.reading import Report
from flowcore.logs.recognising import Preview
from flowcore.logs.roles import Reading
from flowcore.problems import Problem
from flowcore.reports.log_check import LogCheck, checked, measures_of, weekly_quantities
from flowcore.results.catalogue import MINUTES_COUNTED
from flowcore.study import StudyDocument
from flowcore.study.base import Text
from urbanqueue.api.errors import Problems
from urbanqueue.api.files import SENT_AS_BYTES, sent_pieces
from urbanqueue.api.people import person_of
from urbanqueue.api.reading import figures_at, part_of, summed_up
from urbanqueue.logs import actions
from urbanqueue.logs.models import LogFile
from urbanqueue.logs.policies import LogPolicy
from urbanqueue.runs.samples import study_of
from urbanqueue.studies.policies import StudyPolicy

router = Router(tags=["logs"], by_alias=True)

Name = Annotated[str, Query(min_length=1, max_length=200)]


class LogEntry(Schema):
    """A log file: whose, how far it is, how it is read, and what is done about what is doubtful in it.

    `rows` are those read so far, `share` is how much has been found of what can be.
    """

    id: int
    name: str
    size: int
    brought_by: str | None
    brought_at: datetime
    state: LogFile.LogState
    rows: int
    share: float
    problems: list[Problem]


class LogRead(LogEntry):
    """A log file with all that is known of it: none of what has not been done yet."""

    preview: Preview
    reading: Reading | None
    treatment: Treatment
    matching: Matching
    report: Report | None
    doubts: list[Doubt] | None
    look: LogLook | None


def _entry(log: LogFile) -> dict[str, Any]:
    return {
        "id": log.pk,
        "name": log.name,
        "size": log.size,
        "brought_by": log.brought_by.name if log.brought_by else None,
        "brought_at": log.brought_at,
        "state": LogFile.LogState(log.state),
        "rows": log.rows,
        "share": log.share,
        "problems": log.problems,
    }


def _whole(log: LogFile) -> dict[str, Any]:
    known = ("preview", "reading", "treatment", "matching", "report", "doubts", "look")
    return _entry(log) | {name: getattr(log, name) for name in known}


@router.post(
    "/studies/{study_id}/logs",
    response={201: LogRead, 404: Problems, 422: Problems},
    operation_id="bringLog",
    summary="Bring a log file",
    openapi_extra=SENT_AS_BYTES,
)
def bring_log(request: HttpRequest, study_id: int, name: Name) -> Status[dict[str, Any]]:
    """Keep a log file (CSV, XLSX or XES, also gzipped) with a study, and recognise how it is read."""
    person = person_of(request)
    log = actions.bring_log(StudyPolicy(person).get(study_id), person, name, sent_pieces(request))
    return Status(201, _whole(log))


@router.get(
    "/studies/{study_id}/logs",
    response={200: list[LogEntry], 404: Problems},
    operation_id="listLogs",
    summary="Logs of a study",
)
def list_logs(request: HttpRequest, study_id: int) -> list[dict[str, Any]]:
    """Return the logs that were brought to a study, the latest first."""
    person = person_of(request)
    study = StudyPolicy(person).get(study_id)
    heavy = ("preview", "report", "doubts", "look", "found")
    return [_entry(log) for log in LogPolicy(person).visible().filter(study=study).defer(*heavy)]


@router.get("/logs/{log_id}", response={200: LogRead, 404: Problems}, operation_id="readLog", summary="A log")
def read_log(request: HttpRequest, log_id: int) -> dict[str, Any]:
    """Return a log with how it is read and what it is like."""
    return _whole(LogPolicy(person_of(request)).get(log_id))


@router.post(
    "/logs/{log_id}/recognised",
    response={200: Preview, 404: Problems, 422: Problems},
    operation_id="recogniseLog",
    summary="How a log would be read",
)
def recognise_log(request: HttpRequest, log_id: int, wanted: Reading) -> Preview:
    """Return how a log is read most likely in an encoding, with a separator, or of a sheet that is chosen."""
    return actions.recognise_anew(LogPolicy(person_of(request)).get(log_id), wanted)


@router.put(
    "/logs/{log_id}/reading",
    response={200: LogRead, 404: Problems, 422: Problems},
    operation_id="readLogAs",
    summary="Read a log",
)
def read_log_as(request: HttpRequest, log_id: int, reading: Reading) -> dict[str, Any]:
    """Let a log be read, as its columns are said to be; a worker does it."""
    return _whole(actions.read_as(LogPolicy(person_of(request)).get(log_id), reading))


@router.put(
    "/logs/{log_id}/treatment",
    response={200: LogRead, 404: Problems, 422: Problems},
    operation_id="treatLog",
    summary="Treat what is doubtful",
)
def treat_log(request: HttpRequest, log_id: int, treatment: Treatment) -> dict[str, Any]:
    """Say what is done about what is doubtful in a log; all is found anew, by a worker."""
    return _whole(actions.treat(LogPolicy(person_of(request)).get(log_id), treatment))


@router.get(
    "/logs/{log_id}/found",
    response={200: LogFound, 404: Problems, 422: Problems},
    operation_id="foundInLog",
    summary="What is found in a log",
)
def found_in_log(request: HttpRequest, log_id: int) -> Any:
    """Return what can be taken from a log: durations, patience, shares, arrivals and shifts, each with its interval."""
    return actions.found_of(LogPolicy(person_of(request)).get(log_id))


@router.put(
    "/logs/{log_id}/matching",
    response={200: LogRead, 404: Problems, 422: Problems},
    operation_id="matchLog",
    summary="What names stand for",
)
def match_log(request: HttpRequest, log_id: int, matching: Matching) -> dict[str, Any]:
    """Say for which steps and case types of the study the names of a log stand."""
    return _whole(actions.match(LogPolicy(person_of(request)).get(log_id), matching))


@router.post(
    "/logs/{log_id}/proposals",
    response={200: Proposals, 404: Problems, 422: Problems},
    operation_id="proposeFromLog",
    summary="What a log proposes",
)
def propose_from_log(request: HttpRequest, log_id: int, document: StudyDocument) -> Proposals:
    """Return what a log says beside what a document, saved or not, has: each value with what it rests on."""
    return actions.proposals_of(LogPolicy(person_of(request)).get(log_id), document)


@router.get(
    "/logs/{log_id}/draft",
    response={200: Draft, 404: Problems, 422: Problems},
    operation_id="draftFromLog",
    summary="A flow from a log",
)
def draft_from_log(request: HttpRequest, log_id: int, covers: Annotated[float, Query(ge=0.1, le=1)] = 0.9) -> Draft:
    """Return the simplest flow that covers a share of a log's cases, with types, arrivals, teams and durations."""
    return actions.draft_of(LogPolicy(person_of(request)).get(log_id), covers, date.today().isoformat())


@router.get(
    "/logs/{log_id}/check",
    response={200: LogCheck, 404: Problems, 422: Problems, 503: Problems},
    operation_id="checkAgainstLog",
    summary="Log beside simulated",
)
def check_against_log(
    request: HttpRequest, log_id: int, run_id: int, scenario: Annotated[Text | None, Query()] = None
) -> Any:
    """Set what a log measures beside what a scenario of a run says."""
    log = LogPolicy(person_of(request)).get(log_id)
    part = part_of(request, run_id, scenario)
    study, found = study_of(part), LogFound.model_validate(actions.found_of(log))
    names = Matching.model_validate(log.matching)
    observed = measures_of(study, found, names, f"{log.name}, {log.rows:,} rows")
    figures = figures_at(part, [MINUTES_COUNTED, *(each.figure for each in observed)])
    weeks = summed_up(part, "weeks")
    if isinstance(figures, Status) or isinstance(weeks, Status):
        return figures if isinstance(figures, Status) else weeks
    return checked(study, observed, figures, weeks, weekly_quantities(study, found, names))


@router.delete("/logs/{log_id}", response={204: None, 404: Problems}, operation_id="deleteLog", summary="Delete a log")
def delete_log(request: HttpRequest, log_id: int) -> Status[None]:
    """Take a log away for good, with all that was read of it; what was taken from it stays in the study."""
    actions.delete_log(LogPolicy(person_of(request)).get(log_id))
    return Status(204, None)
