"""What an edit leads to, told while it is made: bounded in time and in number at once."""

from collections.abc import Callable
from typing import Annotated, Any

from django.http import HttpRequest
from ninja import Query, Router, Status

from flowcore.problems import error_at
from flowcore.reports.day_end import DayEnds, day_ends
from flowcore.reports.demand import DemandWeek, week_of_demand
from flowcore.reports.pilot import Pilot, pilot
from flowcore.reports.pulse import SECONDS, SECONDS_AT_REST, WEEKS, PulseByTheory, Weeks, by_simulation, by_theory
from flowcore.reports.staffing import Staffing, staffing_of
from flowcore.study import StudyDocument
from urbanqueue.api.aside import Answer, Busy, Question, pulses
from urbanqueue.api.errors import Problems

router = Router(tags=["pulse"], by_alias=True)


def _computed(function: Callable[[Question], Answer], question: Question) -> Status[Any]:
    """Answer with what a function says, or that it is tried again in a moment."""
    try:
        return Status(200, pulses.compute(function, question))
    except Busy:
        problem = error_at(
            where="pulse", what="Others are simulating right now.", mend="It is tried again in a moment."
        )
        return Status(503, Problems(problems=[problem]))


@router.post("/theory", response={200: PulseByTheory, 422: Problems}, operation_id="estimateStudy", summary="Theory")
def estimate_study(request: HttpRequest, document: StudyDocument) -> PulseByTheory:
    """Return what theory and the health checks say about a document, saved or not."""
    return by_theory(document)


@router.post(
    "/simulation",
    response={200: Weeks, 422: Problems, 503: Problems},
    operation_id="simulateQuickly",
    summary="Quick simulation",
)
def simulate_quickly(
    request: HttpRequest,
    document: StudyDocument,
    first: Annotated[int, Query(ge=0, le=WEEKS)] = 0,
    at_rest: bool = False,
) -> Status[Any]:
    """Simulate weeks of a document from the given one on: for a moment, or, while nothing is typed, for longer."""
    return _computed(_weeks, (document, first, SECONDS_AT_REST if at_rest else SECONDS))


def _weeks(asked: tuple[StudyDocument, int, float]) -> Weeks:
    return by_simulation(*asked)


@router.post(
    "/demand",
    response={200: DemandWeek, 422: Problems, 503: Problems},
    operation_id="demandWeek",
    summary="The week as it will arrive",
)
def demand_week(request: HttpRequest, document: StudyDocument) -> Status[Any]:
    """Return an ordinary week of a document's streams and teams, hour by hour."""
    return _computed(week_of_demand, document)


@router.post(
    "/day-ends",
    response={200: DayEnds, 422: Problems, 503: Problems},
    operation_id="dayEnds",
    summary="How the days end",
)
def get_day_ends(request: HttpRequest, document: StudyDocument) -> Status[Any]:
    """Return a mean simulated week by quarter of an hour: who comes, who waits, who is there."""
    return _computed(day_ends, document)


@router.post(
    "/warm-up",
    response={200: Pilot, 422: Problems, 503: Problems},
    operation_id="warmUp",
    summary="A short pilot",
)
def get_warm_up(request: HttpRequest, document: StudyDocument) -> Status[Any]:
    """Run a document a few times without a warm-up, and say how much of the beginning had better be left out."""
    return _computed(pilot, document)


@router.post(
    "/load",
    response={200: Staffing, 422: Problems},
    operation_id="staffing",
    summary="Load of the teams",
)
def load(request: HttpRequest, document: StudyDocument) -> Staffing:
    """Return whom the work of an ordinary week would keep busy: by team and quarter of an hour, and need by need."""
    return staffing_of(document)
