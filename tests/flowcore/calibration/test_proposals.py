"""What a log says beside what a study has: the truth agrees, anything else differs, and what is taken is the truth."""

from pathlib import Path
from typing import Any

import pytest

from flowcore.calibration.found import LogFound, found_in
from flowcore.calibration.proposals import proposals_for, take
from flowcore.calibration.proposals.matching import Matching
from flowcore.calibration.proposals.proposal import Proposal, Proposed
from flowcore.study import StudyDocument, minutes, read_study
from flowcore.study.calendars import minute_of_day
from flowcore.study.distributions import mean_of
from flowcore.study.streams import ProfileStream, Stream
from stand_ins import kiosk
from tests.flowcore.builders import Part, exit_step, exponential, serve, stream
from tests.flowcore.logs.service import a_service, logged

NO_CHOICE = Matching()
WEEKDAYS = ["mon", "tue", "wed", "thu", "fri"]


@pytest.fixture(scope="module")
def found(tmp_path_factory: pytest.TempPathFactory) -> LogFound:
    return found_in(logged(a_service(), kiosk, tmp_path_factory.mktemp("service")))


def told(document: Part | StudyDocument, found: LogFound, chosen: Matching = NO_CHOICE) -> dict[str, Proposal]:
    study = document if isinstance(document, StudyDocument) else read_study(document)
    return {each.at: each for each in proposals_for(study, found, chosen).proposals}


def taken(document: Part, found: LogFound, *kinds: Proposed) -> StudyDocument:
    """Return a study with all that a log proposes of some kinds."""
    study = read_study(document)
    whole = study.model_dump(mode="json")
    proposals = proposals_for(study, found, NO_CHOICE).proposals
    take(whole, [each for each in proposals if not kinds or each.kind in kinds], "kiosk.csv", 300, "2027-05-01")
    return read_study(whole)


def step(document: Part, step_id: str) -> Part:
    return next(each for each in document["steps"] if each["id"] == step_id)


def test_what_a_service_logs_agrees_with_its_own_study(found: LogFound) -> None:
    proposals = told(a_service(), found)
    assert {at for at, each in proposals.items() if each.agrees} >= {
        "/streams/cases/week", "/streams/cases/mix", "/steps/counter/work", "/steps/till/work", "/steps/counter/next",
    }  # fmt: skip
    assert all(each.evidence and each.method for each in proposals.values())
    week = proposals["/streams/cases/week"]
    assert len(week.low) == len(week.high) == 168
    assert all(low <= hour <= high for low, hour, high in zip(week.low, week.new, week.high, strict=True))
    inside = [low <= old <= high for low, old, high in zip(week.low, week.old, week.high, strict=True)]
    assert sum(inside) / len(inside) > 0.9, "19 of 20 hours, but for chance"


def test_another_study_differs_and_what_is_taken_is_the_truth(found: LogFound) -> None:
    other = a_service()
    step(other, "counter").update(work=exponential(3), next=[{"to": "till", "share": 0.6}, {"to": "out", "share": 0.4}])
    other["streams"][0] |= {"gap": exponential(9), "mix": [{"type": "pass", "share": 1}]}
    step(other, "counter")["line"]["patience"] = "2 min"
    before = told(other, found)
    changed = ["/steps/counter/work", "/steps/counter/next", "/steps/counter/line/patience"]
    assert [before[at].agrees for at in changed] == [False] * 3
    other["streams"][0]["mix"] = a_service()["streams"][0]["mix"]
    study = taken(other, found)
    assert [at for at, each in told(study, found).items() if each.agrees is False] == []
    counter = next(each for each in study.steps if each.id == "counter")
    assert mean_of(counter.work) == pytest.approx(6, rel=0.05)
    assert counter.next[0].share == pytest.approx(0.3, abs=0.03)
    source = study.sources["/steps/counter/work"]
    assert (source.file, source.rows, source.date) == ("kiosk.csv", 300, "2027-05-01")
    assert "maximum likelihood" in source.method


def test_types_that_differ_are_told_apart_and_the_others_keep_theirs(tmp_path: Path) -> None:
    true = a_service()
    step(true, "counter")["work"] = {"by_type": {"pass": exponential(2)}, "otherwise": exponential(8)}
    found = found_in(logged(true, kiosk, tmp_path))
    study = taken(a_service(), found, Proposed.TIME)
    counter = next(each for each in study.steps if each.id == "counter")
    assert set(counter.work.by_type) == {"pass", "move"}
    assert mean_of(counter.work.by_type["pass"]) == pytest.approx(2, rel=0.1)
    assert mean_of(counter.work.by_type["move"]) == pytest.approx(8, rel=0.1)
    assert counter.work.otherwise == read_study(a_service()).step("counter").work
    assert told(true, found)["/steps/counter/work/by_type/move"].agrees


