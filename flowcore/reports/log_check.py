"""A model held against a log: what the log measures beside what a run of the model says."""

from collections.abc import Mapping
from typing import Any

from pydantic import BaseModel

from flowcore.calibration.found import LogFound
from flowcore.calibration.measured import Hourly, Measured
from flowcore.calibration.proposals.matching import Matching, matched
from flowcore.reports.observed import Fit, held_against
from flowcore.results.catalogue import Title, titled
from flowcore.results.statistics import Estimate
from flowcore.study import StudyDocument
from flowcore.study.durations import in_unit
from flowcore.study.runs import Observed

DIGITS = 6
COUNTED = ("served", "abandoned", "completed")


class WeekBeside(BaseModel):
    """A quantity by the hour of the week: as the log has it, and as it was simulated with half its interval."""

    quantity: str
    title: Title
    observed: Hourly
    simulated: Hourly
    half_width: Hourly


class LogCheck(BaseModel):
    """What a log measures beside what was simulated; `observed` is that as the document has it."""

    fits: list[Fit]
    observed: list[Observed]
    weeks: list[WeekBeside]


def measures_of(study: StudyDocument, found: LogFound, chosen: Matching, source: str) -> list[Observed]:
    """Return what a log measures as what is known of the real service, for what a study has."""
    names = matched(found, study, chosen)
    told = [(f"type/all/{what}", each) for what, each in found.measured.all.items()]
    for part, ids in (("type", names.types), ("step", names.steps)):
        for each in found.measured.types if part == "type" else found.measured.steps:
            if id_ := ids.get(each.name):
                told += [(f"{part}/{id_}/{what}", figure) for what, figure in each.figures.items()]
    return [_observed(address, figure, source) for address, figure in told if titled(address, study) is not None]


def _observed(address: str, figure: Measured, source: str) -> Observed:
    if address.endswith(COUNTED):
        value, low, high = (float(f"{each:.{DIGITS}g}") for each in (figure.value, figure.low, figure.high))
        return Observed(figure=address, value=value, low=low, high=high, per="week", source=source)
    times = (in_unit(each, "min", DIGITS) for each in (figure.value, figure.low, figure.high))
    return Observed.model_validate(
        dict(zip(("value", "low", "high"), times, strict=True)) | {"figure": address, "source": source}
    )


def weekly_quantities(study: StudyDocument, found: LogFound, chosen: Matching) -> dict[str, Hourly]:
    """Return by which quantity of a run's week the log has one of its own by the hour."""
    steps = matched(found, study, chosen).steps
    of_all = {"arrived": "stream/all/arrived", "completed": "type/all/completed"}
    told = {}
    for name, hours in found.measured.by_hour.items():
        step = steps.get(name.removeprefix("wait/"))
        quantity = of_all.get(name) or (f"step/{step}/wait" if step else None)
        if quantity:
            told[quantity] = hours
    return told


def checked(
    study: StudyDocument,
    observed: list[Observed],
    figures: Mapping[str, Estimate],
    weeks: Mapping[str, Any],
    hours: dict[str, Hourly],
) -> LogCheck:
    """Return what a log measures beside the figures and the weeks of a run; `weeks` as the run has them, as JSON."""
    fits = held_against(study.model_copy(update={"observed": observed}), figures)
    beside = [
        WeekBeside(
            quantity=quantity,
            title=weeks[quantity]["title"],
            observed=seen,
            simulated=weeks[quantity]["mean"],
            half_width=weeks[quantity]["half_width"],
        )
        for quantity, seen in hours.items()
        if quantity in weeks
    ]
    return LogCheck(fits=fits, observed=observed, weeks=beside)
