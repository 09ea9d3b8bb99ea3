"""Health checks: what is wrong or doubtful in a study before it runs."""

from flowcore.checks import (  # noqa: F401
    capacity,
    demand,
    flow,
    hours,
    levers,
    measures,
    references,
    shares,
    size,
    sizing,
    sources,
    teams,
)
from flowcore.checks.registry import check_study, errors_of

__all__ = ["check_study", "errors_of"]
