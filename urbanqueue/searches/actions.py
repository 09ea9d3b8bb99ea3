"""What can be done with searches: start, stop, go on, delete."""

from datetime import timedelta

from django.db import transaction
from django.db.models import Max, QuerySet
from django.utils import timezone

from flowcore.engine import ENGINE
from flowcore.problems import StudyError, error_at
from flowcore.sizing.size import require_searchable
from flowcore.study import StudyDocument
from flowcore.study.scenarios import BASELINE, apply_scenario
from urbanqueue.accounts.models import Person
from urbanqueue.searches.models import Search
from urbanqueue.searches.queue import OPEN, put_on_queue
from urbanqueue.searches.standing import digest_of_search
from urbanqueue.studies.actions import current_version, document_of
from urbanqueue.studies.models import Study, Version


@transaction.atomic
def start_search(study: Study, person: Person, sizing_id: str | None = None, scenario: str = BASELINE) -> Search:
    """Start one of the searches that a study's current version asks for, by default the first, of a scenario of it.

    Raises StudyError where it cannot be made.
    """
    version = current_version(study)
    document = apply_scenario(document_of(version), scenario)
    return make_search(version, person, document, sizing_id, scenario)


def make_search(
    version: Version,
    person: Person,
    document: StudyDocument,
    sizing_id: str | None,
    scenario: str,
    number: int | None = None,
) -> Search:
    """Make a search of a version as a scenario has it, and put it on the queue; see `start_search`.

    Without a number it gets the next one.
    """
    sizing = require_searchable(document, sizing_id)
    Study.objects.select_for_update().get(pk=version.study_id)
    latest = Search.objects.filter(version__study=version.study_id).aggregate(Max("number"))["number__max"]
    search = Search.objects.create(
        version=version,
        number=number or (latest or 0) + 1,
        sizing=sizing.id,
        name=sizing.name,
        scenario=scenario,
        digest=digest_of_search(document, sizing.id),
        started_by=person,
        engine=ENGINE,
    )
    put_on_queue(search)
    return search


def stop_search(search: Search) -> None:
    """Ask a search to stop; whoever drives it writes down the best so far."""
    Search.objects.filter(pk=search.pk, state__in=OPEN).update(state=Search.State.STOPPING)


@transaction.atomic
def go_on(search: Search) -> None:
    """Go on with a search that was stopped or failed, with all the trials that are known.

    Raises StudyError where it is not over, is done, or where another engine would have to go on.
    """
    locked = Search.objects.select_for_update(of=("self",)).get(pk=search.pk)
    if locked.state not in (Search.State.STOPPED, Search.State.FAILED):
        raise StudyError([error_at("search", "The search was not stopped.", "Search again.")])
    if locked.engine != ENGINE:
        what = f"The search was made by version {locked.engine} of the engine, which is not at hand any more."
        raise StudyError([error_at("search", what, "Search again.")])
    locked.trials.filter(outcome=None).delete()
    locked.state, locked.finished_at, locked.problem = Search.State.WAITING, None, ""
    locked.begun_at = timezone.now()
    locked.save()
    put_on_queue(locked)


def delete_search(search: Search) -> None:
    """Take a search away for good; whoever is at it notices within a moment."""
    search.delete()


def searches_of(study: Study) -> QuerySet[Search]:
    """Return the searches of a study, without its documents and what they found."""
    searches = Search.objects.filter(version__study=study).select_related("version", "started_by")
    return searches.defer("version__document", "answer")


def seconds_left(search: Search) -> float | None:
    """Return about how many more seconds a search takes; None where nobody can tell yet.

    By how long the part took that is behind it; before there is any, by how long the last search of the same kind took.
    """
    progress = search.progress or {"share": 0.0, "share_then": 0.0}
    if progress["share"]:
        whole: float | None = progress["after"] / progress["share"]
    else:
        whole = _usual_time(search)
    if whole is None:
        return None
    return max((1.0 - float(progress["share_then"])) * whole, whole - seconds_so_far(search))


def seconds_so_far(search: Search) -> float:
    """Return for how many seconds a search has been under way, each time that one went on with it."""
    now = timedelta(0) if search.is_over else timezone.now() - search.begun_at
    return (search.took + now).total_seconds()


def _usual_time(search: Search) -> float | None:
    """Return how many seconds the last search of the same kind took that went to its end; None where there is none."""
    same = Search.objects.filter(version__study=search.version.study_id, sizing=search.sizing, state=Search.State.DONE)
    took = same.order_by("-number").values_list("took", flat=True).first()
    return None if took is None else took.total_seconds()
