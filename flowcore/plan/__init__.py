"""From the study document to the arrays that the kernel reads."""

from flowcore.plan.compile import compile_study

__all__ = ["compile_study"]
