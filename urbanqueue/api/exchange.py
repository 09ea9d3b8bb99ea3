"""Open formats: rosters out of a study and into one, tables as spreadsheets."""

from typing import Annotated

from django.http import HttpRequest, HttpResponse
from ninja import Router
from pydantic import Field

from flowcore.exchange.read_calendar import RostersRead, read_calendar
from flowcore.exchange.roster_calendar import written_calendar
from flowcore.exchange.tables import written_xlsx
from flowcore.study import StudyDocument
from flowcore.study.base import Id
from urbanqueue.api.errors import Problems, Sent
from urbanqueue.api.files import written_as

MOST_ROWS = 20_000
MOST_COLUMNS = 200
XLSX = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"
Word = Annotated[str, Field(max_length=4000)]
Row = Annotated[list[Word | float | None], Field(max_length=MOST_COLUMNS)]

router = Router(tags=["exchange"], by_alias=True)


class Calendar(Sent):
    """An iCalendar file, the study for which it is, and the team of events that name none."""

    study: StudyDocument
    text: Annotated[str, Field(max_length=4_000_000)]
    team: Id | None = None


@router.post(
    "/rosters/calendar",
    response={200: str, 422: Problems},
    operation_id="writeCalendar",
    summary="Rosters as iCalendar",
    openapi_extra=written_as("text/calendar"),
)
def write_calendar(request: HttpRequest, document: StudyDocument) -> HttpResponse:
    """Return the rosters of a document as an iCalendar file."""
    return HttpResponse(written_calendar(document), content_type="text/calendar; charset=utf-8")


@router.post(
    "/rosters/calendar/read",
    response={200: RostersRead, 422: Problems},
    operation_id="readCalendar",
    summary="Rosters from iCalendar",
)
def read_rosters(request: HttpRequest, calendar: Calendar) -> RostersRead:
    """Return what an iCalendar file would bring into a study's rosters, and what of it cannot be kept."""
    return read_calendar(calendar.text, calendar.study, calendar.team)


class Table(Sent):
    """A table as it is seen: the head with the units, numbers and words in rows."""

    title: Word
    head: Annotated[list[Word], Field(max_length=MOST_COLUMNS)]
    rows: Annotated[list[Row], Field(max_length=MOST_ROWS)]


@router.post(
    "/tables",
    response={200: str, 422: Problems},
    operation_id="writeTable",
    summary="A table as a spreadsheet",
    openapi_extra=written_as(XLSX),
)
def write_table(request: HttpRequest, table: Table) -> HttpResponse:
    """Return a table as an XLSX file."""
    return HttpResponse(written_xlsx([(table.title, table.head, table.rows)]), content_type=XLSX)
