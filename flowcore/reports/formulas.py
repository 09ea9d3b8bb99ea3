"""Formulas beside what was simulated, where a formula comes close, with the difference in words."""

from collections.abc import Iterator, Mapping

from pydantic import BaseModel

from flowcore.results.catalogue import Title, titled
from flowcore.results.statistics import Estimate
from flowcore.study import StudyDocument
from flowcore.theory.outlook import outlook
from flowcore.thresholds import ALIKE

WAIT = "type/all/wait/mean"


class ByFormula(BaseModel):
    """A figure by a formula, in the figure's unit, beside what was simulated."""

    address: str
    title: Title
    formula: float
    figure: Estimate
    words: str


class Formulas(BaseModel):
    """What formulas tell of a study, and why they cannot tell its waits, if so."""

    lines: list[ByFormula]
    reasons: list[str]


def formulas_beside(study: StudyDocument, figures: Mapping[str, Estimate]) -> Formulas:
    """Return the loads of teams, and the mean wait where it can be told, by formulas beside a run's figures."""
    theory = outlook(study)
    told = {f"team/{team}/utilisation": load for team, load in theory.loads.items() if load is not None and load < 1}
    if theory.wait is not None:
        told = {WAIT: theory.wait} | told
    return Formulas(lines=list(_lines(study, told, figures)), reasons=theory.reasons)


def _lines(study: StudyDocument, told: dict[str, float], figures: Mapping[str, Estimate]) -> Iterator[ByFormula]:
    for address, formula in told.items():
        title, figure = titled(address, study), figures.get(address)
        if title is not None and figure is not None and figure.mean is not None:
            words = _words(formula, figure)
            yield ByFormula(address=address, title=title, formula=formula, figure=figure, words=words)


def _words(formula: float, figure: Estimate) -> str:
    """Say whether a figure is as a formula has it, within its interval or nearly, or by how much it is not."""
    mean = figure.mean or 0.0
    low, high = (mean if end is None else end for end in (figure.low, figure.high))
    if low <= formula <= high or abs(mean - formula) <= ALIKE * abs(formula):
        return "as by formula"
    if formula == 0:
        return "the formula has none"
    return f"{100 * abs(mean / formula - 1):.0f} % {'more' if mean > formula else 'less'} than by formula"
