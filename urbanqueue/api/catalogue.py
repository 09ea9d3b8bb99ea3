"""What the screens must know of the job: shapes of distributions, figures, and from where on something is too much."""

from typing import Any

from django.http import HttpRequest
from ninja import Router, Schema

from flowcore import thresholds
from flowcore.results.catalogue import KINDS, STATISTIC_WORDS, FigureKind
from flowcore.study import StudyDocument, written
from flowcore.study.distributions.described import (
    Described,
    Measure,
    ShapeChoice,
    described,
    read_distribution,
    reshaped,
    shapes,
)
from urbanqueue.api.errors import Problems, Sent

router = Router(tags=["catalogue"], by_alias=True)


class Thresholds(Schema):
    """Shares of the time at work from which on a team is full, or has little slack."""

    full: float
    stretched: float


class Catalogue(Schema):
    """All that is the same for every study."""

    shapes: list[ShapeChoice]
    figures: list[FigureKind]
    statistics: dict[str, str]
    thresholds: Thresholds


class Asked(Sent):
    """A distribution as it is typed, and the shape that it should have, where it should have another."""

    value: Any
    measure: Measure
    shape: str | None = None


@router.get("/catalogue", response=Catalogue, operation_id="getCatalogue", summary="Catalogue")
def get_catalogue(request: HttpRequest) -> Catalogue:
    """Return the shapes to choose from, every kind of figure, and the thresholds."""
    return Catalogue(
        shapes=shapes(),
        figures=list(KINDS),
        statistics=STATISTIC_WORDS,
        thresholds=Thresholds(full=thresholds.FULL, stretched=thresholds.STRETCHED),
    )


@router.post(
    "/documents",
    response={200: dict[str, Any], 422: Problems},
    operation_id="readDocument",
    summary="A document in the present format",
)
def read_document(request: HttpRequest, document: StudyDocument) -> dict[str, Any]:
    """Return a document, of whatever format it was, as the present format has it."""
    return written(document)


@router.post(
    "/distributions",
    response={200: Described, 422: Problems},
    operation_id="describeDistribution",
    summary="A distribution as it is typed",
)
def describe_distribution(request: HttpRequest, asked: Asked) -> Described:
    """Return a distribution's mean, middle and curve, or those of another shape with about its mean."""
    value = read_distribution(asked.value, asked.measure)
    if asked.shape is not None:
        value = reshaped(value, asked.shape, asked.measure)
    return described(value)
