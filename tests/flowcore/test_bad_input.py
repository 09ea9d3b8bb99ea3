"""Whatever a study says, it ends in figures or in problems with an address, a cause and a mend."""

import copy
import json
from pathlib import Path
from typing import Any

import pytest

from flowcore.checks import check_study, registry
from flowcore.cli import main
from flowcore.problems import Problem, Severity, StudyError
from flowcore.simulate import simulate
from flowcore.study import StudyDocument, read_json, read_study
from tests.flowcore.builders import Part, exit_step, exponential
from tests.flowcore.damage import damaged, faults_of
from tests.flowcore.days import cases_at, day, desk, figures, shift, team

SMALL: Part = {
    "name": "Small",
    "streams": [{"id": "in", "name": "In", "kind": "random", "gap": "5 min", "to": "desk"}],
    "steps": [desk(), exit_step()],
    "teams": [team()],
}


def changed(change: Any) -> Part:
    document = copy.deepcopy(SMALL)
    change(document)
    return document


def problems_of(document: Any) -> list[Problem]:
    try:
        return check_study(read_study(document))
    except StudyError as error:
        return error.problems


def test_a_thousand_damaged_studies_end_in_figures_or_problems() -> None:
    faults = [f"{number}: {fault}" for number in range(1000) for fault in faults_of(damaged(number))]
    assert not faults, faults[:5]


def test_a_fault_would_be_seen(monkeypatch: pytest.MonkeyPatch) -> None:
    """The look at damaged studies itself can fail: a check that crashes is seen."""

    def crashing(_study: StudyDocument) -> list[Problem]:
        """Nothing crashes."""
        raise ValueError("oh")

    monkeypatch.setattr(registry, "_SOUNDNESS", [*registry._SOUNDNESS, crashing])
    assert any("failed" in fault for fault in faults_of(SMALL))


def test_a_check_that_crashes_locks_no_study(monkeypatch: pytest.MonkeyPatch, caplog: pytest.LogCaptureFixture) -> None:
    def crashing(_study: StudyDocument) -> list[Problem]:
        """No team is upside down."""
        raise KeyError("upside")

    monkeypatch.setattr(registry, "_SOUNDNESS", [crashing])
    found = check_study(read_study(SMALL))
    assert [(each.level, each.where) for each in found if "upside" in each.what] == [(Severity.WARNING, "study")]
    assert "crashing failed" in caplog.text


GIVES_UP = {"patience": "5 min", "gives_up_to": "out"}
BAD: list[tuple[Any, str, str]] = [
    (lambda d: d["steps"][0].update(id=7), "steps/0/id", "7 is not a text"),
    (lambda d: d["steps"][0].update(id={"a": ["long"] * 500}), "steps/0/id", "A group of keys with values is not"),
    (lambda d: d["steps"][0].update(id="X" * 500), "steps/" + "X" * 40, "too long"),
    (lambda d: d.update(currency=[1]), "currency", "A list is not a text"),
    (lambda d: d["teams"][0].update(size=2.5), "teams/clerks/size", "2.5 is not a whole number"),
    (lambda d: d["teams"][0].update(size=-1), "teams/clerks/size", "-1 is below"),
    (lambda d: d["teams"][0].update(picks="best"), "teams/clerks/picks", '"best" is not one of the choices'),
    (lambda d: d["teams"][0].update(walks="maybe"), "teams/clerks/walks", "neither true nor false"),
    (lambda d: d["steps"][0].update(needs={}), "steps/desk/needs", "not a list"),
    (lambda d: d["steps"][0].pop("kind"), "steps/desk", "does not say of which kind"),
    (lambda d: d["streams"][0].update(mix=[{"type": "ghost", "share": 1}]), "streams/in", "ghost"),
    (lambda d: d["steps"][0].update(next=[], line=GIVES_UP), "steps/desk/next", "leads nowhere"),
    (lambda d: d.update(run={"length": "99999999 wk"}), "run/length", "does not end within 100 years"),
]  # fmt: skip


@pytest.mark.parametrize(("change", "where", "what"), BAD)
def test_problems_speak_our_words(change: Any, where: str, what: str) -> None:
    found = problems_of(changed(change))
    assert any(each.where.startswith(where) and what in each.what and each.mend for each in found), found
    assert all(len(str(each)) < 600 for each in found)


