"""Trials and their outcomes as they are kept."""

import hashlib
import json
from dataclasses import asdict
from io import BytesIO
from typing import Any

import numpy as np

from flowcore.results.statistics import Estimate
from flowcore.sizing.aiming.trials import Outcome, Staffing, Trial


def asked_of(trial: Trial) -> dict[str, Any]:
    """Return a trial as JSON."""
    return {
        "staffing": trial.staffing.key,
        "numbers": list(trial.numbers),
        "fresh": trial.fresh,
        "looks": trial.looks,
        "shows": trial.shows,
    }


def trial_of(asked: dict[str, Any]) -> Trial:
    """Return what was asked for."""
    staffing = Staffing.of_key(asked["staffing"])
    return Trial(staffing, tuple(asked["numbers"]), asked["fresh"], asked["looks"], asked["shows"])


def digest_of(asked: dict[str, Any]) -> str:
    """Return what stands for a trial."""
    return hashlib.sha256(json.dumps(asked, sort_keys=True).encode()).hexdigest()


def packed(outcome: Outcome) -> bytes:
    """Return an outcome as bytes, to the last digit."""
    arrays = {"costs": outcome.costs, "cells": outcome.cells, "stands_still": np.array(outcome.stands_still)}
    if outcome.waited is not None:
        arrays["waited"] = outcome.waited
    figures = {address: asdict(each) for address, each in outcome.figures.items()}
    file = BytesIO()
    np.savez_compressed(file, figures=np.array(json.dumps(figures)), allow_pickle=False, **arrays)
    return file.getvalue()


def unpacked(body: bytes) -> Outcome:
    """Return the outcome that was packed."""
    with np.load(BytesIO(body), allow_pickle=False) as file:
        figures = {address: Estimate(**each) for address, each in json.loads(str(file["figures"])).items()}
        waited = file.get("waited")
        return Outcome(file["costs"], file["cells"], waited, bool(file["stands_still"]), figures)
