"""Which chunks of which samples may be drawn next: a few of each person's at a time, so that everybody's runs go on."""

from collections import Counter
from datetime import timedelta

from django.db import transaction
from django.db.models import Exists, F, OuterRef, QuerySet
from django.utils import timezone
from procrastinate.contrib.django import app
from procrastinate.contrib.django.models import ProcrastinateJob, ProcrastinateWorker

from flowcore.engine import ENGINE
from urbanqueue.runs.locks import locked, take_turns
from urbanqueue.runs.models import Chunk, Part, Run, Sample

QUEUE = f"chunks of {ENGINE}"
"""Workers of another engine version listen to another queue."""
SECONDS_WITHOUT_SIGN_OF_LIFE = 6
FEWEST_IN_HAND = 2
QUEUES_OF_A_WORKER = 3
TIME_FOR_ANOTHER_ENGINE = timedelta(minutes=2)
_OPEN = (Run.State.WAITING, Run.State.RUNNING)


def open_parts() -> QuerySet[Part]:
    """Return the parts of runs that are not over, but for those that failed."""
    return Part.objects.filter(run__state__in=_OPEN, problem="")


def wanted_chunks() -> QuerySet[Chunk]:
    """Return the chunks that are not done and whose sample somebody waits for."""
    waiting = open_parts().filter(sample=OuterRef("sample"))
    return Chunk.objects.filter(Exists(waiting), is_done=False)


@transaction.atomic
def hand_out() -> None:
    """Put the next chunks on the queue: of each person's runs in turn, as many as there are workers but one."""
    take_turns()
    lacking = open_parts().filter(run__engine=ENGINE, sample__handed_out__lt=F("replications"))
    by_owner: dict[int, list[Part]] = {}
    for part in lacking.select_related("sample", "run__version__study").defer(
        "sample__document", "run__version__document"
    ):
        by_owner.setdefault(part.run.version.study.owner_id, []).append(part)
    if not by_owner:
        return
    alive = workers_alive()
    most = _most_in_hand(alive)
    for owner, parts in by_owner.items():
        _hand_out_to(owner, parts, most, min(alive, most))


def _hand_out_to(owner: int, parts: list[Part], most: int, at_once: int) -> None:
    """Hand out chunks of a person's runs in turn, and of a run's scenarios those of which there is least.

    They may have `most` chunks in hand, of which `at_once` are under way.
    """
    mine = list(wanted_chunks().filter(sample__study__owner=owner).values_list("sample_id", flat=True))
    samples = {part.sample_id: part.sample for part in parts}
    in_hand = Counter(mine)
    many = len(mine)
    while many < most and parts:
        of_run: Counter[int] = Counter()
        for part in parts:
            of_run[part.run_id] += in_hand[part.sample_id]
        part = min(parts, key=lambda each: (of_run[each.run_id], each.run_id, samples[each.sample_id].handed_out))
        sample = samples[part.sample_id]
        chunk = _next_chunk(sample, part.replications, at_once)
        if chunk is not None:
            _defer(chunk)
            in_hand[sample.pk] += 1
            many += 1
        parts = [each for each in parts if samples[each.sample_id].handed_out < each.replications]


def _most_in_hand(workers: int) -> int:
    """Return how many chunks of one person may be on the queue or under way: one worker is left to the others."""
    return max(FEWEST_IN_HAND, workers - 1)


def workers_alive() -> int:
    """Return how many workers have shown a sign of life of late, of whatever engine.

    A worker's process is several to the queue: one does chunks, one tends the runs, one drives searches.
    """
    lately = timezone.now() - timedelta(seconds=SECONDS_WITHOUT_SIGN_OF_LIFE)
    return ProcrastinateWorker.objects.filter(last_heartbeat__gte=lately).count() // QUEUES_OF_A_WORKER


def workers_for_one() -> int:
    """Return how many workers may be at one person's chunks at a time."""
    alive = workers_alive()
    return min(alive, _most_in_hand(alive))


def replications_a_chunk(sample: Sample, wanted: int, at_once: int) -> int:
    """Return how many of the wanted replications make a chunk: no more than may, and as many chunks for each worker."""
    least = -(-wanted // sample.per_chunk)
    chunks = -(-least // max(1, at_once)) * max(1, at_once)
    return -(-wanted // chunks)


def _next_chunk(sample: Sample, wanted: int, at_once: int) -> Chunk | None:
    """Make the chunk of the first replications that are with nobody and not done; None where the wanted ones are."""
    later = sample.chunks.filter(first__gte=sample.handed_out).order_by("first").values_list("first", "count")
    first, before = sample.handed_out, wanted
    for begin, count in later.iterator(20):
        if begin > first:
            before = min(wanted, begin)
            break
        first = begin + count
    sample.handed_out = first
    chunk = None
    if first < wanted:
        chunk = Chunk.objects.create(
            sample=sample, first=first, count=min(replications_a_chunk(sample, wanted, at_once), before - first)
        )
        sample.handed_out = first + chunk.count
    sample.save(update_fields=["handed_out"])
    return chunk


def _defer(chunk: Chunk) -> None:
    task = app.configure_task("run_chunk", queue=QUEUE)
    Chunk.objects.filter(pk=chunk.pk).update(job=task.defer(chunk_id=chunk.pk))


@transaction.atomic
def take_off(run: Run) -> None:
    """Take back what was handed out for a run that is over and that no other run waits for."""
    take_turns()
    locked(Sample.objects.filter(pk__in=run.parts.values("sample")))
    unwanted = Chunk.objects.filter(sample__parts__run=run, is_done=False).exclude(pk__in=wanted_chunks().values("pk"))
    for chunk in list(unwanted.select_related("sample").defer("sample__document").order_by("-first")):
        if chunk.job is not None:
            app.job_manager.cancel_job_by_id(chunk.job, delete_job=True)
        chunk.delete()
        Sample.objects.filter(pk=chunk.sample_id, handed_out__gt=chunk.first).update(handed_out=chunk.first)


@transaction.atomic
def put_back() -> None:
    """Put chunks on the queue again whose job is gone or failed: a worker or the database ended in between."""
    jobs = ProcrastinateJob.objects.filter(status__in=("todo", "doing"))
    lost = wanted_chunks().filter(sample__engine=ENGINE)
    for chunk in lost.select_for_update(skip_locked=True, of=("self",)):
        if not jobs.filter(pk=chunk.job).exists():
            _defer(chunk)


def waiting_for_another_engine() -> list[tuple[int, str]]:
    """Return the runs of other engine versions, each with its version, whose next chunk nobody has taken for long."""
    begun_before = timezone.now() - TIME_FOR_ANOTHER_ENGINE
    waiting = wanted_chunks().filter(created_at__lt=begun_before).exclude(sample__engine=ENGINE)
    taken = ProcrastinateJob.objects.filter(pk__in=waiting.values("job"), status="doing").values("pk")
    samples = waiting.exclude(job__in=taken).values("sample")
    return list(open_parts().filter(sample__in=samples).values_list("run_id", "run__engine").distinct())
