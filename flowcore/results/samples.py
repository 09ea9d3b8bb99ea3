"""Figures per case and visit, from the rows of the ledger."""

from collections.abc import Iterator

import numpy as np
from numpy.typing import NDArray

from flowcore.results.histogram import Histogram
from flowcore.results.statistics import STATISTICS, sample_statistics
from flowcore.study import StudyDocument, minutes
from flowcore.study.clocks import clocks_of
from flowcore.study.steps import Exit

Figures = dict[str, float]
Rows = NDArray[np.void]
Samples = dict[str, NDArray[np.float64]]

QUANTITIES = ("wait", "work", "travel", "blocked", "total", "cost")
OWN_TIME = "time"
POOLED = ("wait", "total", OWN_TIME)
POOLED_OF_TYPES = (*POOLED, "cost")
INSTANT = ("choose", "fork", "scatter", "set", "exit")


def ratio(part: float, whole: float) -> float:
    """Return a part of a whole; not-a-number where there is no whole."""
    return part / whole if whole > 0 else float("nan")


def samples_of(
    study: StudyDocument, visits: Rows, departures: Rows, spans: Rows, quantities: tuple[str, ...] = QUANTITIES
) -> Iterator[dict[str, Samples]]:
    """Yield the samples of all steps, of all case types, streams and outcomes, and of all spans.

    One after another, since those of millions of visits take as much room as the visits themselves.
    """
    yield _of_visits(visits, study, quantities)
    yield _of_departures(departures, study, quantities)
    yield _of_spans(spans, study, quantities)


def figures_of(subjects: dict[str, Samples], wanted: set[str]) -> Figures:
    """Return the statistics of every subject's samples, and the shares within a time that are wanted.

    Samples that subjects share are read once.
    """
    known: dict[int, NDArray[np.float64]] = {}
    figures: Figures = {}
    for subject, samples in subjects.items():
        for quantity, values in samples.items():
            if id(values) not in known:
                known[id(values)] = sample_statistics(values)
            named = zip(STATISTICS, known[id(values)], strict=True)
            figures.update({f"{subject}/{quantity}/{name}": float(value) for name, value in named})
    for address in wanted:
        subject, _, statistic = address.rpartition("/")
        owner, _, quantity = subject.rpartition("/")
        if statistic.startswith("within:") and quantity in subjects.get(owner, {}):
            values = subjects[owner][quantity]
            limit = minutes(statistic.removeprefix("within:"))
            figures[address] = float(np.mean(values <= limit)) if len(values) else float("nan")
    return figures


def histograms_of(subjects: dict[str, Samples]) -> dict[str, Histogram]:
    """Return the histograms of the POOLED quantities of every subject; samples that subjects share are read once."""
    known: dict[int, Histogram] = {}
    found: dict[str, Histogram] = {}
    for subject, samples in subjects.items():
        for quantity in POOLED_OF_TYPES if subject.startswith("type/") else POOLED:
            if quantity not in samples:
                continue
            values = samples[quantity]
            if id(values) not in known:
                known[id(values)] = Histogram.of(values)
            found[f"{subject}/{quantity}"] = known[id(values)]
    return found


def _grouped(rows: Rows, everything: Samples, key: str, ids: list[str]) -> tuple[Samples, dict[str, Samples]]:
    """Put samples into the order of an index field of their rows; return them, and the parts of every id.

    What is given is emptied, so that its room is free as soon as its columns are in order.
    """
    keys = rows[key].astype(np.int16 if len(ids) < np.iinfo(np.int16).max else np.int32)
    order = np.argsort(keys, kind="stable")
    edges = np.concatenate([[0], np.cumsum(np.bincount(keys, minlength=len(ids)))])
    if len(keys) in np.diff(edges):
        nothing = {quantity: column[:0] for quantity, column in everything.items()}
        return everything, {each: everything if edges[n + 1] - edges[n] else nothing for n, each in enumerate(ids)}
    columns = {}
    for quantity in tuple(everything):
        columns[quantity] = everything.pop(quantity)[order]
    parts = {
        each: {quantity: column[edges[n] : edges[n + 1]] for quantity, column in columns.items()}
        for n, each in enumerate(ids)
    }
    return columns, parts


def _columns(rows: Rows, names: tuple[str, ...]) -> Samples:
    return {name: np.ascontiguousarray(rows[name]) for name in names}


def _of_visits(visits: Rows, study: StudyDocument, quantities: tuple[str, ...]) -> dict[str, Samples]:
    """Return the samples of steps; `total` is the time at the step, without the way to it."""
    everywhere = _columns(visits, tuple(each for each in quantities if each != "total"))
    if "total" in quantities:
        everywhere["total"] = everywhere["wait"] + everywhere["work"] + everywhere["blocked"]
    everywhere, grouped = _grouped(visits, everywhere, "step", [step.id for step in study.steps])
    timed = {step.id for step in study.steps if step.kind not in INSTANT}
    return {"step/all": everywhere} | {f"step/{k}": v for k, v in grouped.items() if k in timed}


def _of_departures(departures: Rows, study: StudyDocument, quantities: tuple[str, ...]) -> dict[str, Samples]:
    everywhere = _columns(departures, quantities)
    result = {f"{subject}/all": everywhere for subject in ("type", "stream", "outcome")}
    subjects = {
        "type": [case_type.id for case_type in study.case_types],
        "stream": [stream.id for stream in study.streams],
    }
    for subject, ids in subjects.items():
        if ids:
            _, grouped = _grouped(departures, dict(everywhere), subject, ids)
            result |= {f"{subject}/{each}": samples for each, samples in grouped.items()}
    _, grouped = _grouped(departures, dict(everywhere), "step", [step.id for step in study.steps])
    exits = [step.id for step in study.steps if isinstance(step, Exit)]
    return result | {f"outcome/{each}": grouped[each] for each in exits}


def _of_spans(spans: Rows, study: StudyDocument, quantities: tuple[str, ...]) -> dict[str, Samples]:
    """Return the samples of spans, of own measures of a time, and of the ways to checkpoints and between them."""
    subjects = [each.subject for each in clocks_of(study)]
    found = _grouped(spans, _columns(spans, quantities), "span", subjects)[1] if subjects else {}
    return {subject: _time_alone(subject, samples) for subject, samples in found.items()}


def _time_alone(subject: str, samples: Samples) -> Samples:
    """Return of an own measure the time in all alone, under its own name."""
    if not subject.startswith("measure/"):
        return samples
    return {OWN_TIME: samples["total"]} if "total" in samples else {}