def test_work_is_what_the_log_says_times_the_pace_of_those_who_do_it(tmp_path: Path) -> None:
    fast = a_service()
    fast["teams"][0]["pace"] = 2
    proposal = told(fast, found_in(logged(fast, kiosk, tmp_path)))["/steps/counter/work"]
    assert proposal.factor == 2
    assert proposal.fitted
    assert proposal.fitted.mean == pytest.approx(3, rel=0.05)
    assert proposal.agrees
    assert "multiplied by 2" in proposal.evidence


def test_who_gives_up_needs_a_way_out(found: LogFound) -> None:
    patient = a_service()
    step(patient, "counter").pop("line")
    study = taken(patient, found, Proposed.TIME)
    counter = study.step("counter")
    assert counter.line.patience is not None
    assert counter.line.gives_up_to == "gone", "the exit of those who left is there already"
    patient["steps"] = [each for each in patient["steps"] if each["id"] != "gone"]
    study = taken(patient, found, Proposed.TIME)
    leaves = study.step(study.step("counter").line.gives_up_to)
    assert (leaves.kind, leaves.abandoned) == ("exit", True)


def test_ways_part_behind_a_step_too_and_from_several_at_once(found: LogFound) -> None:
    """The log knows neither the choice nor the walk before the till."""
    document = a_service()
    step(document, "counter")["next"] = [{"to": "which"}]
    halves = [{"to": "walk", "share": 0.5}, {"to": "out", "share": 0.5}]
    document["steps"] += [
        {"id": "which", "name": "Which?", "kind": "choose", "next": halves},
        {"id": "walk", "name": "Walk", "kind": "delay", "time": "1 min", "next": [{"to": "till"}]},
    ]
    proposal = told(document, found)["/steps/which/next"]
    assert proposal.agrees is False
    assert [each["to"] for each in proposal.new] == ["walk", "out"]
    assert proposal.new[0]["share"] == pytest.approx(0.3, abs=0.03)
    both = a_service()
    both["steps"][0]["next"] = both["steps"][1]["next"] = [{"to": "which"}]
    both["steps"].append({"id": "which", "name": "Which?", "kind": "choose", "next": [
        {"to": "till", "share": 0.5}, {"to": "out", "share": 0.5},
    ]})  # fmt: skip
    pooled = told(both, found)["/steps/which/next"]
    alone = told(document, found)["/steps/which/next"]
    assert pooled.new[0]["share"] < alone.new[0]["share"], "those whom the till lets go come there too"


def test_ways_that_cannot_be_told_apart_are_left_alone(found: LogFound) -> None:
    document = a_service()
    step(document, "counter")["next"] = [{"to": "one", "share": 0.5}, {"to": "other", "share": 0.5}]
    for name in ("one", "other"):
        document["steps"].append({"id": name, "name": name, "kind": "delay", "time": "1 min", "next": [{"to": "till"}]})
    assert "/steps/counter/next" not in told(document, found)
    step(document, "counter")["next"] = [
        {"to": "till", "when": {"all": [{"fact": "type", "is": "equal", "value": "pass"}]}},
        {"to": "out", "otherwise": True},
    ]
    assert "/steps/counter/next" not in told(document, found)


def test_streams_are_told_apart_by_type_and_what_two_could_bring_is_said(found: LogFound) -> None:
    document = a_service()
    [cases] = document["streams"]
    passes = cases | {"mix": [{"type": "pass", "share": 1}], "gap": exponential(3)}
    moves = cases | {"id": "moves", "name": "Moves", "mix": [{"type": "move", "share": 1}], "gap": exponential(4.5)}
    document["streams"] = [passes, moves]
    proposals = told(document, found)
    many = {at: sum(proposals[f"/streams/{at}/week"].new) for at in ("cases", "moves")}
    assert many["cases"] / sum(many.values()) == pytest.approx(0.6, abs=0.03)
    assert proposals["/streams/moves/week"].agrees
    document["streams"] = [cases, moves]
    left = proposals_for(read_study(document), found, NO_CHOICE)
    assert any("or by several" in each for each in left.aside)


def test_a_random_stream_becomes_a_profile_and_keeps_the_rest(found: LogFound) -> None:
    document = a_service()
    document["streams"][0] |= {"group": 2, "limit": 90}
    study = taken(document, found, Proposed.ARRIVALS)
    [now] = study.streams
    assert isinstance(now, ProfileStream)
    assert (now.group, now.limit, now.to, [part.type for part in now.mix]) == (2, 90, "counter", ["pass", "move"])
    seen = sum(told(document, found)["/streams/cases/week"].new)
    assert 2 * in_a_week(now) == pytest.approx(seen, rel=1e-3), "each arrival is a group of two"


