"""What a scenario of a run says: sentences, pictures, tables, and what is known of the real service beside it."""

from typing import Annotated, Any

from django.http import HttpRequest
from ninja import Query, Router, Schema, Status
from pydantic import StringConstraints

from flowcore.problems import StudyError, error_at
from flowcore.reports.course import Course
from flowcore.reports.findings import Quantity, RunFindings, RunWeek, StepRow
from flowcore.reports.groups import FigureGroup
from flowcore.reports.hour import HourTold, hour_told
from flowcore.reports.level import LevelTold, level_told, levels_to_tell
from flowcore.reports.narrowing import Narrowed, narrowing
from flowcore.reports.observed import Fit, held_against
from flowcore.reports.spread import CaseSpread
from flowcore.results.catalogue import HOURS_A_WEEK, MINUTES_COUNTED, Title, titled
from flowcore.results.figure_search import Found, search_figures
from flowcore.results.statistics import Estimate
from flowcore.study import StudyDocument
from flowcore.study.base import Text
from urbanqueue.api.errors import Problems
from urbanqueue.api.reading import computed, drawn_again, figures_at, part_of, summed_up
from urbanqueue.runs.models import Part
from urbanqueue.runs.samples import some_results_of, study_of
from urbanqueue.studies.actions import current_version, document_of

router = Router(tags=["findings"], by_alias=True)


class FoundFigure(Schema):
    """A figure by its address and its words, with its interval."""

    address: str
    title: Title
    figure: Estimate


@router.get(
    "/runs/{run_id}/findings",
    response={200: RunFindings, 404: Problems, 422: Problems, 503: Problems},
    operation_id="getFindings",
    summary="Findings",
)
def get_findings(request: HttpRequest, run_id: int, scenario: Annotated[Text | None, Query()] = None) -> Any:
    """Say in sentences what a scenario of a run found, with the figures and pictures of the first page."""
    return summed_up(part_of(request, run_id, scenario), "findings")


@router.get(
    "/runs/{run_id}/steps",
    response={200: list[StepRow], 404: Problems, 422: Problems, 503: Problems},
    operation_id="getSteps",
    summary="Step by step",
)
def get_steps(request: HttpRequest, run_id: int, scenario: Annotated[Text | None, Query()] = None) -> Any:
    """Return where the minutes of a visit to each step go, and its waits, line and counts."""
    return summed_up(part_of(request, run_id, scenario), "steps")


@router.get(
    "/runs/{run_id}/groups",
    response={200: list[FigureGroup], 404: Problems, 422: Problems, 503: Problems},
    operation_id="getGroups",
    summary="Counts and times",
)
def get_groups(request: HttpRequest, run_id: int, scenario: Annotated[Text | None, Query()] = None) -> Any:
    """Return counts and times of outcomes, streams, ways, spans and deadlines, and what each member did."""
    return summed_up(part_of(request, run_id, scenario), "groups")


@router.get(
    "/runs/{run_id}/figures/search",
    response={200: list[FoundFigure], 404: Problems, 422: Problems, 503: Problems},
    operation_id="searchFigures",
    summary="Find figures of a run",
)
def search_run(
    request: HttpRequest,
    run_id: int,
    text: Annotated[str, StringConstraints(max_length=200), Query()] = "",
    scenario: Annotated[Text | None, Query()] = None,
    of: Annotated[Text | None, Query()] = None,
) -> Any:
    """Return the figures whose words hold all those typed; "within 5 min" asks for the shares of cases within it.

    An address finds its own figure. `of` is how the addresses are to begin, such as `step/`.
    """
    part = part_of(request, run_id, scenario)
    study = study_of(part)
    named = titled(text, study)
    found = [Found(address=text, title=named)] if named else search_figures(study, text, of or "")
    figures = figures_at(part, [each.address for each in found])
    if isinstance(figures, Status):
        return figures
    return [
        FoundFigure(address=each.address, title=each.title, figure=figures[each.address])
        for each in found
        if each.address in figures
    ]


class Everything(Schema):
    """All that a scenario of a run says: every figure, and what is known by the hour, of each case and over the run."""

    study: str
    scenario: str
    run: dict[str, Any]
    figures: dict[str, Estimate]
    weeks: dict[str, RunWeek]
    spreads: dict[str, CaseSpread]
    course: Course


@router.get(
    "/runs/{run_id}/everything",
    response={200: Everything, 404: Problems, 422: Problems, 503: Problems},
    operation_id="getEverything",
    summary="All that a run says",
)
def get_everything(request: HttpRequest, run_id: int, scenario: Annotated[Text | None, Query()] = None) -> Any:
    """Return all figures and series of a scenario of a run."""
    part = part_of(request, run_id, scenario)
    told = {section: summed_up(part, section) for section in ("figures", "weeks", "spreads", "course")}
    for section in told.values():
        if isinstance(section, Status):
            return section
    return {
        "study": part.run.version.document["name"],
        "scenario": part.name,
        "run": part.run.settings | {"engine": part.run.engine},
        **told,
    }


