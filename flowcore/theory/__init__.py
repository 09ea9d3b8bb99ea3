"""Formulas of queueing theory: an estimate before a run, a check on the engine after it."""

from flowcore.theory.queues import (
    abandon_mmcm,
    erlang_b,
    erlang_c,
    loss_mmck,
    times_preemptive,
    wait_forked,
    wait_ggc,
    wait_mg1,
    wait_mg1_breakdowns,
    wait_mg1_vacations,
    wait_mmc,
    waits_priorities,
)
from flowcore.theory.varying import load_over_time

__all__ = [
    "abandon_mmcm",
    "erlang_b",
    "erlang_c",
    "load_over_time",
    "loss_mmck",
    "times_preemptive",
    "wait_forked",
    "wait_ggc",
    "wait_mg1",
    "wait_mg1_breakdowns",
    "wait_mg1_vacations",
    "wait_mmc",
    "waits_priorities",
]
