"""The pulse and the demand picture over the API: at once, in time, and never for strangers."""

import functools
import json
import math
import time
from contextlib import ExitStack
from typing import Any

import pytest
from django.conf import settings
from django.test import Client

from tests.urbanqueue.conftest import Api
from urbanqueue.api import aside
from urbanqueue.api.aside import AT_ONCE, pulses


def mm1(gap: str = "10 min", work: str = "8 min") -> dict[str, Any]:
    came = {"dist": "exponential", "mean": gap}
    return {
        "name": "One desk",
        "streams": [{"id": "in", "name": "In", "kind": "random", "gap": came, "to": "desk"}],
        "steps": [
            {
                "id": "desk", "name": "Desk", "kind": "serve", "work": {"dist": "exponential", "mean": work},
                "needs": [{"team": "clerks"}], "next": [{"to": "out"}],
            },
            {"id": "out", "name": "Out", "kind": "exit"},
        ],
        "teams": [{"id": "clerks", "name": "Clerks", "size": 1, "rate": 20}],
    }  # fmt: skip


def test_theory_tells_load_wait_and_wages_at_once(api: Api) -> None:
    status, found = api("POST", "/pulse/theory", mm1())
    assert status == 200
    assert found["problems"] == []
    assert found["pulse"]["loads"]["clerks"] == pytest.approx(0.8)
    assert found["pulse"]["wait"] == pytest.approx(32.0)
    assert found["pulse"]["cost"] == pytest.approx(480.0)


def test_an_overload_is_said_in_words(api: Api) -> None:
    found = api("POST", "/pulse/theory", mm1(work="12 min"))[1]
    assert found["pulse"]["loads"]["clerks"] == pytest.approx(1.2)
    assert found["pulse"]["wait"] is None
    assert "Clerks cannot do all their work" in found["pulse"]["reasons"][0]
    assert found["problems"][0]["where"] == "teams/clerks/size"


def test_theory_says_why_it_cannot_tell(api: Api) -> None:
    clinic = json.loads((settings.ROOT / "demo" / "animal-clinic.json").read_text())
    found = api("POST", "/pulse/theory", clinic)[1]["pulse"]
    assert found["wait"] is None
    assert "Teams come and go." in found["reasons"]
    assert 0.3 < found["loads"]["vets"] < 0.9


def test_the_quick_simulation_agrees_with_theory_and_can_be_gone_on_with(api: Api) -> None:
    weeks: list[dict[str, Any]] = []
    while len(weeks) < 8:
        status, found = api("POST", f"/pulse/simulation?at_rest=true&first={len(weeks)}", mm1(work="5 min"))
        assert (status, found["first"], found["of"]) == (200, len(weeks), 8)
        assert found["weeks"], "there is time for a week at least"
        weeks += found["weeks"]
    mean = {key: sum(week[key] for week in weeks) / 8 for key in ("wait", "cost", "inside")}
    assert mean["wait"] == pytest.approx(5.0, rel=0.25)
    assert sum(week["loads"]["clerks"] for week in weeks) / 8 == pytest.approx(0.5, rel=0.1)
    assert sum(week["lines"]["desk"] for week in weeks) / 8 == pytest.approx(0.5, rel=0.3)
    again = api("POST", "/pulse/simulation?at_rest=true", mm1(work="5 min"))[1]["weeks"]
    assert again == weeks[: len(again)], "the same luck each time, so that a difference is the edit's"


@pytest.mark.parametrize("first", ["-1", "9", "x"])
def test_there_are_so_many_weeks_and_no_more(api: Api, first: str) -> None:
    assert api("POST", f"/pulse/simulation?first={first}", mm1())[0] == 422


def test_a_study_too_large_for_a_moment_says_so(api: Api) -> None:
    crowd = mm1(gap="0.2 s", work="0.1 s") | {"run": {"length": "1 wk"}}
    began = time.monotonic()
    status, found = api("POST", "/pulse/simulation", crowd)
    assert status == 200
    assert "too long to simulate" in found["reasons"][0]
    assert time.monotonic() - began < 30, "it gives up; how fast is measured in bench"


