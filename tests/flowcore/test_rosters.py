"""Who is there when: breaks as they fall, presence and paid time, by hand and beside the engine."""

import json
from pathlib import Path
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as some

from flowcore.simulate import replications
from flowcore.study import StudyDocument, read_study
from flowcore.study.rosters import RosterRow
from flowcore.study.teams import Team
from flowcore.study.timetable import breaks_of, hours_to_period, overtime_minutes, paid_minutes
from flowcore.theory.weekly import members_in_week, wages_in_week
from tests.flowcore.builders import exit_step, serve

SHARED = Path(__file__).parents[1] / "shared"
ROSTERS = json.loads((SHARED / "rosters.json").read_text())
PRESENCE = json.loads((SHARED / "presence.json").read_text())
DAYS = ["mon", "tue", "wed", "thu", "fri", "sat", "sun"]


@pytest.mark.parametrize("case", ROSTERS, ids=lambda case: case["name"])
def test_breaks_and_paid_time_of_a_row(case: dict[str, Any]) -> None:
    row = RosterRow.model_validate(case["row"])
    found = breaks_of(row, hours_to_period(0.0, row.from_, row.to))
    assert [[each.member, each.begins, each.ends, each.paid] for each in found] == case["breaks"]
    assert paid_minutes(row) == case["paid_minutes"]
    assert overtime_minutes(row) == case.get("overtime_minutes", 0)


@pytest.mark.parametrize("case", PRESENCE, ids=lambda case: case["name"])
def test_members_by_the_quarter_of_an_hour(case: dict[str, Any]) -> None:
    team = Team.model_validate(case["team"])
    study = StudyDocument.model_validate({"name": "Presence", "start": case["start"], "teams": [case["team"]]})
    found = members_in_week(study, team, 15.0)
    assert {minute: found[int(minute) // 15] for minute in case["present"]} == pytest.approx(case["present"])


def quiet_week(row: dict[str, Any]) -> StudyDocument:
    """A week of a team whom nobody troubles: the only case comes for somebody else."""
    desk = serve("desk", "1 min", "others", {"out": 1})
    return read_study(
        {
            "name": "Week",
            "start": "2027-03-01T00:00",
            "streams": [
                {"id": "in", "name": "In", "kind": "dates", "arrivals": [{"at": "2027-03-01T00:01"}], "to": "desk"}
            ],
            "steps": [desk, exit_step()],
            "teams": [
                {"id": "others", "name": "Others", "size": 1},
                {"id": "clerks", "name": "Clerks", "rate": 24, "overtime": 1.5, "roster": [row]},
            ],
            "run": {"length": "1 wk", "interval": "15 min", "replications": 1, "seed": 1},
        }
    )


times = some.integers(0, 95).map(lambda quarter: f"{quarter // 4:02}:{quarter % 4 * 15:02}")
breaks = some.fixed_dictionaries(
    {
        "after": some.integers(0, 40).map(lambda n: f"{15 * n} min"),
        "length": some.integers(1, 60).map(lambda n: f"{n} min"),
        "taken": some.sampled_from(["together", "in-turn", "spread"]),
        "within": some.integers(1, 240).map(lambda n: f"{n} min"),
        "paid": some.booleans(),
    }
)
rows = some.fixed_dictionaries(
    {
        "days": some.lists(some.sampled_from(DAYS[:6]), min_size=1, unique=True),
        "from": times,
        "to": times,
        "people": some.integers(1, 6),
        "breaks": some.lists(breaks, max_size=1),
    }
)


@settings(max_examples=60, deadline=None, derandomize=True)
@given(rows, some.integers(0, 4))
def test_presence_and_wages_are_the_engines(row: dict[str, Any], overtime: int) -> None:
    """Shifts of one row that follow each other without a gap may run into each other, so days lie apart by hours."""
    begins, ends = hours_to_period(0.0, row["from"], row["to"])
    if overtime:
        row["overtime"] = f"{(ends - begins) * overtime / 4:g} min"
    if hours_to_period(0.0, row["from"], row["to"])[1] > 1440 + hours_to_period(0.0, row["from"], "24:00")[0] - 60:
        row["days"] = row["days"][:1]
    study = quiet_week(row)
    team = study.teams[1]
    [replication] = replications(study)
    assert replication.series["team/clerks/present"][:672] == pytest.approx(members_in_week(study, team, 15.0))
    wages = 24 * (paid_minutes(team.roster[0]) + 0.5 * overtime_minutes(team.roster[0])) / 60
    assert wages_in_week(study, team) == pytest.approx(wages)
    premium = 12 * overtime_minutes(team.roster[0]) / 60
    assert replication.figures["cost/team/clerks/overtime-premium/run"] == pytest.approx(premium, abs=0.005)
    assert replication.figures["cost/team/clerks/total/run"] == pytest.approx(wages, abs=0.005)
