"""What the scenarios of a document change."""

from django.http import HttpRequest
from ninja import Router

from flowcore.reports.scenarios import ScenarioWords, scenarios_in_words
from flowcore.study import StudyDocument
from urbanqueue.api.errors import Problems

router = Router(tags=["catalogue"], by_alias=True)


@router.post(
    "/scenarios",
    response={200: list[ScenarioWords], 422: Problems},
    operation_id="describeScenarios",
    summary="What scenarios change",
)
def describe_scenarios(request: HttpRequest, document: StudyDocument) -> list[ScenarioWords]:
    """Return what each scenario of a document, saved or not, changes, in words, and what is wrong with it."""
    return scenarios_in_words(document)