def test_arrivals_are_taken_as_they_were_by_a_stream_of_dates(found: LogFound) -> None:
    document = a_service()
    bare = {"id": "cases", "name": "Cases", "kind": "dates", "to": "counter", "mix": document["streams"][0]["mix"]}
    document["streams"] = [bare | {"arrivals": [{"at": "2027-03-01T09:00"}]}]
    assert told(document, found)["/streams/cases/arrivals"].agrees is False
    study = taken(document, found, Proposed.ARRIVALS)
    [now] = study.streams
    assert len(now.arrivals) == found.cases
    assert now.arrivals[0].at.startswith("2027-03-01T00:0")
    assert {each.type for each in now.arrivals} == {"pass", "move"}
    assert told(study, found)["/streams/cases/arrivals"].agrees
    later = document | {"start": "2028-01-01T00:00"}
    assert "before the study begins" in told(later, found)["/streams/cases/arrivals"].doubt


def in_a_week(stream: Stream) -> float:
    return sum(sum(row) for row in stream.week.values())


def test_those_who_come_while_the_calendar_is_closed_would_be_lost(found: LogFound) -> None:
    document = a_service()
    hours = [{"days": WEEKDAYS, "from": "08:00", "to": "12:00"}]
    document["calendars"] = [{"id": "doors", "name": "Doors", "weekly": hours}]
    document["streams"][0]["open"] = "doors"
    assert "would be lost" in told(document, found)["/streams/cases/week"].doubt


def test_names_stand_for_what_is_called_the_same_or_for_what_is_chosen(found: LogFound) -> None:
    renamed = a_service()
    for each, name in zip(renamed["steps"], ("Desk A", "Desk B"), strict=False):
        each["name"], each["id"] = name, {"counter": "one", "till": "two"}[each["id"]]
    renamed["steps"][0]["next"][0]["to"] = renamed["streams"][0]["to"] = "one"
    renamed["streams"][0]["to"] = "one"
    renamed["steps"][0]["next"] = [{"to": "two", "share": 0.3}, {"to": "out", "share": 0.7}]
    study = read_study(renamed)
    assert proposals_for(study, found, NO_CHOICE).matching.steps == {"Counter": None, "Till": None}
    assert not any(each.startswith("/steps") for each in told(study, found))
    chosen = Matching(steps={"Counter": "one", "Till": "two"})
    assert {"/steps/one/work", "/steps/two/work", "/steps/one/next"} <= set(told(study, found, chosen))
    gone = Matching(steps={"Counter": "moon", "Till": None}, types={"Passport": None})
    assert proposals_for(read_study(a_service()), found, gone).matching.steps == {"Counter": None, "Till": None}


def shifts(**more: Any) -> Part:
    """Return two who work from eight to four and have their meal together, and one at night without one."""
    row = {"days": WEEKDAYS, "from": "08:00", "to": "16:00", "people": 2}
    night = {"days": WEEKDAYS, "from": "22:00", "to": "06:00", "people": 1}
    breaks = [{"name": "Meal", "after": "4 h", "length": "30 min", "paid": False}]
    return {
        "name": "Round the clock",
        "start": "2027-03-01T00:00",
        "streams": [stream("desk", exponential(4))],
        "steps": [serve("desk", exponential(3), "clerks", {"out": 1}), exit_step()],
        "teams": [
            {"id": "clerks", "name": "Clerks", "roster": [row | {"breaks": breaks}, night], "at_shift_end": "pause"}
        ],
        "run": {"length": "4 wk", "replications": 1, "seed": 5},
    } | more


def test_shifts_are_found_by_day_and_over_midnight(tmp_path: Path) -> None:
    found = found_in(logged(shifts(), kiosk, tmp_path))
    proposal = told(shifts(), found)["/teams/clerks/roster"]
    assert proposal.agrees
    spans = {(row["from"], row["to"], row["people"]) for row in proposal.new}
    assert spans == {("08:00", "16:00", 2), ("22:00", "06:00", 1)}
    by_day = next(row for row in proposal.new if row["from"] == "08:00")
    assert len(by_day["breaks"]) == 1, "and none at night, when there is none"
    [meal] = by_day["breaks"]
    assert (meal["name"], meal["paid"]) == ("Meal", False), "called and paid like the one that is there"
    assert abs(minute_of_day(meal["at"]) - 12 * 60) <= 10
    assert abs(minutes(meal["length"]) - 30) <= 10
    always = shifts(teams=[{"id": "clerks", "name": "Clerks", "size": 3}])
    assert told(always, found)["/teams/clerks/roster"].agrees is False
    assert taken(always, found, Proposed.ROSTER).teams[0].size is None


def test_where_no_break_is_seen_those_of_today_stay(tmp_path: Path) -> None:
    """A break at another time on every day, or of one who has hardly anything to do, is none that a log can tell."""
    quiet = shifts(streams=[stream("desk", exponential(90))])
    proposal = told(quiet, found_in(logged(quiet, kiosk, tmp_path)))["/teams/clerks/roster"]
    by_day = next(row for row in proposal.new if "mon" in row["days"] and row["from"] < "12:00")
    assert by_day["breaks"] == [{"name": "Meal", "after": "4 h", "length": "30 min", "paid": False}]
    assert "No break is seen" in proposal.evidence
