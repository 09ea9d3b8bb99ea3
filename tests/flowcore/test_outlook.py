"""What theory says before any run: loads, waits by known formulas, wages, and why it is silent."""

from typing import Any

import pytest

from flowcore.study import StudyDocument, read_study
from flowcore.theory.outlook import outlook
from tests.flowcore.builders import Part, document, exit_step, exponential, serve, single_line

DEADLINE = {"id": "late", "name": "Late", "from": "desk", "to": "out", "within": "1 h", "then": {"divert": "out"}}


def changed(
    team: Part | None = None, stream: Part | None = None, step: Part | None = None, **study: Any
) -> StudyDocument:
    whole = document([serve("desk", exponential(4), "clerks", {"out": 1}), exit_step()], {"clerks": 1}, exponential(5))
    if team and "roster" in team:
        del whole["teams"][0]["size"]
    for part, change in (("teams", team), ("streams", stream), ("steps", step)):
        whole[part][0] |= change or {}
    return read_study(whole | study)


@pytest.mark.parametrize(
    ("work", "servers", "gap", "wait"),
    [
        (exponential(4), 1, 5, 16.0),
        ("4 min", 1, 5, 8.0),
        (exponential(4), 3, 2, 16 / 9),
        ({"dist": "uniform", "low": "2 min", "high": "6 min"}, 1, 5, 16 * (1 + 1 / 12) / 2),
    ],
    ids=["M/M/1", "M/D/1", "M/M/3 (Erlang C 4/9)", "M/G/1"],
)
def test_the_wait_in_one_line(work: Any, servers: int, gap: float, wait: float) -> None:
    found = outlook(single_line(work, servers, gap))
    assert found.reasons == []
    assert found.loads == {"clerks": pytest.approx(4 / gap / servers)}
    assert found.wait == pytest.approx(wait)


def test_the_wait_in_a_network_of_two_stations() -> None:
    """Jackson: each station by itself; half come back to the first, which so sees two visits a case."""
    desk = serve("desk", exponential(2), "clerks", {"till": 1})
    till = serve("till", exponential(1), "cashiers", {"desk": 0.5, "out": 0.5})
    whole = document([desk, till, exit_step()], {"clerks": 1, "cashiers": 1}, exponential(5))
    found = outlook(read_study(whole))
    assert found.loads == {"clerks": pytest.approx(0.8), "cashiers": pytest.approx(0.4)}
    assert found.wait == pytest.approx(2 * (0.8 * 2 / 0.2) + 2 * (0.4 * 1 / 0.6))


def test_a_team_at_two_steps_is_one_line() -> None:
    """Half of the cases go to a second step of the same team, so the work of a visit is 2 or 4 minutes, 2 : 1."""
    desk = serve("desk", "2 min", "clerks", {"back": 0.5, "out": 0.5})
    back = serve("back", "4 min", "clerks", {"out": 1})
    found = outlook(read_study(document([desk, back, exit_step()], {"clerks": 1}, exponential(5))))
    mean, square = (2 * 2 + 4) / 3, (2 * 4 + 16) / 3
    rate = 1.5 / 5
    assert found.loads["clerks"] == pytest.approx(rate * mean)
    assert found.wait == pytest.approx(1.5 * rate * square / 2 / (1 - rate * mean))


def test_pace_shortens_the_work() -> None:
    found = outlook(changed(team={"pace": 2}))
    assert (found.loads["clerks"], found.wait) == (pytest.approx(0.4), pytest.approx(0.4 * 2 / 0.6))


def test_wages_by_the_day() -> None:
    shift = {"days": ["mon", "tue", "wed", "thu", "fri"], "from": "08:00", "to": "16:00", "people": 3}
    assert outlook(changed(team={"size": 2, "rate": 24})).wages == pytest.approx(2 * 24 * 24)
    assert outlook(changed(team={"rate": 24, "roster": [shift]})).wages == pytest.approx(5 * 8 * 3 * 24 / 7)


def test_a_roster_is_set_against_the_work_of_the_whole_week() -> None:
    shift = {"days": ["mon", "tue", "wed", "thu", "fri", "sat", "sun"], "from": "08:00", "to": "20:00", "people": 2}
    found = outlook(changed(team={"roster": [shift]}))
    assert found.loads["clerks"] == pytest.approx(0.8)
    assert found.wait is None


@pytest.mark.parametrize(
    ("change", "reason"),
    [
        ({"stream": {"gap": exponential(2)}}, "Clerks cannot do all their work"),
        ({"stream": {"group": 3}}, "by the hour, by appointment or in groups"),
        ({"stream": {"limit": 100}}, "by the hour, by appointment or in groups"),
        ({"team": {"closing": {"stay": "empty", "at_most": "1 h"}}}, "Teams come and go"),
        ({"step": {"line": {"max": 3}}}, "A line has rules of its own"),
        ({"step": {"needs": [{"team": "clerks", "count": 2}]}, "team": {"size": 4}}, "needs several at once"),
        ({"deadlines": [DEADLINE]}, "held, forked, gathered or diverted"),
    ],
    ids=["overload", "groups", "a limit", "staying", "a full line", "two at once", "a deadline"],
)
def test_theory_says_why_it_is_silent(change: dict[str, Any], reason: str) -> None:
    found = outlook(changed(**change))
    assert found.wait is None
    assert any(reason in each for each in found.reasons)


def test_kept_and_shared_teams_are_left_to_the_simulation() -> None:
    kept = changed(step={"needs": [{"team": "clerks", "keep_until": "out"}]})
    assert outlook(kept).loads == {"clerks": None}
    able = [{"id": each, "name": each.title(), "size": 1, "skills": ["till"]} for each in ("clerks", "cashiers")]
    shared = changed(step={"needs": [{"skill": "till"}]}, teams=able)
    assert outlook(shared).loads == {"clerks": None, "cashiers": None}
