"""Which jobs a search has on the queue: one that drives it, and some that run its trials, as long as it lacks any."""

from django.db import transaction
from django.db.models import Exists, OuterRef, QuerySet
from procrastinate.contrib.django import app
from procrastinate.contrib.django.models import ProcrastinateJob

from flowcore.engine import ENGINE
from urbanqueue.runs.queue import QUEUE, workers_for_one
from urbanqueue.searches.models import Search, Trial

DRIVING = f"searches of {ENGINE}"
"""Whoever drives a search mostly waits for its trials, and so takes no worker from these."""
OPEN = (Search.State.WAITING, Search.State.RUNNING, Search.State.STOPPING)


def open_trials() -> QuerySet[Trial]:
    """Return the trials that are still to be run, for searches that are not over."""
    return Trial.objects.filter(search__state__in=OPEN, outcome=None)


def put_on_queue(search: Search) -> None:
    """Put a search on the queue of those to be driven."""
    job = app.configure_task("search", queue=DRIVING).defer(search_id=search.pk)
    Search.objects.filter(pk=search.pk).update(job=job)


def call_for_help(search_id: int, trials: int) -> None:
    """Put as many jobs on the queue as may run some trials of a search at a time; one that finds none left is short."""
    for _ in range(min(max(1, workers_for_one()), trials)):
        ask_for_help(search_id)


def _is_helped(search_id: int) -> bool:
    """Say whether a job is there, or under way, that runs trials of a search."""
    jobs = ProcrastinateJob.objects.filter(task_name="run_trials", status__in=("todo", "doing"))
    return jobs.filter(args__search_id=search_id).exists()


def ask_for_help(search_id: int) -> None:
    """Put one job on the queue that runs a search's trials."""
    app.configure_task("run_trials", queue=QUEUE).defer(search_id=search_id)


@transaction.atomic
def put_searches_back() -> None:
    """Let searches go on whose jobs are gone: a worker or the database ended in between."""
    jobs = ProcrastinateJob.objects.filter(status__in=("todo", "doing"), pk=OuterRef("job"))
    mine = Search.objects.filter(state__in=OPEN, engine=ENGINE)
    for search in mine.select_for_update(skip_locked=True):
        if not mine.filter(Exists(jobs), pk=search.pk).exists():
            put_on_queue(search)
        lost = open_trials().filter(~Exists(jobs), search=search, job__isnull=False)
        lost.update(job=None)
        waiting = open_trials().filter(search=search).count()
        if waiting and not _is_helped(search.pk):
            call_for_help(search.pk, waiting)


def searches_of_another_engine() -> QuerySet[Search]:
    """Return the searches of other engine versions that are not over and that nobody drives."""
    doing = ProcrastinateJob.objects.filter(status="doing", pk=OuterRef("job"))
    return Search.objects.filter(~Exists(doing), state__in=OPEN).exclude(engine=ENGINE)
