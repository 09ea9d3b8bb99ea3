"""Days that can be followed with a pencil."""

import pytest

from flowcore.simulate import simulate
from flowcore.study import StudyDocument, read_study
from tests.flowcore.builders import exit_step, serve, study

SHORT = {"warm_up": "0 min", "replications": 1}


def figures_of(of: StudyDocument) -> dict[str, float]:
    return simulate(of).replications[0].figures


def test_one_clerk_and_a_line_that_builds_up() -> None:
    """A case each 2 minutes from 2 on, 3 minutes of work each: waits of 0, 1, 2, … minutes.

    Work ends at 5, 8, 11, … so that by minute 20 the cases of 2, 4, 6, 8, 10 and 12 are done.
    """
    of = study(
        [serve("desk", "3 min", "clerks", {"out": 1}), exit_step()], {"clerks": 1}, "2 min", length="20 min", **SHORT
    )
    figures = figures_of(of)
    assert figures["type/all/arrived"] == 10
    assert figures["type/all/completed"] == 6
    assert figures["step/desk/wait/mean"] == pytest.approx((0 + 1 + 2 + 3 + 4 + 5) / 6)
    assert figures["step/desk/wait/max"] == 5
    assert figures["step/desk/wait/none"] == pytest.approx(1 / 6)
    assert figures["team/clerks/utilisation"] == pytest.approx(18 / 20)
    assert figures["step/desk/line/end"] == 3
    assert figures["step/desk/inside/end"] == 4


def test_two_teams_at_once_and_overtaking() -> None:
    """`both` needs a clerk and a desk, `alone` only a clerk; who needs one may overtake who needs two."""
    of = read_study(
        {
            "name": "Two needs",
            "streams": [
                {"id": "pairs", "name": "P", "kind": "random", "gap": "4 min", "to": "both"},
                {"id": "lone", "name": "L", "kind": "random", "gap": "9 min", "to": "alone"},
            ],
            "steps": [
                {**serve("both", "10 min", "clerks", {"out": 1}), "needs": [{"team": "clerks"}, {"team": "desks"}]},
                serve("alone", "1 min", "clerks", {"out": 1}),
                exit_step(),
            ],
            "teams": [{"id": "clerks", "name": "C", "size": 2}, {"id": "desks", "name": "D", "size": 1}],
            "run": {"length": "25 min", **SHORT},
        }
    )
    figures = figures_of(of)
    assert figures["step/both/wait/max"] == 6
    assert figures["step/alone/wait/max"] == 0
    assert figures["step/alone/served"] == 2
    assert figures["team/desks/utilisation"] == pytest.approx(21 / 25)
    assert figures["team/clerks/utilisation"] == pytest.approx((21 + 2) / 50)


def test_several_members_of_one_team() -> None:
    """Each case takes two of three movers for 5 minutes, so one of them always stands by."""
    steps = [{**serve("lift", "5 min", "movers", {"out": 1}), "needs": [{"team": "movers", "count": 2}]}, exit_step()]
    figures = figures_of(study(steps, {"movers": 3}, "4 min", length="24 min", **SHORT))
    assert figures["step/lift/served"] == 4
    assert figures["step/lift/wait/max"] == 3
    assert figures["team/movers/working"] == pytest.approx(2 * 20 / 24)


def test_teams_shared_by_steps_serve_in_the_order_of_joining() -> None:
    """Two steps share one clerk; the case that joined either line first is next.

    The clerk serves left 2-6, right 6-10 (came at 3), left 10-14 (came at 4), right 14-18 (came at
    6, as the second on the left did, but its arrival was scheduled first).
    """
    of = read_study(
        {
            "name": "Shared",
            "streams": [
                {"id": "a", "name": "A", "kind": "random", "gap": "2 min", "to": "left"},
                {"id": "b", "name": "B", "kind": "random", "gap": "3 min", "to": "right"},
            ],
            "steps": [
                serve("left", "4 min", "clerk", {"out": 1}),
                serve("right", "4 min", "clerk", {"out": 1}),
                exit_step(),
            ],
            "teams": [{"id": "clerk", "name": "Clerk", "size": 1}],
            "run": {"length": "18 min", **SHORT},
        }
    )
    figures = figures_of(of)
    assert figures["step/left/served"] == figures["step/right/served"] == 2
    assert figures["step/left/wait/max"] == 6
    assert figures["step/right/wait/max"] == 8
    assert figures["step/right/wait/min"] == 3


def test_travel_shares_and_outcomes_by_case_type() -> None:
    of = read_study(
        {
            "name": "Types",
            "case_types": [{"id": "short", "name": "Short"}, {"id": "long", "name": "Long"}],
            "streams": [
                {"id": "s", "name": "S", "kind": "random", "gap": "1 min", "to": "start",
                 "mix": [{"type": "short", "share": 0.25}, {"type": "long", "share": 0.75}]}
            ],
            "steps": [
                {"id": "start", "name": "Start", "kind": "choose", "next": [
                    {"to": "quit", "share_by_type": {"short": 1, "long": 0}},
                    {"to": "pause", "share_by_type": {"short": 0, "long": 1}, "travel": "30 s"}]},
                {"id": "pause", "name": "Pause", "kind": "delay", "next": [{"to": "out", "travel": "15 s"}],
                 "time": {"by_type": {"long": "2 min"}, "otherwise": "50 min"}},
                exit_step(),
                exit_step("quit", abandoned=True),
            ],
            "run": {"length": "20 d", **SHORT},
        }
    )  # fmt: skip
    figures = figures_of(of)
    assert figures["type/long/total/min"] == figures["type/long/total/max"] == pytest.approx(2.75)
    assert figures["type/long/travel/mean"] == pytest.approx(0.75)
    assert figures["type/short/total/max"] == 0
    assert figures["type/short/abandoned"] == figures["outcome/quit/abandoned"]
    assert figures["type/long/abandoned"] == figures["outcome/out/abandoned"] == 0
    share = figures["type/short/arrived"] / figures["type/all/arrived"]
    assert share == pytest.approx(0.25, abs=4 * (0.25 * 0.75 / 28800) ** 0.5)


def test_wages() -> None:
    """Two clerks at 30 an hour for a day, working a quarter of it."""
    of = read_study(
        {
            "name": "Wages",
            "streams": [{"id": "s", "name": "S", "kind": "random", "gap": "10 min", "to": "desk"}],
            "steps": [serve("desk", "5 min", "clerks", {"out": 1}), exit_step()],
            "teams": [{"id": "clerks", "name": "C", "size": 2, "rate": 30}],
            "run": {"length": "1 d", **SHORT},
        }
    )
    figures = figures_of(of)
    assert figures["cost/total/per:day"] == pytest.approx(2 * 24 * 30)
    assert figures["cost/team/clerks/regular/per:day"] == pytest.approx(1440)
    assert figures["cost/idle/per:day"] == pytest.approx(1440 * (1 - 715 / 2880))
    assert figures["cost/total/per:case"] == pytest.approx(1440 / 143)