def test_a_study_with_errors_has_no_pulse_but_its_problems(api: Api) -> None:
    broken = mm1()
    broken["steps"][0]["needs"] = [{"team": "robots"}]
    status, found = api("POST", "/pulse/theory", broken)
    assert status == 200
    assert "steps/desk/needs" in [problem["where"] for problem in found["problems"]]
    assert found["pulse"]["reasons"] == ["The study has errors."]
    assert api("POST", "/pulse/simulation", broken)[0] == 422
    assert api("POST", "/pulse/demand", broken)[0] == 422


def test_only_so_many_at_once(api: Api, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(pulses, "seconds_for_a_turn", 0.01)
    with ExitStack() as others:
        for _ in range(AT_ONCE):
            others.enter_context(pulses._turn())
        status, body = api("POST", "/pulse/simulation", mm1())
    assert (status, body["problems"][0]["where"]) == (503, "pulse")
    assert api("POST", "/pulse/simulation", mm1())[0] == 200


def test_a_process_that_dies_or_does_not_answer_is_replaced(api: Api, monkeypatch: pytest.MonkeyPatch) -> None:
    assert api("POST", "/pulse/simulation", mm1())[0] == 200
    [child] = pulses._pool.processes._processes.values()  # type: ignore[union-attr]
    child.kill()
    child.join()
    assert api("POST", "/pulse/simulation", mm1())[0] == 503
    assert api("POST", "/pulse/simulation", mm1())[0] == 200
    with monkeypatch.context() as hurried:
        hurried.setattr(pulses, "seconds_to_answer", 0)
        assert api("POST", "/pulse/simulation", mm1())[0] == 503
    assert api("POST", "/pulse/simulation", mm1())[0] == 200


def test_a_process_that_is_slow_to_get_ready_is_waited_for(monkeypatch: pytest.MonkeyPatch) -> None:
    """Only the answer has its time: one that was ended while it got ready would never be."""
    monkeypatch.setattr(aside, "get_ready", functools.partial(time.sleep, 3))
    assert aside.Aside(seconds_for_a_turn=1, seconds_to_answer=2).compute(math.sqrt, 9) == 3


def test_the_week_of_demand(api: Api) -> None:
    clinic = json.loads((settings.ROOT / "demo" / "animal-clinic.json").read_text())
    week = api("POST", "/pulse/demand", clinic)[1]
    assert set(week["streams"]) == {"booked", "walk-ins", "rushed-in"}
    walk_ins = week["streams"]["walk-ins"]
    assert len(walk_ins["expected"]) == len(walk_ins["simulated"]) == 168
    assert walk_ins["expected"][8] == pytest.approx(4.5), "Monday from 8 to 9"
    assert sum(walk_ins["simulated"]) == pytest.approx(sum(walk_ins["expected"]), rel=0.4)
    assert walk_ins["simulated"][5 * 24 :] == [0.0] * 48, "nobody on the weekend"
    assert week["teams"]["nurses"]["members"][9] == pytest.approx(3.0)
    assert week["teams"]["nurses"]["work"][9] > 0.5


def test_the_load_of_the_teams_by_the_quarter_of_an_hour(api: Api) -> None:
    """M/M/1: six cases an hour of 8 minutes each keep 0.8 of a clerk at work all week."""
    assert api("POST", "/pulse/load", mm1())[1] == {
        "teams": {"clerks": {"needed": pytest.approx([0.8] * 672), "there": 1.0, "shared_with": []}},
        "needs": {"desk": [pytest.approx(0.8)]},
    }
    broken = mm1()
    broken["steps"][0]["next"] = [{"to": "nowhere"}]
    assert api("POST", "/pulse/load", broken)[0] == 422


@pytest.mark.parametrize("path", ["theory", "simulation", "demand", "load"])
def test_only_who_is_signed_in(path: str, transactional_db: None) -> None:
    assert Client().post(f"/api/pulse/{path}", "{}", "application/json").status_code == 401


def test_demand_of_more_than_can_be_simulated_shows_what_is_expected(api: Api) -> None:
    """A run of an hour is small enough; the week of the picture would be 600 million cases."""
    crowd = mm1(gap="1 s", work="0.001 s") | {"run": {"length": "1 h"}}
    crowd["streams"][0]["gap"] = "0.001 s"
    status, week = api("POST", "/pulse/demand", crowd)
    assert status == 200
    assert week["streams"]["in"]["expected"][0] == pytest.approx(3_600_000)
    assert week["streams"]["in"]["simulated"] is None
