"""A study drafted from a log alone: it is sound, it runs, and what it says fits the log."""

from pathlib import Path
from typing import Any

import numpy as np
import pytest

from flowcore.calibration.found import found_in
from flowcore.calibration.proposals.matching import Matching
from flowcore.checks import check_study
from flowcore.discovery.drafts import Draft, drafted
from flowcore.logs.visits import Outcome, Visits
from flowcore.problems import Severity
from flowcore.reports.log_check import checked, measures_of
from flowcore.simulate import simulate
from flowcore.study import StudyDocument, read_study
from stand_ins import kiosk
from tests.flowcore.builders import Part, exit_step, exponential, serve, stream
from tests.flowcore.logs.service import a_service, logged

WEEKDAYS = ["mon", "tue", "wed", "thu", "fri"]


def draft_of(visits: Visits, covers: float = 0.9) -> Draft:
    return drafted(visits, found_in(visits), covers, "kiosk.csv", len(visits), "2027-05-01")


def study_of(draft: Draft, **run: Any) -> StudyDocument:
    parts = draft.model_dump(include={"case_types", "streams", "steps", "teams", "sources"})
    return read_study({"name": "Drafted", "start": "2027-03-01T00:00", **parts, "run": {"replications": 10} | run})


def a_hall() -> Part:
    """Two teams by day, of which one serves at two steps; three types go their own ways."""
    row = {"days": WEEKDAYS, "from": "08:00", "to": "17:00"}
    closing = {"stay": "empty", "at_most": "2 h"}
    types = [{"id": each, "name": each.title()} for each in ("permit", "card", "tax")]
    mix = [{"type": each["id"], "share": 1 / 3} for each in types]
    work = {"by_type": {"permit": exponential(4)}, "otherwise": exponential(9)}
    return {
        "name": "Hall",
        "start": "2027-03-01T00:00",
        "calendars": [{"id": "doors", "name": "Doors", "weekly": [{"days": WEEKDAYS, "from": "08:00", "to": "16:00"}]}],
        "case_types": types,
        "streams": [stream("welcome", exponential(3), open="doors", mix=mix)],
        "steps": [
            serve("welcome", exponential(1), "hosts", {}, next=[
                {"to": "counter", "share_by_type": {"permit": 1, "card": 0, "tax": 1}},
                {"to": "booth", "share_by_type": {"permit": 0, "card": 1, "tax": 0}},
            ]),
            serve("counter", work, "clerks", {"out": 1}),
            serve("booth", exponential(3), "clerks", {"out": 1}),
            exit_step(),
        ],
        "teams": [
            {"id": "hosts", "name": "Hosts", "roster": [row | {"people": 1}], "closing": closing},
            {"id": "clerks", "name": "Clerks", "roster": [row | {"people": 3}], "closing": closing},
        ],
        "run": {"length": "6 wk", "replications": 1, "seed": 3},
    }  # fmt: skip


@pytest.fixture(scope="module")
def hall(tmp_path_factory: pytest.TempPathFactory) -> Visits:
    return logged(a_hall(), kiosk, tmp_path_factory.mktemp("hall"))


def test_a_drafted_study_is_sound_and_fits_its_log(hall: Visits) -> None:
    draft = draft_of(hall)
    study = study_of(draft, length="6 wk")
    assert [each for each in check_study(study) if each.level is Severity.ERROR] == []
    observed = measures_of(study, found_in(hall), Matching(), "kiosk.csv")
    fits = checked(study, observed, simulate(study).figures(), {}, {}).fits
    assert len(fits) > 15
    assert np.mean([bool(each.fits) for each in fits]) > 0.8, [each.address for each in fits if not each.fits]


def test_who_works_at_the_same_steps_is_one_team(hall: Visits) -> None:
    draft = draft_of(hall)
    teams = {each["name"]: each for each in draft.teams}
    assert set(teams) == {"Welcome team", "Clerks"}
    asked = {step["name"]: step["needs"] for step in draft.steps if step["kind"] == "serve"}
    assert asked["Counter"] == asked["Booth"] == [{"team": "clerks"}]
    spans = {(row["from"], row["to"], row["people"]) for row in teams["Clerks"]["roster"]}
    assert spans == {("08:00", "16:00", 3)}, "nothing is done in the last hour of the shift, so the log cannot know it"
    assert draft.alone == []
    assert teams["Clerks"]["closing"]["stay"] == "empty", "nobody waits overnight"


