"""What can be done with runs: start, stop, do a chunk, read the figures, say what was found."""

import logging
import time
import uuid
from collections.abc import Iterator
from contextlib import contextmanager
from typing import ClassVar

import numpy as np
from django.db import transaction
from django.db.models import F, Max, QuerySet
from django.utils import timezone
from pydantic import BaseModel

from flowcore import __version__, simulate
from flowcore.results.headline import as_text, headline
from flowcore.results.histogram import Histogram
from flowcore.results.replication import Replication, Row
from flowcore.results.run import Results
from flowcore.results.steady_state import INSIDE
from flowcore.simulate import Stopped, require_sound
from flowcore.study import StudyDocument, minutes
from flowcore.theory.network import visit_rates
from urbanqueue.runs.models import Chunk, ReplicationRow, Run
from urbanqueue.runs.queue import hand_out, take_off, waiting_for_another_engine
from urbanqueue.studies.actions import current_version, document_of
from urbanqueue.studies.models import Study

logger = logging.getLogger(__name__)

VISITS_PER_CHUNK = 600_000
SECONDS_BETWEEN_LOOKS = 0.25
ROWS_AT_ONCE = 200
SECONDS_UNTIL_STUCK = 10
MOST_ATTEMPTS = 5


@transaction.atomic
def start_run(study: Study) -> Run:
    """Start a run of a study's current version.

    Raises StudyError where the study has errors.
    """
    Study.objects.select_for_update().get(pk=study.pk)
    version = current_version(study)
    document = document_of(version)
    require_sound(document)
    latest = Run.objects.filter(version__study=study).aggregate(Max("number"))["number__max"]
    run = Run.objects.create(
        version=version,
        number=(latest or 0) + 1,
        settings=document.run.model_dump(mode="json"),
        replications=document.run.replications,
        per_chunk=_chunk_size(document),
        engine=__version__,
    )
    hand_out()
    return run


def _chunk_size(document: StudyDocument) -> int:
    """Return how many replications are about half a second of work, by the expected number of visits."""
    visits = float(visit_rates(document).sum()) * minutes(document.run.length)
    return max(1, int(VISITS_PER_CHUNK / max(1.0, visits)))


def runs_of(study: Study) -> QuerySet[Run]:
    """Return the runs of a study, without its documents."""
    return Run.objects.filter(version__study=study).select_related("version").defer("version__document")


def stop_run(run: Run) -> None:
    """Stop a run and keep what is done; its workers notice within a moment."""
    if _close(run.pk, Run.State.STOPPED):
        take_off(run)
        hand_out()


def do_chunk(chunk_id: int) -> None:
    """Do one chunk and write its figures, unless another attempt holds it by then."""
    chunk = _claim(chunk_id)
    if chunk is None:
        return
    document = document_of(chunk.run.version)
    numbers = range(chunk.first, chunk.first + chunk.count)
    watch = Watch(chunk)
    try:
        with watch.on_duty():
            results = simulate(document, numbers=numbers, should_stop=watch)
    except Stopped:
        return
    _write(chunk, results)
    hand_out()
    tell_findings(chunk.run_id)


def _claim(chunk_id: int) -> Chunk | None:
    """Take a chunk under a token of one's own; None where there is nothing left to do."""
    token = uuid.uuid4()
    claimed = Chunk.objects.filter(
        pk=chunk_id, is_done=False, run__state__in=(Run.State.WAITING, Run.State.RUNNING)
    ).update(token=token, attempts=F("attempts") + 1)
    if not claimed:
        return None
    chunk = Chunk.objects.select_related("run__version").get(pk=chunk_id)
    if chunk.attempts > MOST_ATTEMPTS:
        fail_run(chunk.run_id, f"Replications from {chunk.first} on were begun {MOST_ATTEMPTS} times in vain.")
        return None
    Run.objects.filter(pk=chunk.run_id, state=Run.State.WAITING).update(state=Run.State.RUNNING)
    return chunk


class Watch:
    """Says whether to stop: the run was stopped, or another attempt took the chunk."""

    at_work: "ClassVar[set[Watch]]" = set()

    def __init__(self, chunk: Chunk) -> None:
        self._still = Chunk.objects.filter(
            pk=chunk.pk, token=chunk.token, run__state__in=(Run.State.WAITING, Run.State.RUNNING)
        )
        self.looked_at = time.monotonic()

    def __call__(self) -> bool:
        """Say whether to stop, having looked not long ago."""
        if time.monotonic() - self.looked_at < SECONDS_BETWEEN_LOOKS:
            return False
        self.looked_at = time.monotonic()
        return not self.is_wanted()

    def is_wanted(self) -> bool:
        """Say whether somebody still waits for what is being done."""
        return self._still.exists()

    @contextmanager
    def on_duty(self) -> Iterator[None]:
        """Be among those at work as long as the context lasts."""
        self.at_work.add(self)
        try:
            yield
        finally:
            self.at_work.discard(self)


