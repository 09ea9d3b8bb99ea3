"""How a worker does a chunk: take it under a token, draw its replications, write them if the token still holds."""

import time
import uuid

from django.db import transaction
from django.db.models import F, QuerySet

from flowcore import simulate
from flowcore.results.run import Results
from flowcore.simulate import Stopped, get_ready
from flowcore.study import read_study
from urbanqueue.runs.findings import tell_findings
from urbanqueue.runs.locks import locked
from urbanqueue.runs.models import Chunk, ReplicationRow, Run, Sample
from urbanqueue.runs.packing import note_addresses, packed
from urbanqueue.runs.progress import count_in, fail_sample
from urbanqueue.runs.queue import hand_out, open_parts, wanted_chunks
from urbanqueue.runs.watch import Watch

MOST_ATTEMPTS = 5


def do_chunk(chunk_id: int) -> None:
    """Do one chunk and write its figures, unless another attempt holds it by then."""
    chunk = claim(chunk_id)
    if chunk is None:
        return
    document = read_study(chunk.sample.document)
    numbers = range(chunk.first, chunk.first + chunk.count)
    watch = Watch(wanted_chunks().filter(pk=chunk.pk, token=chunk.token))
    get_ready()
    began = time.monotonic()
    try:
        with watch.on_duty():
            results = simulate(document, numbers=numbers, should_stop=watch)
    except Stopped:
        return
    if write(chunk, results, time.monotonic() - began):
        count_in(chunk.sample_id)
    hand_out()
    tell_findings()


def claim(chunk_id: int) -> Chunk | None:
    """Take a chunk under a token of one's own; None where there is nothing left to do."""
    token = uuid.uuid4()
    if not wanted_chunks().filter(pk=chunk_id).update(token=token, attempts=F("attempts") + 1):
        return None
    chunk = Chunk.objects.select_related("sample").get(pk=chunk_id)
    if chunk.attempts > MOST_ATTEMPTS:
        what = f"Replications from {chunk.first} on were begun {MOST_ATTEMPTS} times in vain."
        fail_sample(chunk.sample_id, what)
        return None
    waiting = open_parts().filter(sample=chunk.sample_id).values("run")
    Run.objects.filter(pk__in=waiting, state=Run.State.WAITING).update(state=Run.State.RUNNING)
    return chunk


def write(chunk: Chunk, results: Results, seconds: float = 0.0) -> bool:
    """Write a chunk's figures where its token is still the chunk's; say whether it was."""
    if not _mine(chunk).exists():
        return False
    sample = note_addresses(chunk.sample_id, results.replications[0])
    return _write(chunk, [packed(sample, each) for each in results.replications], seconds)


@transaction.atomic
def _write(chunk: Chunk, rows: list[ReplicationRow], seconds: float) -> bool:
    samples = Sample.objects.filter(pk=chunk.sample_id)
    if not locked(samples) or not _mine(chunk).update(is_done=True):
        return False
    samples.update(seconds=F("seconds") + seconds)
    ReplicationRow.objects.bulk_create(rows)
    return True


def _mine(chunk: Chunk) -> QuerySet[Chunk]:
    """Return the chunk, as long as its token is still its own and it is not done."""
    return Chunk.objects.filter(pk=chunk.pk, token=chunk.token, is_done=False)
