"""How a search is driven: it asks for trials, workers run them, and what is known already is not run again.

Whoever drives it needs to remember nothing: another one who begins anew with what the tables hold asks for the same
trials in the same order, and finds the same.
"""

import time
from collections.abc import Callable, Mapping
from dataclasses import asdict

from flowcore.simulate import Stopped, never
from flowcore.sizing.aiming.trials import Outcome
from flowcore.sizing.aiming.trials import Trial as Asked
from flowcore.sizing.size import Conversation, Progress, search_for
from urbanqueue.searches.actions import seconds_so_far
from urbanqueue.searches.ending import end_search
from urbanqueue.searches.models import Search, Trial
from urbanqueue.searches.packing import asked_of, digest_of, unpacked
from urbanqueue.searches.queue import OPEN, call_for_help
from urbanqueue.searches.standing import study_of

SECONDS_BETWEEN_LOOKS = 0.03


class Abandoned(Exception):
    """Raised where a search is over or gone, whoever ended it, or where another process is to drive it on."""


def drive(search_id: int, should_end: Callable[[], bool] = never) -> None:
    """Drive a search to its end, or as long as this process may; raises StudyError where it cannot go on."""
    open_ = Search.objects.filter(pk=search_id, state__in=OPEN)
    open_.filter(state=Search.State.WAITING).update(state=Search.State.RUNNING)
    search = open_.select_related("version").first()
    if search is None:
        return
    workers = Workers(search, should_end)
    sought = search_for(study_of(search), search.sizing)
    try:
        end_search(search.pk, Conversation(sought, workers.run, workers.tell).answer())
    except Abandoned:
        return


class Workers:
    """Runs the trials of a search through the workers, and writes down how far it is."""

    def __init__(self, search: Search, should_end: Callable[[], bool]) -> None:
        self._search, self._should_end = search, should_end
        before = search.progress or {"stage": "", "after": 0.0, "tried": 0}
        self._stage, self._after, self._tried = before["stage"], before["after"], before["tried"]

    def tell(self, progress: Progress) -> None:
        """Write down how far the search is, and after how many seconds the stage began that it is at.

        One that is driven on is not told until it is where it was before.
        """
        if progress.tried < self._tried:
            return
        if progress.stage != self._stage:
            self._stage, self._after = progress.stage, seconds_so_far(self._search)
        told = asdict(progress) | {"after": self._after}
        Search.objects.filter(pk=self._search.pk, state__in=OPEN).update(progress=told)

    def run(self, trials: list[Asked]) -> list[Outcome]:
        """Return the outcomes of trials when all are known. Raises Stopped where the search is to stop, Abandoned."""
        asked = [asked_of(trial) for trial in trials]
        digests = [digest_of(each) for each in asked]
        known = self._known(digests)
        lacking = {digest: each for digest, each in zip(digests, asked, strict=True) if digest not in known}
        if lacking:
            self._ask_for(lacking, trials[0].shows)
            known |= self._known(list(lacking))
        if not known.keys() >= set(digests):
            raise Abandoned
        return [unpacked(known[digest]) for digest in digests]

    def _known(self, digests: list[str]) -> dict[str, bytes]:
        rows = Trial.objects.filter(search=self._search, digest__in=digests, outcome__isnull=False)
        return {digest: bytes(outcome or b"") for digest, outcome in rows.values_list("digest", "outcome")}

    def _ask_for(self, lacking: Mapping[str, dict[str, object]], to_the_end: bool) -> None:
        """Ask for trials and wait for them; where these are `to_the_end`, though the search is to stop."""
        self._look(to_the_end)
        new = [Trial(search=self._search, digest=digest, asked=asked) for digest, asked in lacking.items()]
        Trial.objects.bulk_create(new, ignore_conflicts=True)
        call_for_help(self._search.pk, len(new))
        waiting = Trial.objects.filter(search=self._search, digest__in=list(lacking), outcome=None)
        while waiting.exists():
            self._look(to_the_end)
            time.sleep(SECONDS_BETWEEN_LOOKS)

    def _look(self, to_the_end: bool) -> None:
        """Raise Abandoned where this process is not to go on, Stopped where the search is to stop; its trials end."""
        state = Search.objects.filter(pk=self._search.pk, state__in=OPEN).values_list("state", flat=True).first()
        if state is None or self._should_end():
            raise Abandoned
        if state == Search.State.STOPPING and not to_the_end:
            Trial.objects.filter(search=self._search, outcome=None).delete()
            raise Stopped
