"""The worker's tasks."""

import logging

from procrastinate import JobContext
from procrastinate.contrib.django import app

from urbanqueue.runs.actions import do_chunk, fail_run
from urbanqueue.runs.models import Chunk

SECONDS_WITHOUT_SIGN_OF_LIFE = 6

logger = logging.getLogger(__name__)


@app.task(queue="chunks")
def run_chunk(chunk_id: int) -> None:
    """Do one chunk of a run; what goes wrong in it is said at the run."""
    try:
        do_chunk(chunk_id)
    except Exception as error:
        logger.exception("Chunk %s failed", chunk_id)
        run_id = Chunk.objects.values_list("run_id", flat=True).get(pk=chunk_id)
        fail_run(run_id, f"The engine failed: {error}")


@app.periodic(cron="* * * * * */3")
@app.task(queue="rescue", queueing_lock="rescue", pass_context=True)
async def rescue(context: JobContext, timestamp: int) -> None:
    """Put the chunks of workers that died back on the queue."""
    manager = context.app.job_manager
    stalled = await manager.get_stalled_jobs(seconds_since_heartbeat=SECONDS_WITHOUT_SIGN_OF_LIFE)
    for job in stalled:
        await manager.retry_job(job)
