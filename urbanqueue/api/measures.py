"""Figures of the analyst's own: a board of those that were pinned, and measures made from parts."""

from itertools import chain
from typing import Annotated, Any

from django.http import HttpRequest
from ninja import Query, Router, Schema, Status

from flowcore.results.catalogue import Title, titled
from flowcore.results.statistics import Estimate
from flowcore.study.base import Id, Text
from flowcore.study.measures import OwnMeasure
from urbanqueue.api.errors import Problems
from urbanqueue.api.people import person_of
from urbanqueue.api.reading import figures_at, part_of
from urbanqueue.runs import actions
from urbanqueue.runs.policies import RunPolicy
from urbanqueue.runs.samples import study_of
from urbanqueue.studies.actions import current_version, document_of

router = Router(tags=["measures"], by_alias=True)

OF_TIMES = ("mean", "p90")


class OwnFigure(Schema):
    """A figure by its address and its words, with its interval where the run knows it."""

    address: str
    title: Title | None
    figure: Estimate | None


class ToldMeasure(Schema):
    """What a run says of an own measure of the study; `is_told` where the run was made with the measure as it is."""

    id: Id
    is_told: bool
    figures: list[OwnFigure]


class OwnFigures(Schema):
    """The figures on the board, and the own measures, of the study as it is now."""

    board: list[OwnFigure]
    measures: list[ToldMeasure]


@router.get(
    "/runs/{run_id}/own-figures",
    response={200: OwnFigures, 404: Problems, 422: Problems, 503: Problems},
    operation_id="getOwnFigures",
    summary="Own figures",
)
def get_own_figures(request: HttpRequest, run_id: int, scenario: Annotated[Text | None, Query()] = None) -> Any:
    """Return what a scenario of a run says of the figures on the study's board and of its own measures."""
    part = part_of(request, run_id, scenario)
    now, then = document_of(current_version(part.run.version.study)), study_of(part)
    addresses = {measure.id: _addresses(measure) for measure in now.measures}
    figures = figures_at(part, [*now.board, *chain(*addresses.values())])
    if isinstance(figures, Status):
        return figures
    asked = {each.id: each for each in then.measures}
    told = {each.id: _means_the_same(each, asked.get(each.id)) for each in now.measures}

    def of(address: str) -> OwnFigure:
        is_known = told.get(address.split("/")[1], True) if address.startswith("measure/") else True
        return OwnFigure(address=address, title=titled(address, now), figure=figures.get(address) if is_known else None)

    return OwnFigures(
        board=[of(address) for address in now.board],
        measures=[
            ToldMeasure(id=each, is_told=told[each], figures=[of(address) for address in own])
            for each, own in addresses.items()
        ],
    )


def _means_the_same(measure: OwnMeasure, other: OwnMeasure | None) -> bool:
    """Say whether two measures tell the same, whatever they are called."""
    return other is not None and measure == other.model_copy(update={"name": measure.name})


def _addresses(measure: OwnMeasure) -> list[str]:
    if measure.time is not None:
        return [f"measure/{measure.id}/time/{statistic}" for statistic in OF_TIMES]
    kind = "share" if measure.share is not None else "count" if measure.count is not None else "level"
    return [f"measure/{measure.id}/{kind}"]


@router.post(
    "/runs/{run_id}/measures",
    response={204: None, 404: Problems, 422: Problems},
    operation_id="workOutMeasures",
    summary="Work out own measures",
)
def work_out_measures(request: HttpRequest, run_id: int) -> Status[None]:
    """Draw a run again from its seed, so that it knows the study's own measures; all else it says stays as it is."""
    actions.work_out(RunPolicy(person_of(request)).get(run_id))
    return Status(204, None)


@router.delete(
    "/runs/{run_id}/measures",
    response={204: None, 404: Problems, 422: Problems},
    operation_id="stopWorkingOut",
    summary="Stop working out own measures",
)
def stop_working_out(request: HttpRequest, run_id: int) -> Status[None]:
    """Leave a run as it is."""
    actions.stop_working_out(RunPolicy(person_of(request)).get(run_id))
    return Status(204, None)
