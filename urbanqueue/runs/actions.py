"""What can be done with runs: start, stop, do a chunk, read the figures."""

import time
import uuid
from collections.abc import Callable, Iterator

from django.db import transaction
from django.db.models import F, Max
from django.utils import timezone

from flowcore import __version__, simulate
from flowcore.results.histogram import Histogram
from flowcore.results.replication import Replication
from flowcore.results.run import Results
from flowcore.simulate import Stopped, require_sound
from flowcore.study import Study as Document
from flowcore.study import minutes
from flowcore.theory.network import visit_rates
from urbanqueue.runs.models import Chunk, ReplicationRow, Run
from urbanqueue.studies.actions import current_version, document_of
from urbanqueue.studies.models import Study

VISITS_PER_CHUNK = 600_000
SECONDS_BETWEEN_LOOKS = 0.25
MOST_ATTEMPTS = 5


@transaction.atomic
def start_run(study: Study, defer: Callable[[int], object]) -> Run:
    """Start a run of a study's current version; `defer` puts each chunk's id on the queue.

    Raises StudyError where the study has errors.
    """
    Study.objects.select_for_update().get(pk=study.pk)
    version = current_version(study)
    document = document_of(version)
    require_sound(document)
    latest = Run.objects.filter(version__study=study).aggregate(Max("number"))["number__max"]
    run = Run.objects.create(
        version=version, number=(latest or 0) + 1, replications=document.run.replications, engine=__version__
    )
    for chunk in Chunk.objects.bulk_create(_cut(run, document)):
        defer(chunk.pk)
    return run


def _cut(run: Run, document: Document) -> Iterator[Chunk]:
    """Cut a run into chunks of about half a second of work, by the expected number of visits."""
    visits = float(visit_rates(document).sum()) * minutes(document.run.length)
    size = max(1, int(VISITS_PER_CHUNK / max(1.0, visits)))
    for first in range(0, run.replications, size):
        yield Chunk(run=run, first=first, count=min(size, run.replications - first))


def stop_run(run: Run) -> None:
    """Stop a run and keep what is done; its workers notice within a moment."""
    _close(run.pk, Run.State.STOPPED)


def do_chunk(chunk_id: int) -> None:
    """Do one chunk and write its figures, unless another attempt holds it by then."""
    chunk = _claim(chunk_id)
    if chunk is None:
        return
    document = document_of(chunk.run.version)
    numbers = range(chunk.first, chunk.first + chunk.count)
    try:
        results = simulate(document, numbers=numbers, should_stop=_Watch(chunk))
    except Stopped:
        return
    _write(chunk, results)


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


class _Watch:
    """Says whether to stop: the run was stopped, or another attempt took the chunk."""

    def __init__(self, chunk: Chunk) -> None:
        self._still = Chunk.objects.filter(
            pk=chunk.pk, token=chunk.token, run__state__in=(Run.State.WAITING, Run.State.RUNNING)
        )
        self._looked_at = time.monotonic()

    def __call__(self) -> bool:
        if time.monotonic() - self._looked_at < SECONDS_BETWEEN_LOOKS:
            return False
        self._looked_at = time.monotonic()
        return not self._still.exists()


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
    if not run.chunks.filter(is_done=False).exists():
        _close(run.pk, Run.State.DONE)


def _row(run: Run, replication: Replication) -> ReplicationRow:
    return ReplicationRow(
        run=run,
        number=replication.number,
        values=[replication.figures[address] for address in run.addresses],
        histograms={address: [each.exponent, *each.counts] for address, each in replication.histograms.items()},
    )


def fail_run(run_id: int, problem: str) -> None:
    """Close a run that cannot go on, and say why."""
    if _close(run_id, Run.State.FAILED):
        Run.objects.filter(pk=run_id).update(problem=problem)


def _close(run_id: int, state: Run.State) -> bool:
    still_open = Run.objects.filter(pk=run_id, state__in=(Run.State.WAITING, Run.State.RUNNING))
    return bool(still_open.update(state=state, finished_at=timezone.now()))


def results_of(run: Run) -> Results:
    """Return the results of a run from the replications that are written so far."""
    confidence = document_of(run.version).run.confidence
    return Results.of(
        (
            Replication(
                number=row.number,
                figures=dict(zip(run.addresses, row.values, strict=True)),
                histograms={address: Histogram(h[0], tuple(h[1:])) for address, h in row.histograms.items()},
            )
            for row in run.rows.all()
        ),
        confidence,
    )