def test_what_is_nested_a_thousand_deep_is_refused(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    rule: Any = {"fact": "type", "is": "equal", "value": "a"}
    for _ in range(1000):
        rule = {"all": [rule]}
    found = problems_of(changed(lambda d: d["steps"][0]["next"][0].update(when=rule)))
    assert [each.what for each in found] == ["It is nested more than 60 deep."]
    file = tmp_path / "deep.json"
    file.write_text("[" * 100_000 + "]" * 100_000)
    assert main(["check", str(file)]) == 1
    assert "nested too deep" in capsys.readouterr().err


def test_a_loop_that_is_left_only_by_giving_up_is_checked_and_run() -> None:
    """Nobody leaves but by losing patience: the traffic equations alone have no solution."""
    line = {"patience": exponential(20), "gives_up_to": "out"}
    steps = [desk("2 min", line=line, to="again"), desk("1 min", id="again", needs=[], to="desk")]
    study = day([cases_at([0, 1, 2, 3])], steps, [team()], length="8 h")
    assert not [each for each in check_study(study) if each.level is Severity.ERROR or "could not be seen" in each.what]
    assert figures(study)["step/desk/abandoned"] > 0


def test_an_unknown_type_where_ways_are_by_type_is_named() -> None:
    ways = [{"to": "out", "share_by_type": {"a": 0.5}}, {"to": "desk", "share_by_type": {"a": 0.4}}]

    def change(document: Part) -> None:
        document["case_types"] = [{"id": "a", "name": "A"}]
        document["streams"][0]["mix"] = [{"type": "ghost", "share": 1}]
        document["steps"][0]["next"] = ways

    said = [each.what for each in problems_of(changed(change))]
    assert any("ghost" in each for each in said)
    assert not any("could not be seen" in each for each in said)


@pytest.mark.parametrize(
    ("fact", "value"),
    [
        ("waited", "soon"),
        ("in-system", "08:30"),
        ("time-of-day", "25:00"),
        ("weekday", "monday"),
        ("weekday", 2),
        ("line:desk", "long"),
        ("type", 3),
    ],
)
def test_a_rule_holds_facts_against_values_that_they_can_have(fact: str, value: Any) -> None:
    rule = {"all": [{"fact": fact, "is": "equal", "value": value}]}
    ways = [{"to": "out", "when": rule}, {"to": "out", "otherwise": True}]
    found = problems_of(changed(lambda d: d["steps"][0].update(next=ways)))
    assert any("is no value that" in each.what and each.level is Severity.ERROR for each in found), found


@pytest.mark.parametrize("key", ["clock", "working"])
def test_an_interruption_after_no_time_is_an_error(key: str) -> None:
    call = {"name": "Call", "after": {key: "0 min"}, "length": "0 min", "strikes": "each", "work": "pause"}
    found = problems_of(changed(lambda d: d["teams"][0].update(interruptions=[call])))
    assert any(each.where == f"teams/clerks/interruptions/0/after/{key}" for each in found)


def test_what_will_take_hours_is_said_before_it_starts() -> None:
    again = [{"to": "desk", "share": 0.98}, {"to": "out", "share": 0.02}]
    often = changed(lambda d: d["steps"][0].update(next=again))
    often["streams"][0]["gap"] = "1 s"
    found = problems_of(often)
    assert any(each.where == "run/length" and "will take about" in each.what for each in found)
    assert not any("will take about" in each.what for each in problems_of(SMALL))


def test_otherwise_is_the_way_when_no_rule_holds() -> None:
    rule = {"all": [{"fact": "waited", "is": "over", "value": "5 min"}]}
    ways = [{"to": "late", "when": rule}, {"to": "out", "otherwise": True}]
    study = day([cases_at([0, 0])], [desk(next=ways), exit_step("late")], [team()])
    found = figures(study)
    assert (found["outcome/out/completed"], found["outcome/late/completed"]) == (1, 1)


@pytest.mark.parametrize(
    "ways",
    [
        [{"to": "out", "share": 0.5}, {"to": "late", "otherwise": True}],
        [{"to": "out", "otherwise": True}, {"to": "late", "otherwise": True}, {"to": "out", "when": None}],
    ],
)
def test_otherwise_without_a_rule_or_twice_is_an_error(ways: list[Part]) -> None:
    def change(document: Part) -> None:
        document["steps"][0]["next"] = ways
        document["steps"].append(exit_step("late"))

    assert any(each.level is Severity.ERROR and "no rule holds" in each.what for each in problems_of(changed(change)))


def test_minutes_that_add_value_are_necessary_or_waste() -> None:
    """10 minutes of talk, 4 of filing and 6 of correction; the second case waits 10 for the talk."""
    steps = [
        desk("10 min", id="talk", value="adds", to="file"),
        desk("4 min", id="file", needs=[], value="necessary", to="mend"),
        desk("6 min", id="mend", needs=[], value="waste"),
    ]
    kinds = [{"id": "a", "name": "A"}, {"id": "b", "name": "B"}]
    study = day([cases_at([0, 0], to="talk", types=["a", "b"])], steps, [team()], case_types=kinds)
    found = figures(study)
    assert [found[f"type/b/value:{name}/mean"] for name in ("adds", "necessary", "waste")] == [10, 4, 16]
    assert found["type/a/value:waste/mean"] == 6
    assert found["type/all/value:waste/mean"] == 11
    assert found["type/b/value:adds/share"] == pytest.approx(10 / 30)


def test_a_checkpoint_has_the_time_from_arrival_to_it() -> None:
    steps = [desk("10 min", id="talk", to="file"), desk("4 min", id="file", needs=[], checkpoint=True)]
    found = figures(day([cases_at([0, 0], to="talk")], steps, [team()]))
    assert (found["checkpoint/file/total/min"], found["checkpoint/file/total/max"]) == (10, 20)
    assert found["checkpoint/file/wait/mean"] == 5


def test_changing_over_costs_its_own_line() -> None:
    """Types a, b, b, a: two changes at 3 each, without any time lost."""
    kinds = [{"id": "a", "name": "A"}, {"id": "b", "name": "B"}]
    cases = cases_at([0, 0, 0, 0], types=["a", "b", "b", "a"])
    study = day([cases], [desk("10 min", changeover_cost=3.0)], [team()], case_types=kinds)
    found = figures(study)
    assert found["cost/changeover/run"] == 6
    assert found["cost/total/run"] == 6
    assert found["type/all/work/mean"] == 10


def test_utilisation_occupancy_and_paid_use() -> None:
    """An hour: 20 busy, 10 interrupted, 6 of unpaid break, 24 idle."""
    call = {"name": "Call", "after": {"clock": "30 min"}, "length": "10 min", "strikes": "each", "work": "finish"}
    rest = {"after": "50 min", "length": "6 min", "paid": False}
    clerks = team(roster=[shift(0, 60, breaks=[rest])], interruptions=[call])
    found = figures(day([cases_at([0])], [desk("20 min")], [clerks], length="1 h"))
    assert found["team/clerks/utilisation"] == pytest.approx(20 / 54)
    assert found["team/clerks/occupancy"] == pytest.approx(20 / 44)
    assert found["team/clerks/paid-use"] == pytest.approx(20 / 54)


def test_every_subject_has_its_counts() -> None:
    """Of three one is served, one is at work and one waits at the end."""
    found = figures(day([cases_at([0, 0, 0])], [desk("20 min")], [team()], length="30 min"))
    counted = {name: found[f"stream/cases/{name}"] for name in ("arrived", "served", "completed", "inside")}
    assert counted == {"arrived": 3, "served": 1, "completed": 1, "inside": 2}
    assert found["outcome/out/arrived"] == found["outcome/out/served"] == 1
    assert found["type/all/inside"] == 2


def test_a_demo_study_read_from_its_file_is_as_sound_as_ever() -> None:
    for path in sorted(Path("demo").glob("*.json")):
        assert not [each for each in problems_of(json.loads(path.read_text())) if each.level is Severity.ERROR]
        assert simulate(read_study(json.loads(path.read_text())), numbers=[0]).replications


UNFIT = [
    (lambda d: d.update(about="a\x00b"), "about", "characters that cannot be shown"),
    (lambda d: d["steps"][0].update(name="\ud800"), "steps/desk/name", "characters that cannot be shown"),
    (lambda d: d["streams"][0].update({"a\x07": 1}), "streams/in", "characters that cannot be shown"),
    (lambda d: d.update(run={"seed": 10**30}), "run/seed", "too large"),
    (lambda d: d["teams"][0].update(rate=float("inf")), "teams/clerks/rate", "no finite number"),
    (lambda d: d.update(about="x" * 30_000), "about", "too long"),
    (lambda d: d.update(run={"length": "1" * 50 + " wk"}), "run/length", "too long for a duration"),
    (lambda d: d.update(run={"length": "1" + " " * 10_000_000 + "x"}), "run/length", "too long"),
    (lambda d: d.update(start="9000-01-01T00:00"), "start", "far off"),
]


@pytest.mark.parametrize(("change", "where", "what"), UNFIT)
def test_what_no_document_may_hold(change: Any, where: str, what: str) -> None:
    wrong = changed(change)
    with pytest.raises(StudyError) as error:
        read_study(wrong)
    assert [(each.where, what in each.what) for each in error.value.problems] == [(where, True)]


def test_of_many_problems_the_first_hundred_are_told() -> None:
    wrong = changed(lambda d: d["steps"].extend([{"kind": "nonsense"}] * 500))
    with pytest.raises(StudyError) as error:
        read_study(wrong)
    assert len(error.value.problems) == 100


@pytest.mark.parametrize(
    ("text", "what"),
    [
        (b"{", "is not JSON"),
        (b"\xff", "UTF-8"),
        (b"[" * 100_000, "nested too deep"),
        (b"9" * 10_000, "thousands of digits"),
        (b'{"a": NaN}', "no finite number"),
    ],
)
def test_what_is_no_json_document(text: bytes, what: str) -> None:
    with pytest.raises(StudyError, match=what):
        read_json(text)
