"""What the screens must know of the job: shapes of distributions, figures, and from where on something is too much."""

from typing import Annotated, Any

from django.http import HttpRequest
from ninja import Router, Schema
from pydantic import Field

from flowcore import thresholds
from flowcore.replay.logbook import KIND_WORDS
from flowcore.results.catalogue import KINDS, STATISTIC_WORDS, WATCHED_MEASURES, FigureKind, Title, titled
from flowcore.results.figure_search import Found, search_figures
from flowcore.study import StudyDocument, written
from flowcore.study.base import Text
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
    """All that is the same for every study.

    `watched` are the figures to look at while a run goes on, `log_kinds` the kinds of events in words.
    """

    shapes: list[ShapeChoice]
    figures: list[FigureKind]
    statistics: dict[str, str]
    watched: list[str]
    log_kinds: dict[str, str]
    thresholds: Thresholds


class Search(Sent):
    """Words, and the study whose figures are looked for."""

    document: StudyDocument
    text: Annotated[str, Field(max_length=200)] = ""


class Named(Sent):
    """Addresses of figures, and the study that they are of."""

    document: StudyDocument
    addresses: Annotated[list[Text], Field(max_length=200)]


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
        watched=list(WATCHED_MEASURES),
        log_kinds={kind.value: words for kind, words in KIND_WORDS.items()},
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
    "/figures/search", response={200: list[Found], 422: Problems}, operation_id="findFigures", summary="Find figures"
)
def find_figures(request: HttpRequest, search: Search) -> list[Found]:
    """Return figures that a run of a document yields and whose words hold those typed."""
    return search_figures(search.document, search.text)


@router.post(
    "/figures/titles",
    response={200: dict[str, Title], 422: Problems},
    operation_id="nameFigures",
    summary="Name figures",
)
def name_figures(request: HttpRequest, named: Named) -> dict[str, Title]:
    """Return what figures of a document are called; those that no run yields are left out."""
    titles = {address: titled(address, named.document) for address in named.addresses}
    return {address: title for address, title in titles.items() if title}


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
