"""Formulas of queueing theory: an estimate before a run, a check on the engine after it."""

from flowcore.theory.queues import erlang_b, erlang_c, wait_mg1, wait_mmc

__all__ = ["erlang_b", "erlang_c", "wait_mg1", "wait_mmc"]
