"""All that Findings shows of a scenario's run, summed up so that no picture needs the replications again."""

from math import isnan

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel

from flowcore.findings.run import sentences
from flowcore.findings.told import Told
from flowcore.findings.trust import has_it_settled, what_it_rests_on, what_to_leave_out
from flowcore.problems import Problem
from flowcore.reports.course import Course, course_of
from flowcore.reports.formulas import Formulas, formulas_beside
from flowcore.reports.groups import FigureGroup, groups_of
from flowcore.reports.minutes import MinutesBar, minutes_at_steps, minutes_of_types
from flowcore.reports.spread import CaseSpread, spread_of
from flowcore.results.catalogue import ANY_CAUSE, LINE_WORDS, MEASURES, Title, titled
from flowcore.results.cost_lines import CostLine, cost_lines
from flowcore.results.run import Results
from flowcore.results.statistics import Estimate
from flowcore.results.steady_state import doubts, proposed_warm_up
from flowcore.study import StudyDocument


class Quantity(BaseModel):
    """What a picture can be of, such as `step/counter/wait`, and what it is called."""

    quantity: str
    title: Title


class RunFindings(BaseModel):
    """What a run says of a scenario: sentences, what they rest on, and the figures of the first page.

    `to_leave_out` says by how much more the beginning had better be left out; the proposed warm-up is in minutes.
    """

    confidence: float
    replications: int
    sentences: list[Told]
    grounds: str
    to_leave_out: str
    settled: str
    doubts: list[Problem]
    proposed_warm_up: float | None
    types: list[MinutesBar]
    costs: list[CostLine]
    formulas: Formulas
    figures: dict[str, Estimate]
    weekly: list[Quantity]
    spread: list[Quantity]


class RunWeek(BaseModel):
    """A quantity by the hour of the week from Monday's midnight, with half its interval; None where it has none."""

    quantity: str
    title: Title
    mean: list[float | None]
    half_width: list[float | None]


class StepRow(BaseModel):
    """A step: where the minutes of a visit go, and figures by their statistic, such as `wait/p90`."""

    minutes: MinutesBar
    figures: dict[str, Estimate]


class Summary(BaseModel):
    """What is kept of a scenario's run: one part is read for one picture."""

    findings: RunFindings
    steps: list[StepRow]
    groups: list[FigureGroup]
    figures: dict[str, Estimate]
    weeks: dict[str, RunWeek]
    spreads: dict[str, CaseSpread]
    course: Course


def summary_of(study: StudyDocument, results: Results) -> Summary:
    """Return all that Findings shows of a scenario's results."""
    figures = results.figures()
    weeks, spreads = _weeks(study, results), _spreads(study, results, figures)
    return Summary(
        findings=_findings(study, results, figures, weeks, spreads),
        steps=_steps(study, figures),
        groups=groups_of(study, figures),
        figures=figures,
        weeks=weeks,
        spreads=spreads,
        course=course_of(study, results),
    )


def _findings(
    study: StudyDocument,
    results: Results,
    figures: dict[str, Estimate],
    weeks: dict[str, RunWeek],
    spreads: dict[str, CaseSpread],
) -> RunFindings:
    return RunFindings(
        confidence=results.confidence,
        replications=len(results.replications),
        sentences=sentences(study, results),
        grounds=what_it_rests_on(study, results),
        to_leave_out=what_to_leave_out(study, results),
        settled=has_it_settled(study, results),
        doubts=doubts(study, results),
        proposed_warm_up=proposed_warm_up(study, results),
        types=minutes_of_types(study, figures),
        costs=cost_lines(study, lambda address: found.mean if (found := figures.get(address)) else None),
        formulas=formulas_beside(study, figures),
        figures={address: figures[address] for address in shown_at_first(study) if address in figures},
        weekly=[Quantity(quantity=each.quantity, title=each.title) for each in weeks.values()],
        spread=[Quantity(quantity=each.quantity, title=each.title) for each in spreads.values()],
    )


OF_STEPS = ("wait/mean", "wait/p90", "wait/none", "line/mean", "served", "abandoned", "turned-away")


def _steps(study: StudyDocument, figures: dict[str, Estimate]) -> list[StepRow]:
    return [
        StepRow(
            minutes=bar,
            figures={each: figures[f"step/{bar.id}/{each}"] for each in OF_STEPS if f"step/{bar.id}/{each}" in figures},
        )
        for bar in minutes_at_steps(study, figures)
    ]


def shown_at_first(study: StudyDocument) -> list[str]:
    """Return the addresses of the figures that the first page shows beside sentences and pictures."""
    of_teams = ("utilisation", f"cause:{ANY_CAUSE}/mean", "present")
    return [
        *MEASURES,
        *(target.figure for target in study.targets),
        *(f"team/{team.id}/{what}" for team in study.teams for what in of_teams),
        *(f"cost/team/{team.id}/total/{per}" for team in study.teams for per in ("per:day", "per:open-day")),
        *(f"cost/{line}/{per}" for line in LINE_WORDS for per in ("per:day", "per:open-day", "per:case")),
    ]


def _weeks(study: StudyDocument, results: Results) -> dict[str, RunWeek]:
    """Return by the hour of the week what all replications have."""
    quantities = results.replications[0].week if results.replications else {}
    titles = {quantity: titled(f"{quantity}/hour:0", study) for quantity in quantities}
    told = {
        quantity: title
        for quantity, title in titles.items()
        if title is not None and all(quantity in each.week for each in results.replications)
    }
    return {
        quantity: RunWeek(quantity=quantity, title=title, mean=_known(means), half_width=_known(halves))
        for (quantity, title), means, halves in zip(told.items(), *results.weeks([*told]), strict=True)
    }


def _known(values: NDArray[np.float64]) -> list[float | None]:
    return [None if isnan(value) else value for value in values.tolist()]


def _spreads(study: StudyDocument, results: Results, figures: dict[str, Estimate]) -> dict[str, CaseSpread]:
    """Return how each quantity of which there are cases spreads."""
    found = {quantity: spread_of(study, results, quantity, figures) for quantity in results.histograms()}
    return {quantity: spread for quantity, spread in found.items() if spread is not None}
