"""The event log of all of a run as one packed file, made while it is sent: every replication is drawn again."""

import gzip
from collections.abc import Iterator
from typing import Annotated, Any, Literal

from django.http import HttpRequest, StreamingHttpResponse
from django.utils.text import slugify
from ninja import Query, Router

from flowcore.problems import StudyError, error_at
from flowcore.reports.event_log import LogWriter, event_log
from flowcore.study import StudyDocument
from flowcore.study.base import Text
from urbanqueue.api.aside import figures
from urbanqueue.api.errors import Problems
from urbanqueue.api.files import written_as
from urbanqueue.api.people import person_of
from urbanqueue.runs.models import Part
from urbanqueue.runs.policies import RunPolicy
from urbanqueue.runs.samples import rows_of, study_of

router = Router(tags=["runs"], by_alias=True)

MOST_LOGGED = 1000
"""So many replications are logged at most in one file."""
Kind = Literal["csv", "xes"]
Question = tuple[StudyDocument, Kind, int, str]


@router.get(
    "/runs/{run_id}/log",
    response={200: bytes, 404: Problems, 422: Problems},
    operation_id="logOfRun",
    summary="The event log of a run",
    openapi_extra=written_as("application/gzip"),
)
def log_of_run(
    request: HttpRequest, run_id: int, kind: Kind = "csv", scenario: Annotated[Text | None, Query()] = None
) -> Any:
    """Send what happened in all replications of a run, or of one scenario of it, as gzipped CSV or XES.

    Scenario and replication stand in every line, or with every case.
    """
    run = RunPolicy(person_of(request)).get(run_id)
    parts = [part for part in run.parts.all() if part.done and scenario in (None, part.scenario)]
    numbers = {part.pk: list(rows_of(part).order_by("number").values_list("number", flat=True)) for part in parts}
    many = sum(map(len, numbers.values()))
    if not many:
        raise StudyError([error_at("run", "Nothing has been simulated of it yet.", "Wait until it has been run.")])
    if many > MOST_LOGGED:
        what = f"The log would be of {many:,} replications; {MOST_LOGGED:,} are sent at most."
        raise StudyError([error_at("run", what, "Run fewer, or take the log from the command line.")])
    name = f"{slugify(run.version.document['name']) or 'study'}-run-{run.number}-log.{kind}.gz"
    response = StreamingHttpResponse(_pieces(parts, numbers, kind), content_type="application/gzip")
    response["Content-Disposition"] = f'attachment; filename="{name}"'
    return response


def _pieces(parts: list[Part], numbers: dict[int, list[int]], kind: Kind) -> Iterator[bytes]:
    writer = LogWriter(study_of(parts[0]), kind)
    yield _packed(writer.head)
    for part in parts:
        study = study_of(part)
        for number in numbers[part.pk]:
            yield figures.compute_patiently(_piece, (study, kind, number, part.name))
    yield _packed(writer.end)


def _piece(question: Question) -> bytes:
    study, kind, number, scenario = question
    return _packed(LogWriter(study, kind).piece(number, event_log(study, number), scenario))


def _packed(text: str) -> bytes:
    return gzip.compress(text.encode(), 3)