def test_types_come_in_their_shares_and_go_their_own_ways(hall: Visits) -> None:
    draft = draft_of(hall)
    [stream_] = draft.streams
    assert {part["type"]: part["share"] for part in stream_["mix"]} == pytest.approx(
        {"permit": 1 / 3, "card": 1 / 3, "tax": 1 / 3}, abs=0.03
    )
    welcome = next(each for each in draft.steps if each["id"] == "welcome")
    booth = next(each for each in welcome["next"] if each["to"] == "booth")
    assert booth["share_by_type"] == {"permit": 0, "card": 1, "tax": 0}
    assert draft.covers == 1
    assert {"/steps/booth/work", "/streams/arrivals/week", "/teams/clerks/roster"} <= set(draft.sources)


def test_those_who_give_up_have_a_way_out(tmp_path: Path) -> None:
    draft = draft_of(logged(a_service(), kiosk, tmp_path))
    study = study_of(draft, length="5 d", replications=2)
    assert study.step("counter").line.patience is not None
    assert study.step(study.step("counter").line.gives_up_to).abandoned
    assert simulate(study).figures()["step/counter/abandoned"].mean > 0


def visits_of(ways: list[list[str]], people: list[str], types: list[str]) -> Visits:
    """Return the visits of cases that go some ways, an hour apart, a minute at each step."""
    steps = sorted({name for way in ways for name in way})
    rows = [
        (case, steps.index(name), 60.0 * case + place)
        for case, way in enumerate(ways)
        for place, name in enumerate(way)
    ]
    case, step, at = (np.array(column) for column in zip(*rows, strict=True))
    many = len(rows)
    return Visits(
        case=case.astype(np.int32),
        step=step.astype(np.int32),
        who=np.full(many, 0 if people else -1, np.int32),
        came=at,
        began=at,
        ended=at + 1,
        paused=np.zeros(many),
        outcome=np.full(many, Outcome.SERVED, np.int8),
        line=np.arange(many, dtype=np.int32),
        type=np.array([case % len(types) if types else -1 for case in range(len(ways))], np.int32),
        planned=np.full(len(ways), np.nan),
        cases=[str(case) for case in range(len(ways))],
        steps=steps,
        people=people,
        types=types,
    )


def test_any_names_make_ids() -> None:
    ways = [["1. Öffnen", "Choice 1", "Leaves"], ["1. Öffnen", "Leaves"]] * 30 + [["Choice 1", "Leaves"]] * 30
    draft = draft_of(visits_of(ways, [], ["2nd class", "2nd class!", "???"]))
    study = study_of(draft)
    assert len({step.id for step in study.steps}) == len(study.steps)
    assert len({each.id for each in study.case_types}) == 3
    assert {each.name for each in study.steps} >= {"1. Öffnen", "Choice 1", "Leaves"}


def test_where_nobody_is_named_nobody_is_needed() -> None:
    draft = draft_of(visits_of([["Open", "Close"]] * 30, [], []))
    assert (draft.alone, draft.teams, draft.case_types) == (["Close", "Open"], [], [])
    assert [each for each in check_study(study_of(draft)) if each.level is Severity.ERROR] == []


def test_where_all_gave_up_no_flow_is_found() -> None:
    visits = visits_of([["Open"]] * 30, [], [])
    gave_up = visits.only(np.arange(len(visits)))
    gave_up.outcome[:] = Outcome.GAVE_UP
    with pytest.raises(ValueError, match="no case has gone all of its way"):
        draft_of(gave_up)


def test_names_are_as_long_as_a_document_can_have_them() -> None:
    draft = draft_of(visits_of([["x" * 300, " " * 9 + "y" * 300]] * 30, ["z" * 300], ["t" * 300]))
    study = study_of(draft)
    assert len(study.steps) == 3
    assert max(len(each.name) for each in [*study.steps, *study.teams]) <= 120


def test_who_is_booked_has_a_stream_of_its_own() -> None:
    """One comes an hour, of two types in turn; every thirtieth is booked, and so of the first type."""
    visits = visits_of([["Open"]] * 600, ["Ann"], ["Tax", "Card"])
    visits.planned[::30] = visits.came[::30]
    draft = draft_of(visits)
    others, booked = study_of(draft).streams
    assert (others.kind, booked.kind) == ("profile", "appointments")
    assert [(each.type, each.share) for each in booked.mix] == [("tax", 1)]
    assert {each.type: each.share for each in others.mix} == pytest.approx(
        {"tax": 280 / 580, "card": 300 / 580}, abs=0.01
    )
    assert {"/streams/booked/sessions", "/streams/arrivals/week"} <= set(draft.sources)
    visits.planned[:] = visits.came
    assert [each.kind for each in study_of(draft_of(visits)).streams] == ["appointments"]


def test_a_column_that_is_no_type_is_said() -> None:
    with pytest.raises(ValueError, match="there are 120 types"):
        draft_of(visits_of([["Open"]] * 240, [], [f"T{n}" for n in range(120)]))
