"""How a worker runs trials of a search: one after the other for a moment, then others have their turn."""

import time
from collections.abc import Callable
from functools import lru_cache

from django.db import transaction
from django.db.models import F

from flowcore.results.aims import Aims
from flowcore.simulate import Stopped, get_ready, never
from flowcore.sizing.aiming.trials import run_trial
from flowcore.sizing.search import sizing_of, tried_with
from flowcore.study import StudyDocument
from urbanqueue.runs.watch import Watch
from urbanqueue.searches.ending import fail_search
from urbanqueue.searches.models import Search, Trial
from urbanqueue.searches.packing import packed, trial_of
from urbanqueue.searches.queue import ask_for_help, open_trials
from urbanqueue.searches.standing import study_of

SECONDS_AT_A_STRETCH = 2.0
SEARCHES_KEPT = 4
MOST_ATTEMPTS = 5


def run_trials(search_id: int, job: int, should_end: Callable[[], bool] = never) -> None:
    """Run trials of a search for a moment, and ask for another turn where it lacks more."""
    open_trials().filter(search=search_id, job=job).update(job=None)
    get_ready()
    until = time.monotonic() + SECONDS_AT_A_STRETCH
    while (trial := take(search_id, job)) is not None:
        run(trial, should_end)
        if time.monotonic() > until or should_end():
            ask_for_help(search_id)
            return


@transaction.atomic
def take(search_id: int, job: int) -> Trial | None:
    """Take the first trial of a search that nobody is at; None where there is none."""
    waiting = open_trials().filter(search=search_id, job=None).order_by("pk")
    trial = waiting.select_for_update(skip_locked=True, of=("self",)).first()
    if trial is None:
        return None
    if trial.attempts >= MOST_ATTEMPTS:
        fail_search(search_id, f"A trial was begun {MOST_ATTEMPTS} times in vain.")
        return None
    Trial.objects.filter(pk=trial.pk).update(job=job, attempts=F("attempts") + 1)
    return trial


def run(trial: Trial, should_end: Callable[[], bool]) -> None:
    """Run a trial and write its outcome, unless nobody waits for it any more or this process is to end."""
    study, aims = _sought_by(trial.search_id)
    watch = Watch(open_trials().filter(pk=trial.pk))
    try:
        with watch.on_duty():
            outcome = run_trial(study, aims, trial_of(trial.asked), lambda: should_end() or watch())
    except Stopped:
        return
    Trial.objects.filter(pk=trial.pk).update(outcome=packed(outcome))


@lru_cache(SEARCHES_KEPT)
def _sought_by(search_id: int) -> tuple[StudyDocument, Aims]:
    """Return with which study a search's trials are run and what is aimed at: the same as long as it lasts."""
    search = Search.objects.select_related("version").get(pk=search_id)
    study = study_of(search)
    return tried_with(study, sizing_of(study, search.sizing))
