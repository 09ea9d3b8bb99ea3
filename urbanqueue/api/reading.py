"""Where what a run says is put together: at once where little is to be read, else in the process beside."""

from collections.abc import Callable
from typing import Any, TypeVar

from ninja import Status

from flowcore.problems import error_at
from urbanqueue.api.aside import Busy, figures
from urbanqueue.api.errors import Problems
from urbanqueue.runs.models import Part

Answer = TypeVar("Answer")
FEW_REPLICATIONS = 200


def computed(function: Callable[[Any], Answer], parts: list[Part], *more: Any) -> Answer | Status[Problems]:
    """Return what a function says of parts of runs, which it is given by their keys, and of what else is asked."""
    question = (tuple(part.pk for part in parts), *more)
    if sum(part.done for part in parts) <= FEW_REPLICATIONS:
        return function(question)
    try:
        return figures.compute(function, question)
    except Busy:
        problem = error_at("run", "Others' figures are being put together.", "It is tried again in a moment.")
        return Status(503, Problems(problems=[problem]))
