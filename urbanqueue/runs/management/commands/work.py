"""`manage.py work`: one worker that takes chunks of runs until it is told to stop."""

import asyncio
from typing import Any

from django.core.management.base import BaseCommand
from procrastinate.contrib.django import app

from urbanqueue.runs.tasks import SECONDS_WITHOUT_SIGN_OF_LIFE

SECONDS_TO_FINISH = 3


class Command(BaseCommand):
    """Works off the queue."""

    help = "Take chunks of runs from the database and do them."

    def handle(self, *args: Any, **options: Any) -> None:
        asyncio.run(self._work())

    async def _work(self) -> None:
        worker_app = app.with_connector(app.connector.get_worker_connector())  # type: ignore[attr-defined]
        async with worker_app.open_async():
            await worker_app.run_worker_async(
                concurrency=2,
                update_heartbeat_interval=1,
                stalled_worker_timeout=SECONDS_WITHOUT_SIGN_OF_LIFE,
                shutdown_graceful_timeout=SECONDS_TO_FINISH,
                delete_jobs="successful",
            )
