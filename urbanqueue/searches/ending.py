"""How a search ends: done, stopped with the best so far, or failed."""

from django.db.models import F
from django.utils import timezone

from flowcore.sizing.answer import Answer
from urbanqueue.searches.models import Search, Trial
from urbanqueue.searches.queue import OPEN, searches_of_another_engine


def end_search(search_id: int, answer: Answer) -> None:
    """Write down what a search found; it is done, or stopped where it was asked to stop.

    The trials of one that is done are not needed any more; one that is stopped can go on with them.
    """
    told = answer.model_dump(mode="json")
    if not _close(search_id, (Search.State.STOPPING,), Search.State.STOPPED, answer=told):
        _close(search_id, OPEN, Search.State.DONE, answer=told)
        Trial.objects.filter(search=search_id, search__state=Search.State.DONE).delete()


def fail_search(search_id: int, problem: str) -> None:
    """Close a search that cannot go on, and say why."""
    _close(search_id, OPEN, Search.State.FAILED, problem=problem)


def _close(search_id: int, from_: tuple[Search.State, ...], to: Search.State, **more: object) -> int:
    now = timezone.now()
    mine = Search.objects.filter(pk=search_id, state__in=from_)
    return mine.update(state=to, finished_at=now, took=F("took") + (now - F("begun_at")), **more)


def end_searches_of_another_engine() -> None:
    """Fail the searches of another engine version, whose trials nobody can run any more."""
    for search in searches_of_another_engine().only("pk", "engine"):
        what = f"It was begun by version {search.engine} of the engine, which is not at hand any more. Search again."
        fail_search(search.pk, what)
