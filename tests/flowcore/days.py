"""Days that can be followed with a pencil: cases at given minutes, one after another."""

from datetime import datetime, timedelta
from typing import Any

from flowcore.simulate import simulate
from flowcore.study import StudyDocument, read_study
from tests.flowcore.builders import Part, exit_step

START = datetime(2027, 3, 1, 8, 0)
EVERY_DAY = ["mon", "tue", "wed", "thu", "fri", "sat", "sun"]


def at(minute: float) -> str:
    """Return a minute of the run as a moment; runs start at 8 on a Monday."""
    return (START + timedelta(minutes=minute)).isoformat(timespec="seconds")


def clock(minute: int) -> str:
    """Return a minute of the run as a time of day."""
    return (START + timedelta(minutes=minute)).strftime("%H:%M")


def cases_at(minutes: list[float], to: str = "desk", **more: Any) -> Part:
    """Return a stream that brings a case at each of these minutes; `types` gives one type for each."""
    types = more.pop("types", [None] * len(minutes))
    arrivals = [{"at": at(m)} | ({"type": kind} if kind else {}) for m, kind in zip(minutes, types, strict=True)]
    return {"id": "cases", "name": "Cases", "kind": "dates", "arrivals": arrivals, "to": to} | more


def desk(work: Any = "10 min", team: str = "clerks", to: str = "out", **more: Any) -> Part:
    """Return a step with work by one of a team."""
    name = more.pop("id", "desk")
    needs = more.pop("needs", [{"team": team}])
    return {
        "id": name,
        "name": name.title(),
        "kind": "serve",
        "work": work,
        "needs": needs,
        "next": [{"to": to}],
    } | more


def team(size: int = 1, **more: Any) -> Part:
    """Return a team that is always there, or has the roster given."""
    name = more.pop("id", "clerks")
    count = {} if "roster" in more else {"size": size}
    return {"id": name, "name": name.title()} | count | more


def shift(begin: int, end: int, people: int = 1, **more: Any) -> Part:
    """Return a roster row on every day, from one minute of the run to another."""
    return {"days": EVERY_DAY, "from": clock(begin), "to": clock(end), "people": people} | more


def day(streams: list[Part], steps: list[Part], teams: list[Part], length: str = "4 h", **more: Any) -> StudyDocument:
    """Return a study of one short run."""
    run = {"length": length, "replications": 1} | more.pop("run", {})
    document = {"name": "Day", "start": at(0)[:16], "streams": streams, "steps": [*steps, exit_step()], "teams": teams}
    return read_study(document | more | {"run": run})


def figures(of: StudyDocument) -> dict[str, float]:
    """Return the figures of the one replication of a day."""
    return simulate(of).replications[0].figures
