"""Studies to be right-sized: a line that is open all day, and a counter with a busy noon."""

from typing import Any

from flowcore.study import StudyDocument, read_study
from tests.flowcore.builders import Part, exit_step, exponential, serve, single_line

WORKDAYS = ["mon", "tue", "wed", "thu", "fri"]
WITHIN_A_MINUTE = {"figure": "step/desk/wait/within:1min", "at_least": 0.8}


def always_open(load: float, targets: list[Part], patience: float | None = None, **run: Any) -> StudyDocument:
    """A line at any time of the week with work of four minutes, and a team that may have shifts of eight hours."""
    line = {"patience": exponential(patience), "gives_up_to": "lost"} if patience else {}
    settings = {"length": "1 wk", "warm_up": "0 min", "interval": "60 min"} | run
    document = single_line(exponential(4.0), 1, 4.0 / load, **settings).model_dump(mode="json")
    document["steps"] = [
        serve("desk", exponential(4.0), "clerks", {"out": 1}, line=line),
        exit_step(),
        exit_step("lost", abandoned=True),
    ]
    document["teams"] = [{"id": "clerks", "name": "Clerks", "rate": 20, "size": 1}]
    document["targets"] = targets
    shifts = [{"lengths": ["8 h"], "starts": ["00:00", "08:00", "16:00"]}]
    people = {"low": 0, "high": 60}
    limits = {"team": "clerks", "people": people, "days": 7, "rest": "0 min", "shifts": shifts}
    document["sizing"] = [{"id": "clerks", "name": "Clerks", "teams": [limits]}]
    return read_study(document)


def busy_noon(**more: Any) -> StudyDocument:
    """A counter open on workdays from eight to four, twice as busy from eleven to two, with clerks to be sized."""
    an_hour = [0.0] * 8 + [20, 20, 20, 40, 40, 40, 20, 20]
    shifts = [
        {
            "lengths": ["4 h", "6 h", "8 h"],
            "from": "08:00",
            "to": "12:00",
            "every": "60 min",
            "breaks": [{"length": "30 min", "from": "3 h", "to": "4.5 h", "paid": False}],
        }
    ]
    limits = {"team": "clerks", "people": {"low": 1, "high": 12}, "shifts": shifts}
    document = {
        "name": "Busy noon",
        "start": "2027-03-01T00:00",
        "streams": [
            {
                "id": "in",
                "name": "In",
                "kind": "profile",
                "interval": "60 min",
                "week": dict.fromkeys(WORKDAYS, an_hour),
                "to": "desk",
            }
        ],
        "steps": [serve("desk", exponential(5.0), "clerks", {"out": 1}), exit_step()],
        "teams": [
            {
                "id": "clerks",
                "name": "Clerks",
                "rate": 20,
                "roster": [{"days": WORKDAYS, "from": "08:00", "to": "16:00", "people": 4}],
            }
        ],
        "targets": [{"figure": "step/desk/wait/within:5min", "at_least": 0.8}],
        "sizing": [{"id": "clerks", "name": "Clerks", "teams": [limits]}],
        "run": {"length": "2 wk", "replications": 10, "seed": 3, "interval": "30 min"},
    }
    return read_study(document | more)