@router.get(
    "/runs/{run_id}/observed",
    response={200: list[Fit], 404: Problems, 422: Problems, 503: Problems},
    operation_id="holdAgainstObserved",
    summary="Observed beside simulated",
)
def hold_against_observed(request: HttpRequest, run_id: int, scenario: Annotated[Text | None, Query()] = None) -> Any:
    """Set what is known of the real service, by the study as it is now, beside what a scenario of a run says."""
    part = part_of(request, run_id, scenario)
    now = document_of(current_version(part.run.version.study))
    figures = figures_at(part, [MINUTES_COUNTED, *(each.figure for each in now.observed)])
    return figures if isinstance(figures, Status) else held_against(now, figures)


@router.get(
    "/runs/{run_id}/week",
    response={200: list[RunWeek], 404: Problems, 422: Problems, 503: Problems},
    operation_id="getWeek",
    summary="The week",
)
def get_week(
    request: HttpRequest,
    run_id: int,
    quantity: Annotated[list[Text], Query(max_length=20)],
    scenario: Annotated[Text | None, Query()] = None,
) -> Any:
    """Return quantities, such as `step/counter/wait`, by the hour of the week."""
    section = summed_up(part_of(request, run_id, scenario), "weeks")
    return section if isinstance(section, Status) else [_one_of(section, each) for each in quantity]


@router.get(
    "/runs/{run_id}/hour",
    response={200: HourTold, 404: Problems, 422: Problems, 503: Problems},
    operation_id="getHour",
    summary="One hour of the week",
)
def get_hour(
    request: HttpRequest,
    run_id: int,
    quantity: Annotated[Text, Query()],
    hour: Annotated[int, Query(ge=0, lt=HOURS_A_WEEK)],
    scenario: Annotated[Text | None, Query()] = None,
) -> Any:
    """Draw some replications again, and return how those wait who come in an hour of the week, and for what."""
    return drawn_again(_hour, part_of(request, run_id, scenario), quantity, hour)


@router.get(
    "/runs/{run_id}/levels",
    response={200: list[Quantity], 404: Problems, 422: Problems},
    operation_id="listLevels",
    summary="What there is over time",
)
def list_levels(request: HttpRequest, run_id: int, scenario: Annotated[Text | None, Query()] = None) -> list[Quantity]:
    """Return the lines, cases inside and members that can be told over the run."""
    study = study_of(part_of(request, run_id, scenario))
    return [Quantity(quantity=quantity, title=title) for quantity, title in levels_to_tell(study)]


@router.get(
    "/runs/{run_id}/level",
    response={200: LevelTold, 404: Problems, 422: Problems, 503: Problems},
    operation_id="getLevel",
    summary="A line over time",
)
def get_level(
    request: HttpRequest,
    run_id: int,
    quantity: Annotated[Text, Query()],
    scenario: Annotated[Text | None, Query()] = None,
) -> Any:
    """Draw some replications again, and return a line, or members, over the run and how they spread over the time."""
    return drawn_again(_level, part_of(request, run_id, scenario), quantity)


def _level(question: tuple[StudyDocument, str, list[int]]) -> LevelTold:
    return level_told(*question)


def _hour(question: tuple[StudyDocument, str, int, list[int]]) -> HourTold:
    return hour_told(*question)


@router.get(
    "/runs/{run_id}/spread",
    response={200: CaseSpread, 404: Problems, 422: Problems, 503: Problems},
    operation_id="getSpread",
    summary="How it spreads",
)
def get_spread(
    request: HttpRequest,
    run_id: int,
    quantity: Annotated[Text, Query()],
    scenario: Annotated[Text | None, Query()] = None,
) -> Any:
    """Return how the cases spread in a quantity, such as `type/all/wait`."""
    section = summed_up(part_of(request, run_id, scenario), "spreads")
    return section if isinstance(section, Status) else _one_of(section, quantity)


@router.get(
    "/runs/{run_id}/narrowed",
    response={200: list[Narrowed], 404: Problems, 422: Problems, 503: Problems},
    operation_id="getNarrowed",
    summary="How figures narrowed",
)
def get_narrowed(
    request: HttpRequest,
    run_id: int,
    address: Annotated[list[Text], Query(max_length=20)],
    scenario: Annotated[Text | None, Query()] = None,
) -> Any:
    """Return figures as they became with ever more replications; those that the run does not have are left out."""
    return computed(_narrowed, [part_of(request, run_id, scenario)], address)


def _narrowed(question: tuple[tuple[int, ...], list[str]]) -> list[Narrowed]:
    [pk], addresses = question
    part = Part.objects.select_related("sample", "run__version").get(pk=pk)
    results, study = some_results_of(part, addresses), study_of(part)
    titles = {address: titled(address, study) for address in addresses if results.has(address)}
    return [
        Narrowed(address=address, title=title, estimates=narrowing(results, address))
        for address, title in titles.items()
        if title
    ]


@router.get(
    "/runs/{run_id}/course",
    response={200: Course, 404: Problems, 422: Problems, 503: Problems},
    operation_id="getCourse",
    summary="Over time",
)
def get_course(request: HttpRequest, run_id: int, scenario: Annotated[Text | None, Query()] = None) -> Any:
    """Return the cases inside over the run."""
    return summed_up(part_of(request, run_id, scenario), "course")


def _one_of(section: dict[str, Any], quantity: str) -> Any:
    """Return one quantity of a section; raise StudyError where it has no such quantity."""
    if quantity not in section:
        raise StudyError([error_at("quantity", "The run has no such quantity.", "Choose one that its findings name.")])
    return section[quantity]
