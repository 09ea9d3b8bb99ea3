"""All that can be taken from a log: durations, patience and ways of each step, and when how many of which type come."""

import warnings
from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel
from scipy import stats

from flowcore.calibration.appointments import Booked, booked_of
from flowcore.calibration.arrivals import Coming, Profile, coming, profile
from flowcore.calibration.dates import Dates, dates_of
from flowcore.calibration.durations import FEW, PLACES, Fitted, fitted
from flowcore.calibration.measured import LogMeasured, measured
from flowcore.calibration.paces import PersonPace, paces_at
from flowcore.calibration.shares import Share, share_of, shares_after
from flowcore.calibration.shifts import PersonFound, people_of
from flowcore.calibration.traits import TraitFound, traits_of
from flowcore.logs.looks import waits_of
from flowcore.logs.visits import Numbers, Outcome, Visits

DIFFERENT = 0.001
"""So unlikely by chance must differences between types be that each has a duration of its own."""
MOST_COMPARED = 5_000
"""By so many times of each type at most it is told whether types differ."""
MOST_TYPES = 12
MOST_STEPS = 100


class StepFound(BaseModel):
    """What is found of a step, by its name in the log.

    `work` is how long it takes; `by_type` where that differs between types more than by chance, `by_person` how fast
    each works; `patience` is how long those who gave up would have waited at most, `next` where cases go on to, also
    `next_by_type`.
    """

    step: str
    visits: int
    work: Fitted | None
    by_type: dict[str, Fitted]
    by_person: list[PersonPace]
    patience: Fitted | None
    next: list[Share]
    next_by_type: dict[str, list[Share]]


class LogFound(BaseModel):
    """What is found in a log: when cases come, by type and first step too, their types in shares, steps,
    people, and what it measures of the service as a whole.
    """

    cases: int
    arrivals: Profile
    types: list[Share]
    coming: list[Coming]
    booked: list[Booked]
    dates: Dates | None
    traits: list[TraitFound]
    steps: list[StepFound]
    people: list[PersonFound]
    measured: LogMeasured


def found_in(visits: Visits, told: Callable[[float], None] = lambda share: None) -> LogFound:
    """Return all that can be taken from a log; `told` hears which share is done. Raises ValueError without visits."""
    busiest = np.argsort(-np.bincount(visits.step, minlength=len(visits.steps)), kind="stable")[:MOST_STEPS]
    steps = []
    for done, place in enumerate(sorted(busiest.tolist())):
        steps.append(_step(visits, place))
        told((done + 1) / len(busiest))
    there = np.unique(visits.case)
    return LogFound(
        cases=len(there),
        arrivals=profile(visits.arrived[~np.isnan(visits.arrived)]),
        types=_counted(visits.type[there], visits.types),
        coming=coming(visits),
        booked=booked_of(visits),
        dates=dates_of(visits),
        traits=traits_of(visits),
        steps=steps,
        people=people_of(visits),
        measured=measured(visits),
    )


def _counted(places: NDArray[np.int32], names: list[str]) -> list[Share]:
    """Return how many have each name."""
    known = places[places >= 0]
    counts = np.bincount(known, minlength=len(names)).tolist()
    found = [share_of(name, count, len(known)) for name, count in zip(names, counts, strict=True) if count]
    return sorted(found, key=lambda each: -each.many)


def _step(visits: Visits, place: int) -> StepFound:
    name = visits.steps[place]
    here = visits.step == place
    served = here & (visits.outcome == Outcome.SERVED)
    type_ = visits.type[visits.case]
    by_type = _by_type(visits.work, served, type_, visits.types)
    types = [kind for n, kind in enumerate(visits.types) if (here & (type_ == n)).any()][:MOST_TYPES]
    return StepFound(
        step=name,
        visits=int(here.sum()),
        work=_fitted(visits.work[served]),
        by_type={kind: fitted(times) for kind, times in by_type.items()},
        by_person=paces_at(visits, here),
        patience=_patience(visits, here, served),
        next=shares_after(visits, name),
        next_by_type={kind: shares_after(visits, name, kind) for kind in types} if len(types) > 1 else {},
    )


def _fitted(times: Numbers) -> Fitted | None:
    known = times[times >= 0]
    return fitted(known) if len(known) else None


def _by_type(
    work: Numbers, served: NDArray[np.bool_], type_: NDArray[np.int32], types: list[str]
) -> dict[str, Numbers]:
    """Return the times of each type where they differ more than by chance: Anderson and Darling for several samples.

    Source: Scholz and Stephens (1987).
    """
    known = served & (work >= 0)
    times = {kind: work[known & (type_ == number)].round(PLACES) for number, kind in enumerate(types[:MOST_TYPES])}
    enough = {kind: each for kind, each in times.items() if len(each) >= FEW}
    if len(enough) < 2 or np.ptp(np.concatenate(list(enough.values()))) == 0:
        return {}
    with warnings.catch_warnings(action="ignore"):
        test = stats.anderson_ksamp([each[:MOST_COMPARED] for each in enough.values()], variant="midrank")
    return enough if test.pvalue <= DIFFERENT else {}


def _patience(visits: Visits, here: NDArray[np.bool_], served: NDArray[np.bool_]) -> Fitted | None:
    """Return how long cases wait at most: of those who were served it is only known to be longer than they waited."""
    waits = waits_of(visits)
    left = waits[here & (visits.outcome == Outcome.GAVE_UP)]
    stayed = waits[served]
    left, stayed = left[left >= 0], stayed[stayed >= 0]
    return fitted(left, stayed) if len(left) else None
