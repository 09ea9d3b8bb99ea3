"""Booked cases: into which slots, how many of these are filled, who does not come, and how punctual the others are."""

from collections import Counter
from typing import Any

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel
from scipy import stats

from flowcore.calibration.candidates import Numbers
from flowcore.calibration.shares import Share, share_of
from flowcore.logs.moments import weekdays
from flowcore.logs.visits import Visits
from flowcore.study.calendars import DAYS, Day, time_of_day
from flowcore.study.durations import DAY, in_unit

HARDLY = 0.1
"""What is booked on fewer of a weekday's dates is no slot but an exception."""
FEW = 30
MOST_OBSERVED = 100
DIGITS = 3
VISIBLE = 0.05
Session = dict[str, Any]
Run = tuple[int, int, int, int]
"""Slots of a day: from which minute until which, how far apart, with how many places each."""


class Booked(BaseModel):
    """How cases of a type, None for all, are booked: `sessions` of slots and `punctuality` as the document has them.

    `offered` are the slots that there were in all, of which `filled` is the share that was booked; `no_show` is the
    share of those booked who did not come. Punctuality is minutes early (negative) or late, of `came` who came.
    """

    type: str | None
    sessions: list[Session]
    offered: int
    filled: Share
    no_show: Share
    came: int
    mean: float
    sd: float
    punctuality: Any


def booked_of(visits: Visits) -> list[Booked]:
    """Return how cases are booked: all together, and each type by itself where there are several."""
    is_booked = ~np.isnan(visits.planned)
    if not is_booked.any():
        return []
    dates = weekdays(_days(visits))
    types = sorted(set(visits.type[is_booked].tolist()) - {-1})
    told = [(None, is_booked)] + [(visits.types[each], is_booked & (visits.type == each)) for each in types]
    return [_booked(name, visits.planned[which], visits.arrived[which], dates) for name, which in told]


def _days(visits: Visits) -> NDArray[np.int_]:
    known = visits.planned[~np.isnan(visits.planned)] // DAY
    return np.arange(int(known.min()), int(known.max()) + 1)


def _booked(name: str | None, planned: Numbers, arrived: Numbers, dates: NDArray[np.int_]) -> Booked:
    sessions, offered = _sessions(planned, np.bincount(dates, minlength=len(DAYS)))
    came = ~np.isnan(arrived)
    off = arrived[came] - planned[came]
    return Booked(
        type=name,
        sessions=sessions,
        offered=offered,
        filled=share_of(None, min(len(planned), offered), max(1, offered)),
        no_show=share_of(None, int((~came).sum()), len(planned)),
        came=int(came.sum()),
        mean=float(off.mean()) if len(off) else 0.0,
        sd=float(off.std(ddof=1)) if len(off) > 1 else 0.0,
        punctuality=_punctuality(off),
    )


def _sessions(planned: Numbers, dates: NDArray[np.int_]) -> tuple[list[Session], int]:
    """Return sessions of slots that are evenly apart and have as many places each, and how many slots they offer."""
    day = (planned // DAY).astype(int)
    at_once = Counter(zip(day.tolist(), (planned % DAY).round().astype(int).tolist(), strict=True))
    by_slot: dict[tuple[int, int], list[int]] = {}
    for (date, minute), many in at_once.items():
        by_slot.setdefault((int(weekdays(np.array([date]))[0]), minute), []).append(many)
    places = {
        slot: _usual_most(booked, int(dates[slot[0]]))
        for slot, booked in by_slot.items()
        if len(booked) >= HARDLY * dates[slot[0]]
    }
    offered = sum(many * int(dates[weekday]) for (weekday, _), many in places.items())
    days: dict[Run, list[Day]] = {}
    for weekday, day_name in enumerate(DAYS):
        slots = sorted((minute, many) for (each, minute), many in places.items() if each == weekday)
        for run in _runs(slots):
            days.setdefault(run, []).append(day_name)
    return [_session(run, each) for run, each in days.items()], offered


def _session(run: Run, days: list[Day]) -> Session:
    first, last, every, places = run
    return {
        "days": days,
        "from": time_of_day(first),
        "to": time_of_day(last),
        "every": f"{every} min",
        "places": places,
    }


def _usual_most(booked: list[int], dates: int) -> int:
    """Return how many are booked at once at most, but for what is an exception."""
    most = [each for each in range(1, max(booked) + 1) if sum(many >= each for many in booked) >= HARDLY * dates]
    return most[-1] if most else 1


def _runs(slots: list[tuple[int, int]]) -> list[Run]:
    """Return the runs that slots of a day make."""
    runs: list[list[tuple[int, int]]] = []
    for slot in slots:
        last = runs[-1] if runs else []
        fits = bool(last) and last[-1][1] == slot[1]
        if fits and len(last) > 1:
            fits = slot[0] - last[-1][0] == last[1][0] - last[0][0]
        if fits:
            last.append(slot)
        else:
            runs.append([slot])
    usual = Counter(run[1][0] - run[0][0] for run in runs if len(run) > 1).most_common(1)
    every = usual[0][0] if usual else int(DAY)
    return [_run(run, every) for run in runs]


def _run(run: list[tuple[int, int]], usual: int) -> Run:
    every = run[1][0] - run[0][0] if len(run) > 1 else usual
    return run[0][0], min(int(DAY), run[-1][0] + every), every, run[0][1]


def _punctuality(off: Numbers) -> Any:
    """Return how early or late cases come: by a bell where that comes near, else as observed; None where none came."""
    if len(off) < 2 or off.std() == 0:
        return in_unit(float(off[0]), "min", DIGITS) if len(off) else None
    mean, sd = float(off.mean()), float(off.std(ddof=1))
    apart = float(stats.kstest(off, stats.norm(mean, sd).cdf).statistic)
    if len(off) < FEW or apart <= VISIBLE:
        return {"dist": "normal", "mean": in_unit(mean, "min", DIGITS), "sd": in_unit(sd, "min", DIGITS)}
    seen = np.quantile(off, np.linspace(0, 1, min(len(off), MOST_OBSERVED)))
    return {"dist": "empirical", "values": [in_unit(float(each), "min", DIGITS) for each in seen]}
