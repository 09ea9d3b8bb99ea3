"""What a log says of how long work takes and how long cases wait at most."""

from collections.abc import Iterator
from typing import Any

import numpy as np

from flowcore.calibration.durations import FEWEST, VISIBLE, Fitted, unit_for
from flowcore.calibration.found import StepFound
from flowcore.calibration.proposals.proposal import PlaceSet, Proposal, Proposed
from flowcore.study import StudyDocument
from flowcore.study.base import Id
from flowcore.study.distributions import AnyDistribution, mean_of
from flowcore.study.distributions.shape import Shape, amount
from flowcore.study.durations import in_unit, minutes
from flowcore.study.levers import scaled
from flowcore.study.needs import teams_of
from flowcore.study.steps import Delay, Exit, Serve, Step, Work, WorkByType
from flowcore.theory.network import work_for

NEARLY = 0.01
CLOSE = 0.02
"""A mean that is off by no more than this share makes no difference, though it may be told from chance."""
FAR = 1.5
DIGITS = 3
AT_95 = 1.36
"""Over the root of how many: so far is what was seen from its own law at most, 19 times of 20 (Kolmogorov)."""
LIKELIHOOD = "maximum likelihood"
OBSERVED = "as observed"
GAVE_UP = {"id": "gave-up-by-log", "name": "Gave up", "kind": "exit", "abandoned": True}


def times_of(study: StudyDocument, step: Step, found: StepFound, types: dict[str, Id | None]) -> Iterator[Proposal]:
    """Yield what a log says of the durations of a step: of all cases, or of each type where these differ."""
    if isinstance(step, Serve | Delay):
        for proposal in _of_work(study, step, found, types):
            yield proposal.model_copy(update={"people": found.by_person})
    if isinstance(step, Serve) and found.patience and found.patience.many >= FEWEST:
        yield _of_patience(study, step, found.patience)


def _of_work(
    study: StudyDocument, step: Serve | Delay, found: StepFound, types: dict[str, Id | None]
) -> Iterator[Proposal]:
    work, key = (step.work, "work") if isinstance(step, Serve) else (step.time, "time")
    pace = _pace(study, step)
    at = f"/steps/{step.id}/{key}"
    by_type = {types[name]: fitted for name, fitted in found.by_type.items() if types.get(name)}
    if not by_type and found.work and found.work.many >= FEWEST:
        old = None if isinstance(work, WorkByType) else work
        yield _proposal(at, step.name, _words(key), old, _document_of(work), found.work, pace, _of_traits(work))
    for id_, fitted in by_type.items():
        assert id_ is not None
        name = next(each.name for each in study.case_types if each.id == id_)
        old = work_for(work, id_)
        yield _proposal(
            f"{at}/by_type/{id_}",
            step.name,
            f"{_words(key)}: {name}",
            old,
            _document_of(old),
            fitted,
            pace,
            _of_traits(work),
        )


def _words(key: str) -> str:
    return "how long work takes" if key == "work" else "how long it takes"


def _of_traits(work: Work) -> str:
    by_trait = isinstance(work, WorkByType) and work.by_trait
    return "What the study has for categories of traits stays, and counts before this." if by_trait else ""


def _pace(study: StudyDocument, step: Step) -> float:
    """Return how fast the slowest people work who can be asked for at a step."""
    needs = step.needs if isinstance(step, Serve) else []
    asked = {team for need in needs for team in teams_of(need, study)}
    return min((team.pace for team in study.teams if team.id in asked and team.kind == "people"), default=1.0)


def _document_of(value: Work) -> Any:
    return value if isinstance(value, str) else value.model_dump(mode="json", exclude_defaults=True)


def _proposal(
    at: str, name: str, what: str, old: AnyDistribution | None, was: Any, fitted: Fitted, pace: float, doubt: str
) -> Proposal:
    method = f"{fitted.fits[0].dist} by {LIKELIHOOD}" if _is_shaped(fitted) else OBSERVED
    new = scaled(_best(fitted), pace) if pace != 1 else _best(fitted)
    return Proposal(
        kind=Proposed.TIME,
        at=at,
        name=name,
        what=what,
        old=was,
        new=new,
        set=[PlaceSet(at=at, value=new)],
        fitted=fitted,
        factor=pace,
        agrees=None if old is None else _agrees(old, fitted, pace),
        method=method,
        evidence=_evidence(fitted)
        + (f" Times are multiplied by {pace:g}, the pace of those who work." if pace != 1 else ""),
        doubt=fitted.doubt or doubt,
    )


def _best(fitted: Fitted) -> Any:
    """Return the nearest shape; where none can be trusted, what was seen."""
    return fitted.fits[0].value if _is_shaped(fitted) else fitted.as_observed


def _is_shaped(fitted: Fitted) -> bool:
    """Say whether the nearest shape is rather to be taken: what has not ended in part cannot be taken as observed."""
    return bool(fitted.fits) and (fitted.longer > 0 or not fitted.doubt)


def _evidence(fitted: Fitted) -> str:
    unit = unit_for(fitted.mean)
    mean, low, high = (in_unit(each, unit, DIGITS) for each in (fitted.mean, *fitted.mean_interval))
    if fitted.longer:
        return f"{fitted.many:,} have ended, {fitted.longer:,} are only known to be longer."
    return f"{fitted.many:,} times, {mean} on average ({low} to {high})."


def _agrees(old: AnyDistribution, fitted: Fitted, pace: float) -> bool | None:
    """Say whether what was seen could come from a distribution: neither it nor its mean is further off than by chance.

    Where times are only known to be longer, the parameters of the same shape tell; None where these have no intervals.
    """
    seen = fitted.as_observed
    if not fitted.longer and abs(mean_of(old) / pace - fitted.mean) > max(CLOSE * fitted.mean, _far(fitted)):
        return False
    if isinstance(seen, str) or not isinstance(old, Shape) or old.variance() == 0:
        return abs(mean_of(old) / pace - fitted.mean) <= NEARLY * fitted.mean
    if fitted.longer:
        fit = next((each for each in fitted.fits if each.dist == old.model_dump()["dist"]), None)
        ends = fit.intervals if fit else {}
        return all(low <= amount(getattr(old, name)) <= high for name, (low, high) in ends.items()) if ends else None
    values = np.array([minutes(each) for each in seen["values"]])
    shares = np.linspace(0.0, fitted.reached, len(values))
    apart = float(np.abs(old.law().cdf(values * pace) - shares).max())
    return bool(apart <= max(VISIBLE, AT_95 / (fitted.many + fitted.longer) ** 0.5) + 1 / len(values))


def _far(fitted: Fitted) -> float:
    """Return how far off by chance a mean may be, 997 times of 1,000."""
    return FAR * (fitted.mean_interval[1] - fitted.mean)


def _of_patience(study: StudyDocument, step: Serve, fitted: Fitted) -> Proposal:
    old = step.line.patience
    at = f"/steps/{step.id}/line/patience"
    was = None if old is None else _document_of(old)
    found = _proposal(at, step.name, "how long cases wait before they give up", old, was, fitted, 1.0, "")
    if step.line.gives_up_to is not None:
        return found
    leaving = next((each for each in study.steps if isinstance(each, Exit) and each.abandoned), None)
    makes = [] if leaving else [PlaceSet(at="/steps/-", value=GAVE_UP)]
    to = leaving.id if leaving else GAVE_UP["id"]
    where = PlaceSet(at=f"/steps/{step.id}/line/gives_up_to", value=to)
    return found.model_copy(update={"set": [*makes, *found.set, where], "agrees": False})
