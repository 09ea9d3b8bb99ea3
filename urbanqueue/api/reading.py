"""Where what a run says is put together: at once where little is to be read, else in the process beside."""

from collections.abc import Callable
from typing import Any, TypeVar

from django.http import HttpRequest
from ninja import Status

from flowcore.problems import StudyError, error_at
from flowcore.reports.one_more import how_often
from flowcore.results.statistics import Estimate
from urbanqueue.api.aside import Busy, figures
from urbanqueue.api.errors import Problems
from urbanqueue.api.people import person_of
from urbanqueue.runs.findings import MANY_REPLICATIONS
from urbanqueue.runs.models import Part
from urbanqueue.runs.policies import RunPolicy
from urbanqueue.runs.samples import rows_of, some_results_of, study_of
from urbanqueue.runs.summaries import kept, sum_up

Answer = TypeVar("Answer")


READ = ("/within:", "/hour:")
"""What is in the addresses of figures that are not kept, and read of the replications."""


def computed(function: Callable[[Any], Answer], parts: list[Part], *more: Any) -> Answer | Status[Problems]:
    """Return what a function says of parts of runs, which it is given by their keys, and of what else is asked."""
    question = (tuple(part.pk for part in parts), *more)
    if sum(part.done for part in parts) <= MANY_REPLICATIONS:
        return function(question)
    return _aside(function, question, "Others' figures are being put together.")


def drawn_again(function: Callable[[Any], Answer], part: Part, *asked: Any) -> Answer | Status[Problems]:
    """Return what a function says of a part's study, of what is asked, and of the replications that are soon drawn."""
    numbers = list(rows_of(part).values_list("number", flat=True))
    many = how_often(part.sample.seconds / max(1, part.sample.rows.count()), len(numbers))
    return _aside(function, (study_of(part), *asked, numbers[:many]), "Others are trying something right now.")


def _aside(function: Callable[[Any], Answer], question: Any, busy: str) -> Answer | Status[Problems]:
    try:
        return figures.compute(function, question)
    except Busy:
        return Status(503, Problems(problems=[error_at("run", busy, "It is tried again in a moment.")]))


def summed_up(part: Part, section: str) -> Any | Status[Problems]:
    """Return a section of what Findings shows of a part, as JSON: what is kept, else it is summed up now."""
    found = kept(part, section)
    return computed(_section, [part], section) if found is None else found


def _section(question: tuple[tuple[int, ...], str]) -> Any:
    [pk], section = question
    return sum_up(Part.objects.select_related("sample", "run__version").get(pk=pk), section)


def part_of(request: HttpRequest, run_id: int, scenario: str | None) -> Part:
    """Return a scenario's part of a run that the person may see, the first where none is named, or raise Http404."""
    parts = RunPolicy(person_of(request)).get(run_id).parts.all()
    for part in parts:
        if scenario is None or part.scenario == scenario:
            return part
    raise StudyError([error_at("scenario", "The run has no such scenario.", "Choose one that was run.")])


def figures_at(part: Part, addresses: list[str]) -> dict[str, Estimate] | Status[Problems]:
    """Return the figures at addresses that a part has: those that are kept, and shares within any time."""
    kept = summed_up(part, "figures")
    if isinstance(kept, Status):
        return kept
    lacking = [address for address in addresses if address not in kept and any(each in address for each in READ)]
    more = some_results_of(part, lacking) if lacking else None
    others = {address: more.figure(address) for address in lacking if more and more.has(address)}
    return {address: Estimate(**kept[address]) for address in addresses if address in kept} | others
