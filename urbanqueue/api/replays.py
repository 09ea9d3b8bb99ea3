"""Replays: a replication of a document, saved or not, made again and told piece by piece; nothing of it is stored."""

import hashlib
from collections import OrderedDict
from collections.abc import Callable
from typing import Annotated, Any, Literal

from django.http import HttpRequest, HttpResponse
from ninja import Query, Router, Schema, Status

from flowcore.problems import error_at
from flowcore.replay.candidates import WorthWatching, worth_watching
from flowcore.replay.logbook import Asked, Logbook, LogKind, logbook
from flowcore.replay.outline import LongWaits, Outline, long_waits, outline_of
from flowcore.replay.recorder import Recorder
from flowcore.replay.shift import MemberTime, called, time_of_member
from flowcore.replay.way import Way, way_of
from flowcore.replay.written import written as piece_written
from flowcore.reports.event_log import LogWriter, event_log
from flowcore.study import StudyDocument, written
from flowcore.study.base import Text
from urbanqueue.api.aside import Answer, Busy, Question, replays
from urbanqueue.api.errors import Problems
from urbanqueue.api.files import written_as
from urbanqueue.api.people import person_of
from urbanqueue.api.reading import part_of
from urbanqueue.runs.samples import some_results_of, study_of

router = Router(tags=["replays"], by_alias=True)

MOST_KEPT = 3
A_DAY = 1440.0
MOST_NUMBER = 1_000_000
MOST_CASES = 1_000_000_000

Number = Annotated[int, Query(ge=0, le=MOST_NUMBER)]
Case = Annotated[int, Query(ge=1, le=MOST_CASES)]
Member = Annotated[int, Query(ge=1, le=MOST_NUMBER)]


class Watched(Schema):
    """What a scenario of a run was, and which of its replications are worth watching."""

    document: dict[str, Any]
    candidates: list[WorthWatching]


@router.get(
    "/runs/{run_id}/replay",
    response={200: Watched, 404: Problems},
    operation_id="replayOfRun",
    summary="What of a run can be watched",
)
def replay_of_run(request: HttpRequest, run_id: int, scenario: Annotated[Text | None, Query()] = None) -> Watched:
    """Return the document that a scenario of a run ran, and which replications are worth watching."""
    part = part_of(request, run_id, scenario)
    results = some_results_of(part, ["type/all/wait/mean"])
    return Watched(document=written(study_of(part)), candidates=worth_watching(results) if results.replications else [])


@router.post(
    "/replays/outline",
    response={200: Outline, 422: Problems, 503: Problems},
    operation_id="outlineReplay",
    summary="A replication at a glance",
)
def outline_replay(request: HttpRequest, document: StudyDocument, number: Number = 0) -> Status[Any]:
    """Return how long each line is when in a replication, and the moments worth going to."""
    return _computed(request, _outlined, (document, number))


@router.post(
    "/replays/piece",
    response={200: bytes, 422: Problems, 503: Problems},
    operation_id="pieceOfReplay",
    summary="A piece of a replay",
    openapi_extra=written_as("application/octet-stream"),
)
def piece_of_replay(
    request: HttpRequest,
    document: StudyDocument,
    begins: Annotated[float, Query(ge=0)],
    ends: Annotated[float, Query(ge=0)],
    number: Number = 0,
) -> Any:
    """Return what is seen between two times, in minutes since the start, at most a week.

    How that is written says `flowcore.replay.written`.
    """
    found = _computed(request, _piece, (document, number, begins, _a_week_at_most(begins, ends)))
    if found.status_code != 200:
        return found
    return HttpResponse(found.value, content_type="application/octet-stream", headers={"Content-Encoding": "gzip"})


@router.post(
    "/replays/logbook",
    response={200: Logbook, 422: Problems, 503: Problems},
    operation_id="logbookOfReplay",
    summary="What happened between two times",
)
def logbook_of_replay(
    request: HttpRequest,
    document: StudyDocument,
    begins: Annotated[float, Query(ge=0)],
    ends: Annotated[float, Query(ge=0)],
    number: Number = 0,
    case: Case | None = None,
    step: Annotated[Text | None, Query()] = None,
    team: Annotated[Text | None, Query()] = None,
    member: Member = 1,
    kind: Annotated[LogKind | None, Query()] = None,
) -> Status[Any]:
    """Return what happened between two times, in minutes since the start: all or some of it.

    That may be what happened to a case, at a step by its name, with a member of a team, or is of one kind.
    """
    whom = None if team is None else called(document, team, member)
    return _computed(request, _logbook, (document, number, begins, ends, Asked(case, step, whom, kind)))


