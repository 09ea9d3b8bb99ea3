"""One hour of the week: how those wait who come in it, and for what; replications are drawn again for it."""

from collections.abc import Iterator, Sequence

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel

from flowcore.kernel.records import kinds as k
from flowcore.kernel.records.world import World
from flowcore.kernel.summary.views import causes_of_steps, causes_of_types
from flowcore.problems import StudyError, error_at
from flowcore.reports.minutes import MinutesBar, one_bar
from flowcore.reports.spread import CaseSpread, spread_out
from flowcore.results.catalogue import ANY_CAUSE, Title, hour_words, titled
from flowcore.results.counts import CAUSES
from flowcore.results.histogram import Histogram
from flowcore.results.statistics import Estimate, estimate
from flowcore.results.week import hour_of_week
from flowcore.simulate import Replicator
from flowcore.study import StudyDocument

Minutes = NDArray[np.float64]
NONE_CAME = "Nobody came in this hour in the replications that were drawn again."
SHARES = {"p50": 50, "p90": 90, "p99": 99}


class HourTold(BaseModel):
    """Those who come in one hour of the week to a step, or with a case type to the service.

    `cases` are how many there were in a replication, `wait` is the mean wait of them, `minutes` where their minutes
    went, `spread` how long they waited.
    """

    name: str
    hour: str
    replications: int
    cases: Estimate
    wait: Estimate
    minutes: MinutesBar | None
    spread: CaseSpread


def hour_told(study: StudyDocument, quantity: str, hour: int, numbers: Sequence[int]) -> HourTold:
    """Draw replications again and return what a quantity such as `step/counter/wait` was made of in an hour.

    The hour is counted from Monday's midnight. Raises StudyError where there is no such quantity, or nobody came.
    """
    subject, element, title = _named(study, quantity)
    replicate = Replicator(study, watched_hour=hour)
    waits: list[Minutes] = []
    spent = np.zeros(k.ACCOUNTS)
    for number in numbers:
        world = replicate.world_of(number)
        waits.append(_waits(study, world, subject, element, hour))
        spent += _spent(study, world, subject, element)
    everyone = np.concatenate(waits)
    if not len(everyone):
        raise StudyError([error_at("hour", NONE_CAME, "Choose an hour with cases in it.")])
    confidence = study.run.confidence
    wait = estimate(np.array([each.mean() if len(each) else np.nan for each in waits]), confidence)
    figures = dict(_figures(f"{subject}/{element}", spent / len(everyone), len(numbers)))
    percentiles = {name: _alone(float(np.percentile(everyone, share)), len(numbers)) for name, share in SHARES.items()}
    return HourTold(
        name=title.name,
        hour=hour_words(hour),
        replications=len(numbers),
        cases=estimate(np.array([float(len(each)) for each in waits]), confidence),
        wait=wait,
        minutes=one_bar(figures, subject, element, title.name),
        spread=spread_out(
            quantity,
            title,
            Histogram.of(everyone),
            int((everyone == 0).sum()),
            float(everyone.max()),
            percentiles | {"mean": _alone(float(everyone.mean()), len(numbers))},
        ),
    )


def _named(study: StudyDocument, quantity: str) -> tuple[str, str, Title]:
    subject, _, rest = quantity.partition("/")
    element, _, what = rest.partition("/")
    title = titled(f"{quantity}/mean", study) if subject in ("step", "type") and what == "wait" else None
    known = {"step": [step.id for step in study.steps], "type": ["all", *(kind.id for kind in study.case_types)]}
    if title is None or element not in known[subject]:
        raise StudyError(
            [error_at("quantity", "No waits are known of that.", "Choose the wait at a step, or of cases.")]
        )
    return subject, element, title


def _spent(study: StudyDocument, world: World, subject: str, element: str) -> Minutes:
    """Return a subject's minutes by account in the watched hour of one replication."""
    if subject == "step":
        number = [step.id for step in study.steps].index(element)
        of_step: Minutes = causes_of_steps(world.hour_minutes, world.plan)[number]
        return of_step
    kinds = [kind.id for kind in study.case_types] or [""]
    mine = [element in ("all", kind) for kind in kinds]
    found: Minutes = causes_of_types(world.hour_minutes, world.plan)[mine].sum(axis=0)
    return found


def _waits(study: StudyDocument, world: World, subject: str, element: str, hour: int) -> Minutes:
    """Return the waits of those who came in an hour in one replication: at a step, or on their whole way."""
    clock = world.clock[0]
    if subject == "step":
        visits = world.visits[: clock.visits]
        came, waits = visits["joined_at"], visits["wait"]
        mine = visits["step"] == [step.id for step in study.steps].index(element)
    else:
        departures = world.departures[: clock.departures]
        came, waits = departures["left_at"] - departures["total"], departures["wait"]
        kinds = [kind.id for kind in study.case_types]
        mine = np.full(len(waits), True) if element == "all" else departures["type"] == kinds.index(element)
    found: Minutes = waits[mine & (hour_of_week(study, came) == hour)].copy()
    return found


def _figures(subject: str, spent: Minutes, replications: int) -> Iterator[tuple[str, Estimate]]:
    """Yield the minutes of a case by what they were spent with, at the addresses of such figures."""
    yield f"{subject}/work/mean", _alone(spent[k.Account.WORK], replications)
    yield f"{subject}/travel/mean", _alone(spent[k.Account.TRAVEL], replications)
    for cause, account in CAUSES.items():
        yield f"{subject}/cause:{cause}/mean", _alone(spent[account], replications)
    yield f"{subject}/total/mean", _alone(spent.sum(), replications)
    yield f"{subject}/cause:{ANY_CAUSE}/mean", _alone(spent[k.FIRST_CAUSE :].sum(), replications)


def _alone(value: float, replications: int) -> Estimate:
    """Return a figure of all cases together, without an interval."""
    return Estimate(mean=float(value), half_width=None, low=None, high=None, sd=None, n=replications)