def is_stuck() -> bool:
    """Say whether this process is at something that nobody wants any more and has not noticed for long."""
    long_ago = time.monotonic() - SECONDS_UNTIL_STUCK
    return any(watch.looked_at < long_ago and not watch.is_wanted() for watch in tuple(Watch.at_work))


@transaction.atomic
def _write(chunk: Chunk, results: Results) -> None:
    """Write a chunk's figures where its token is still the chunk's, and close the run after the last."""
    run = Run.objects.select_for_update().get(pk=chunk.run_id)
    if run.is_over:
        return
    mine = Chunk.objects.filter(pk=chunk.pk, token=chunk.token, is_done=False)
    if not mine.update(is_done=True):
        return
    addresses = list(results.replications[0].figures)
    if not run.addresses:
        run.addresses = addresses
        run.save(update_fields=["addresses"])
    ReplicationRow.objects.bulk_create(_row(run, each) for each in results.replications)
    Run.objects.filter(pk=run.pk).update(done=F("done") + chunk.count)
    if run.done + chunk.count >= run.replications:
        _close(run.pk, Run.State.DONE)


def _row(run: Run, replication: Replication) -> ReplicationRow:
    return ReplicationRow(
        run=run,
        number=replication.number,
        values=[replication.figures[address] for address in run.addresses],
        histograms={address: [each.exponent, *each.counts] for address, each in replication.histograms.items()},
        inside=replication.series[INSIDE].astype(np.float32).tobytes(),
    )


def fail_run(run_id: int, problem: str) -> None:
    """Close a run that cannot go on, and say why."""
    if _close(run_id, Run.State.FAILED):
        Run.objects.filter(pk=run_id).update(problem=problem)
        take_off(Run.objects.get(pk=run_id))


def end_orphans() -> None:
    """Fail the runs of another engine version for which no worker of that version is left."""
    for run_id, engine in waiting_for_another_engine():
        what = f"It was begun by version {engine} of the engine, and no worker of that version is left. Run it again."
        fail_run(run_id, what)


def tell_findings(run_id: int | None = None) -> None:
    """Write down what the runs found that are over and have not said so yet; of one run, or of all."""
    untold = Run.objects.filter(finding=None, finished_at__isnull=False).select_related("version")
    for run in untold if run_id is None else untold.filter(pk=run_id):
        Run.objects.filter(pk=run.pk).update(finding=_finding(run))


class Finding(BaseModel):
    """What a run found, in a sentence, and the number of the version that it ran."""

    sentence: str
    version: int


def last_findings(studies: QuerySet[Study]) -> dict[int, Finding]:
    """Return by study what the latest run found that found something."""
    told = Run.objects.filter(version__study__in=studies, finding__gt="")
    latest = told.order_by("version__study", "-number").distinct("version__study")
    rows = latest.values_list("version__study", "finding", "version__number")
    return {study: Finding(sentence=sentence or "", version=version) for study, sentence, version in rows}


def _finding(run: Run) -> str:
    """Return what a run found; nothing of one that failed or whose document can no longer be read."""
    if run.state == Run.State.FAILED:
        return ""
    try:
        return as_text(headline(document_of(run.version), results_of(run)))
    except Exception:
        logger.exception("The finding of run %s cannot be told", run.pk)
        return ""


def _close(run_id: int, state: Run.State) -> bool:
    still_open = Run.objects.filter(pk=run_id, state__in=(Run.State.WAITING, Run.State.RUNNING))
    return bool(still_open.update(state=state, finished_at=timezone.now()))


def results_of(run: Run) -> Results:
    """Return the results of a run from the replications that are written so far."""
    places = {address: place for place, address in enumerate(run.addresses)}
    return Results.of(
        (
            Replication(
                number=row.number,
                figures=Row(places, np.array(row.values)),
                histograms={address: Histogram(h[0], tuple(h[1:])) for address, h in row.histograms.items()},
                series={INSIDE: np.frombuffer(row.inside, np.float32).astype(np.float64)},
            )
            for row in run.rows.iterator(ROWS_AT_ONCE)
        ),
        run.settings["confidence"],
    )
