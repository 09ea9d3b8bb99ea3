"""The worker's tasks."""

from django.db import close_old_connections
from procrastinate import JobContext
from procrastinate.contrib.django import app

from urbanqueue.runs.chunks import do_chunk
from urbanqueue.runs.findings import tell_findings
from urbanqueue.runs.models import Chunk
from urbanqueue.runs.progress import end_orphans, fail_sample
from urbanqueue.runs.queue import SECONDS_WITHOUT_SIGN_OF_LIFE, hand_out, put_back
from urbanqueue.runs.telling import telling
from urbanqueue.studies.actions import sweep_studies


@app.task(name="run_chunk")
def run_chunk(chunk_id: int) -> None:
    """Do one chunk of a run; what goes wrong in it is said at the run.

    Where the database goes away meanwhile the chunk is put back on the queue later: see `tend`.
    """
    with telling(f"Chunk {chunk_id}", lambda problem: _fail(chunk_id, problem)):
        do_chunk(chunk_id)


def _fail(chunk_id: int, problem: str) -> None:
    for sample in Chunk.objects.filter(pk=chunk_id).values_list("sample_id", flat=True):
        fail_sample(sample, problem)


@app.periodic(cron="* * * * * */3")
@app.task(name="rescue", queue="rescue", queueing_lock="rescue", pass_context=True)
async def rescue(context: JobContext, timestamp: int) -> None:
    """Put the chunks of workers that died back on the queue."""
    manager = context.app.job_manager
    stalled = await manager.get_stalled_jobs(seconds_since_heartbeat=SECONDS_WITHOUT_SIGN_OF_LIFE)
    for job in stalled:
        await manager.retry_job(job)


@app.periodic(cron="* * * * * */5")
@app.task(name="tend", queue="rescue", queueing_lock="tend")
def tend(timestamp: int) -> None:
    """Let every run go on or end and say what it found, whatever has died.

    The tables say what is to be done, the queue only who is at it.
    """
    close_old_connections()
    put_back()
    hand_out()
    end_orphans()
    tell_findings()


@app.periodic(cron="17 3 * * *")
@app.task(name="sweep", queue="rescue", queueing_lock="sweep")
def sweep(timestamp: int) -> None:
    """Take away for good what was deleted long ago, once a night."""
    close_old_connections()
    sweep_studies()
