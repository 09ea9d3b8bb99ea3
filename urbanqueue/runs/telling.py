"""What goes wrong in a worker's job is said at what the job is of."""

import logging
from collections.abc import Callable, Iterator
from contextlib import contextmanager

from django.db import InterfaceError, OperationalError, close_old_connections, connection

from flowcore.problems import StudyError

logger = logging.getLogger(__name__)


@contextmanager
def telling(what: str, fail: Callable[[str], None]) -> Iterator[None]:
    """Say in words what goes wrong; `what` is where, for the log.

    Where the database goes away meanwhile that is raised: the job is put back on the queue later.
    """
    close_old_connections()
    try:
        yield
    except (OperationalError, InterfaceError):
        connection.close()
        raise
    except StudyError as error:
        fail(" ".join(f"{problem.what} {problem.mend}" for problem in error.problems))
    except MemoryError:
        fail("The memory is full. Shorten the run, or let fewer cases come.")
    except Exception as error:
        logger.exception("%s failed", what)
        fail(f"The engine failed: {error}")
