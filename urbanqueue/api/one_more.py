"""Where one more helps: who there can be one more of, and what each buys."""

from typing import Annotated, Any

from django.http import HttpRequest
from ninja import Query, Router

from flowcore.problems import StudyError, error_at
from flowcore.reports.one_more import Bought, OneMore, buys, candidates, measures
from flowcore.results.run import Results
from flowcore.study import StudyDocument
from flowcore.study.base import Text
from urbanqueue.api.errors import Problems, Sent
from urbanqueue.api.reading import drawn_again, part_of
from urbanqueue.runs.samples import some_results_of, study_of

router = Router(tags=["runs"], by_alias=True)


class Tried(Sent):
    """One more of whom is tried, by its id, in which scenario of the run."""

    scenario: Text | None = None
    one: Text


@router.get(
    "/runs/{run_id}/one-more",
    response={200: list[OneMore], 404: Problems, 422: Problems},
    operation_id="listOneMore",
    summary="Who there can be one more of",
)
def list_one_more(request: HttpRequest, run_id: int, scenario: Annotated[Text | None, Query()] = None) -> list[OneMore]:
    """Return every team, and every shift of those with several."""
    return candidates(study_of(part_of(request, run_id, scenario)))


@router.post(
    "/runs/{run_id}/one-more",
    response={200: Bought, 404: Problems, 422: Problems, 503: Problems},
    operation_id="tryOneMore",
    summary="Try one more",
)
def try_one_more(request: HttpRequest, run_id: int, payload: Tried) -> Any:
    """Try one more on the same luck, over some of the run's replications, and say what that buys."""
    part = part_of(request, run_id, payload.scenario)
    study = study_of(part)
    one = next((each for each in candidates(study) if each.id == payload.one), None)
    if one is None:
        raise StudyError([error_at("one", f"There is no team or shift {payload.one}.", "Choose one that is listed.")])
    return drawn_again(_bought, part, some_results_of(part, measures(study)), one)


def _bought(question: tuple[StudyDocument, Results, OneMore, list[int]]) -> Bought:
    study, known, one, numbers = question
    return buys(study, Results.of(known.replications[: len(numbers)], known.confidence), one)
