"""Searches of right-sizing: start, watch, stop, go on, read."""

from collections.abc import Iterable
from datetime import datetime
from typing import Annotated, Any

from django.http import HttpRequest
from ninja import Router, Schema, Status
from pydantic import StringConstraints, ValidationError

from flowcore.engine import ENGINE
from flowcore.problems import StudyError, error_at
from flowcore.sizing.answer import Answer
from flowcore.study.base import Id
from urbanqueue.api.errors import Problems, Sent
from urbanqueue.api.people import person_of
from urbanqueue.searches import actions
from urbanqueue.searches.models import Search
from urbanqueue.searches.policies import SearchPolicy
from urbanqueue.searches.standing import those_that_hold
from urbanqueue.studies.models import Study
from urbanqueue.studies.policies import StudyPolicy

router = Router(tags=["searches"], by_alias=True)

MOST_LISTED = 100


class SearchProgress(Schema):
    """How far a search is: what it does, how many trials it has run, and what the cheapest costs that seems to hold."""

    stage: str
    tried: int
    replications: int
    cost: float | None


class SearchEntry(Schema):
    """A search: what it is of, and how far it is.

    It is of a `scenario`, "" for the study as it is; `is_current` where the study is still so. `seconds` is for how
    long it has been under way, `seconds_left` about how much longer it takes where that is known.
    """

    id: int
    study: int
    version: int
    number: int
    sizing: str
    name: str
    scenario: str
    is_current: bool
    started_by: str | None
    state: Search.State
    progress: SearchProgress | None
    seconds: float
    seconds_left: float | None
    can_go_on: bool
    problem: str
    created_at: datetime
    finished_at: datetime | None


class NewSearch(Sent):
    """Which of the study's searches is to be made, by default the first, and of which scenario, "" for none."""

    sizing: Id | None = None
    scenario: Annotated[str, StringConstraints(max_length=64)] = ""


def _entries(study: Study, searches: Iterable[Search]) -> list[SearchEntry]:
    holding = those_that_hold(study, searches)
    return [_entry(search, is_current=search.pk in holding) for search in searches]


def _of_one(search: Search) -> SearchEntry:
    [entry] = _entries(search.version.study, [search])
    return entry


def _entry(search: Search, *, is_current: bool) -> SearchEntry:
    stopped = search.state in (Search.State.STOPPED, Search.State.FAILED)
    return SearchEntry(
        id=search.pk,
        study=search.version.study_id,
        version=search.version.number,
        number=search.number,
        sizing=search.sizing,
        name=search.name,
        scenario=search.scenario,
        is_current=is_current,
        started_by=search.started_by.name if search.started_by else None,
        state=Search.State(search.state),
        progress=search.progress,
        seconds=actions.seconds_so_far(search),
        seconds_left=None if search.is_over else actions.seconds_left(search),
        can_go_on=stopped and search.engine == ENGINE,
        problem=search.problem,
        created_at=search.created_at,
        finished_at=search.finished_at,
    )


@router.post(
    "/studies/{study_id}/searches",
    response={201: SearchEntry, 404: Problems, 422: Problems},
    operation_id="startSearch",
    summary="Search",
)
def start_search(request: HttpRequest, study_id: int, payload: NewSearch | None = None) -> Status[SearchEntry]:
    """Look for the cheapest staffing of the current version of a study that keeps its targets."""
    person = person_of(request)
    study = StudyPolicy(person).get(study_id)
    asked = payload or NewSearch()
    search = actions.start_search(study, person, asked.sizing, asked.scenario)
    return Status(201, _of_one(SearchPolicy(person).get(search.pk)))


@router.get(
    "/studies/{study_id}/searches",
    response={200: list[SearchEntry], 404: Problems},
    operation_id="listSearches",
    summary="Searches",
)
def list_searches(request: HttpRequest, study_id: int) -> list[SearchEntry]:
    """List the latest searches of a study, the latest first."""
    study = StudyPolicy(person_of(request)).get(study_id)
    return _entries(study, actions.searches_of(study).order_by("-number")[:MOST_LISTED])


@router.get(
    "/searches/{search_id}", response={200: SearchEntry, 404: Problems}, operation_id="getSearch", summary="One search"
)
def get_search(request: HttpRequest, search_id: int) -> SearchEntry:
    """Say how far a search is."""
    return _of_one(SearchPolicy(person_of(request)).get(search_id))


@router.get(
    "/searches/{search_id}/answer",
    response={200: Answer, 404: Problems, 422: Problems},
    operation_id="getAnswer",
    summary="What it found",
)
def get_answer(request: HttpRequest, search_id: int) -> Any:
    """Return what a search found: the need, the proposals, the frontier, and all that was tried."""
    search = SearchPolicy(person_of(request)).get(search_id)
    if search.answer is None:
        raise StudyError([error_at("search", "The search has not found anything yet.", "Wait for it, or stop it.")])
    try:
        return Answer.model_validate(search.answer)
    except ValidationError:
        what = "What it found was written by another version of the program, and cannot be read any more."
        raise StudyError([error_at("search", what, "Search again.")]) from None


@router.post(
    "/searches/{search_id}/cancel",
    response={200: SearchEntry, 404: Problems},
    operation_id="stopSearch",
    summary="Stop",
)
def cancel_search(request: HttpRequest, search_id: int) -> SearchEntry:
    """Stop a search and keep the best so far."""
    policy = SearchPolicy(person_of(request))
    actions.stop_search(policy.get(search_id))
    return _of_one(policy.get(search_id))


@router.post(
    "/searches/{search_id}/more",
    response={200: SearchEntry, 404: Problems, 422: Problems},
    operation_id="goOnWithSearch",
    summary="Go on",
)
def go_on_with_search(request: HttpRequest, search_id: int) -> SearchEntry:
    """Go on with a search that was stopped or failed; what it has tried is not run again."""
    policy = SearchPolicy(person_of(request))
    actions.go_on(policy.get(search_id))
    return _of_one(policy.get(search_id))


@router.delete(
    "/searches/{search_id}", response={204: None, 404: Problems}, operation_id="deleteSearch", summary="Delete"
)
def delete_search(request: HttpRequest, search_id: int) -> Status[None]:
    """Stop a search where it is under way, and take it away for good."""
    actions.delete_search(SearchPolicy(person_of(request)).get(search_id))
    return Status(204, None)
