"""`manage.py work`: one worker that takes chunks of runs until it is told to stop."""

import asyncio
import os
import threading
import time
from typing import Any

from django.core.management.base import BaseCommand, CommandError
from django.db import DatabaseError, connection
from procrastinate import App
from procrastinate.contrib.django import app
from procrastinate.exceptions import ConnectorException

from flowcore.simulate import get_ready
from urbanqueue.runs.queue import QUEUE, SECONDS_WITHOUT_SIGN_OF_LIFE
from urbanqueue.runs.watch import is_stuck
from urbanqueue.searches.queue import DRIVING

SECONDS_TO_FINISH = 3
SECONDS_TO_TRY_AGAIN = 1
SEARCHES_AT_ONCE = 2
NICE = 5
"""Whoever waits for a page goes before whoever waits for a run."""


class Command(BaseCommand):
    """Works off the queue."""

    help = "Take chunks of runs from the database and do them."

    def handle(self, *args: Any, **options: Any) -> None:
        os.nice(NICE)
        self._require_database()
        for beside in (self._give_up_when_stuck, get_ready):
            threading.Thread(target=beside, daemon=True).start()
        while not asyncio.run(self._work_until_told_to_stop()):
            self.stderr.write("The database does not answer; the worker tries again.")
            time.sleep(SECONDS_TO_TRY_AGAIN)

    def _require_database(self) -> None:
        """Say at once where the address of the database is wrong."""
        try:
            connection.ensure_connection()
        except DatabaseError as error:
            place = f"{connection.settings_dict['HOST']}:{connection.settings_dict['PORT']}"
            mend = "Correct DATABASE_URL, or start the database."
            raise CommandError(f"The database at {place} cannot be reached: {error}\n{mend}") from None
        finally:
            connection.close()

    async def _work_until_told_to_stop(self) -> bool:
        """Work; say whether it was told to stop, and not the database that went away."""
        try:
            worker_app = app.with_connector(app.connector.get_worker_connector())  # type: ignore[attr-defined]
            async with worker_app.open_async():
                beside = [
                    asyncio.create_task(self._take(worker_app, "rescue", install_signal_handlers=False)),
                    asyncio.create_task(
                        self._take(worker_app, DRIVING, SEARCHES_AT_ONCE, install_signal_handlers=False)
                    ),
                ]
                await self._take(worker_app, QUEUE)
                for each in beside:
                    each.cancel()
                await asyncio.gather(*beside, return_exceptions=True)
        except (ConnectorException, DatabaseError):
            return False
        return True

    async def _take(self, worker_app: App, queue: str, at_once: int = 1, **more: Any) -> None:
        """Take jobs from one queue, one at a time: a run's replication may need most of what memory there is."""
        await worker_app.run_worker_async(
            queues=[queue],
            concurrency=at_once,
            update_heartbeat_interval=1,
            stalled_worker_timeout=SECONDS_WITHOUT_SIGN_OF_LIFE,
            shutdown_graceful_timeout=SECONDS_TO_FINISH,
            delete_jobs="successful",
            **more,
        )

    def _give_up_when_stuck(self) -> None:
        """End the whole process where its work does not come back though nobody wants it; another takes its place."""
        while True:
            time.sleep(1)
            try:
                stuck = is_stuck()
            except DatabaseError:
                connection.close()
                continue
            if stuck:
                self.stderr.write("The work does not come back; the worker gives up and starts anew.")
                os._exit(os.EX_SOFTWARE)