@router.post(
    "/replays/way",
    response={200: Way, 422: Problems, 503: Problems},
    operation_id="wayOfCase",
    summary="The way of a case",
)
def way_of_case(request: HttpRequest, document: StudyDocument, case: Case, number: Number = 0) -> Status[Any]:
    """Return the way of a case through a replication: waits with their causes, work with whom, travel."""
    return _computed(request, _way, (document, number, case))


@router.post(
    "/replays/waits",
    response={200: LongWaits, 422: Problems, 503: Problems},
    operation_id="longWaits",
    summary="Who waited long",
)
def list_long_waits(
    request: HttpRequest,
    document: StudyDocument,
    over: Annotated[float, Query(ge=0)],
    step: Annotated[Text | None, Query()] = None,
    kind: Annotated[Text | None, Query(alias="type")] = None,
    number: Number = 0,
) -> Status[Any]:
    """Return who waited for more than so many minutes, at a step or at any one, of a type or of any, longest first."""
    return _computed(request, _waits, (document, number, over, step, kind))


@router.post(
    "/replays/log",
    response={200: bytes, 422: Problems, 503: Problems},
    operation_id="logOfReplay",
    summary="The event log as a file",
    openapi_extra=written_as("text/csv", "application/xml"),
)
def log_of_replay(
    request: HttpRequest,
    document: StudyDocument,
    begins: Annotated[float, Query(ge=0)],
    ends: Annotated[float, Query(ge=0)],
    kind: Literal["csv", "xes"] = "csv",
    number: Number = 0,
) -> Any:
    """Return what happened between two times as CSV or as XES, as the command line writes it."""
    found = _computed(request, _log, (document, number, begins, _a_week_at_most(begins, ends), kind))
    if found.status_code != 200:
        return found
    return HttpResponse(found.value, content_type="text/csv" if kind == "csv" else "application/xml")


@router.post(
    "/replays/member",
    response={200: MemberTime, 422: Problems, 503: Problems},
    operation_id="timeOfMember",
    summary="What a member did",
)
def time_of_a_member(
    request: HttpRequest,
    document: StudyDocument,
    team: Text,
    member: Member,
    begins: Annotated[float, Query(ge=0)],
    ends: Annotated[float, Query(ge=0)],
    number: Number = 0,
) -> Status[Any]:
    """Return what a member of a team did between two times, at most a week: cases, breaks, calls, waiting for work."""
    return _computed(request, _member, (document, number, team, member, begins, _a_week_at_most(begins, ends)))


def _a_week_at_most(begins: float, ends: float) -> float:
    return min(max(begins, ends), begins + 7 * A_DAY)


def _computed(request: HttpRequest, function: Callable[[Question], Answer], question: Question) -> Status[Any]:
    try:
        return Status(200, replays.compute(function, question, person_of(request).pk))
    except Busy:
        problem = error_at("replay", "Too much is watched right now, or it takes too long.", "Try again in a moment.")
        return Status(503, Problems(problems=[problem]))


_recorders: OrderedDict[str, Recorder] = OrderedDict()
"""Of the process beside: those used last, the latest at the end."""


def _recorder(document: StudyDocument, number: int) -> Recorder:
    key = hashlib.sha256(f"{number} {document.model_dump_json()}".encode()).hexdigest()
    found = _recorders.pop(key, None) or Recorder(document, number)
    _recorders[key] = found
    while len(_recorders) > MOST_KEPT:
        _recorders.popitem(last=False)
    return found


def _outlined(question: tuple[StudyDocument, int]) -> Outline:
    document, _ = question
    return outline_of(document, Recorder(*question).pieces(A_DAY))


def _piece(question: tuple[StudyDocument, int, float, float]) -> bytes:
    document, number, begins, ends = question
    return piece_written(_recorder(document, number).piece(begins, ends))


def _logbook(question: tuple[StudyDocument, int, float, float, Asked]) -> Logbook:
    return logbook(*question)


def _way(question: tuple[StudyDocument, int, int]) -> Way:
    return way_of(*question)


def _member(question: tuple[StudyDocument, int, str, int, float, float]) -> MemberTime:
    return time_of_member(*question)


def _waits(question: tuple[StudyDocument, int, float, str | None, str | None]) -> LongWaits:
    document, number, over, step, kind = question
    return long_waits(document, Recorder(document, number).pieces(A_DAY), over, step, kind)


def _log(question: tuple[StudyDocument, int, float, float, Literal["csv", "xes"]]) -> bytes:
    document, number, begins, ends, kind = question
    writer = LogWriter(document, kind)
    entries = event_log(document, number, begin=begins, end=ends)
    return (writer.head + writer.piece(number, entries) + writer.end).encode()
