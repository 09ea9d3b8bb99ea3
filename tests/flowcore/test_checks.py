"""Every way a study can be wrong has a problem that names the place and the mend."""

import copy
import json
import subprocess
import sys
from pathlib import Path
from typing import Any

import pytest

from flowcore.checks import check_study
from flowcore.problems import Problem, Severity, StudyError
from flowcore.study import read_study, written
from tests.flowcore.builders import document, exit_step, exponential, serve

ROOT = Path(__file__).resolve().parents[2]
DEMO = json.loads((ROOT / "tests" / "flowcore" / "formats" / "2" / "residents-hall.json").read_text())


def problems_of(of: Any) -> list[Problem]:
    try:
        return check_study(read_study(of))
    except StudyError as error:
        return error.problems


def demo(change: Any) -> dict[str, Any]:
    changed = copy.deepcopy(DEMO)
    change({part["id"]: part for part in changed["steps"] + changed["teams"] + changed["streams"]}, changed)
    return changed


WRONG: list[tuple[Any, str, str, str]] = [
    (lambda p, d: p["counter"].update(colour=3), "steps/counter/colour", '"colour" is not known', "Remove it"),
    (lambda p, d: p["identity-desk"]["next"][0].update(share=0.84), "steps/identity-desk/next", "sum to 90 %",
     "Add 10 %"),
    (lambda p, d: p["kiosk"].update(work="5"), "steps/kiosk/work", "has no unit", '"5 min"'),
    (lambda p, d: p["kiosk"].update(work="5 parsecs"), "steps/kiosk/work", "unknown unit", "Use one of s, min"),
    (lambda p, d: p["greeter"]["work"].update(low="2 h"), "steps/greeter/work", "The least (2 h) is above", "order"),
    (lambda p, d: p["cashier"].update(needs=[{"team": "robots"}]), "steps/cashier/needs", 'no team "robots"',
     "Use one of booths"),
    (lambda p, d: p["cashier"].update(next=[{"to": "cashier"}]), "steps/cashier/next", "loop without an exit",
     "Add a way from this loop to an exit"),
    (lambda p, d: p["cashier"].update(next=[]), "steps/cashier/next", "leads nowhere", "Add a way"),
    (lambda p, d: p["cashier"]["next"][0].update(to="nowhere"), "steps/cashier/next", 'no step "nowhere"', "Use one"),
    (lambda p, d: p["cashier"].update(needs=[{"team": "cashiers", "count": 2}]), "steps/cashier/needs",
     "needs 2 of Cashiers at once, and there are 1", "Ask for fewer"),
    (lambda p, d: p["visitors"]["mix"].pop(), "streams/visitors/mix", "sum to 80 %", "Add 20 %"),
    (lambda p, d: p["visitors"].update(gap="0 min"), "streams/visitors/gap", "endlessly many", "above zero"),
    (lambda p, d: p["visitors"].update(to="moon"), "streams/visitors/to", 'no step "moon"', "Use one of"),
    (lambda p, d: d["run"].update(warm_up="9 wk"), "run/warm_up", "leaves nothing", "Shorten the warm-up"),
    (lambda p, d: d["run"].update(replications=0), "run/replications", "0 is below 1", "Give 1 or more"),
    (lambda p, d: d["teams"].append({"id": "clerks", "name": "More"}), "teams/clerks", "used 2 times", "own id"),
    (lambda p, d: d["teams"].append({"id": "No Id", "name": "More"}), "teams/No Id/id", "not written as", "small"),
    (lambda p, d: d.update(start="tomorrow"), "start", "not written as it should be", "2027-03-01T08:00"),
    (lambda p, d: d["steps"].append({"id": "x", "name": "X", "kind": "dance"}), "steps/x", "not a known kind",
     "Use one of"),
    (lambda p, d: d.pop("name"), "name", "missing", "Add it"),
    (lambda p, d: d.update(streams=[]), "streams", "No cases ever come", "Add a stream"),
]  # fmt: skip


@pytest.mark.parametrize(("change", "where", "what", "mend"), WRONG)
def test_what_is_wrong_is_named_with_its_mend(change: Any, where: str, what: str, mend: str) -> None:
    errors = [problem for problem in problems_of(demo(change)) if problem.level is Severity.ERROR]
    assert any(each.where == where and what in each.what and mend in each.mend for each in errors), errors


def test_the_demo_is_sound() -> None:
    assert problems_of(DEMO) == []


def test_a_study_is_written_as_it_was_read() -> None:
    assert read_study(written(read_study(DEMO))) == read_study(DEMO)
    assert written(read_study(DEMO))["steps"] == DEMO["steps"]


def test_overload_is_a_doubt_and_not_an_error() -> None:
    [doubt] = problems_of(demo(lambda p, d: p["clerks"].update(size=2)))
    assert doubt.level is Severity.WARNING
    assert doubt.where == "teams/clerks/size"
    assert "members' worth of work for 2" in doubt.what


def test_what_drives_nothing_is_doubted() -> None:
    lonely = demo(lambda p, d: (d["teams"].append({"id": "idle", "name": "Idle"}), d["steps"].append(exit_step("far"))))
    assert {problem.where for problem in problems_of(lonely)} == {"teams/idle", "steps/far"}


TRAIT = {"id": "urgent", "name": "Urgent", "values": ["no", "yes"], "start": "no"}


def test_traits_that_do_nothing_are_doubted() -> None:
    unread = demo(lambda p, d: d.update(traits=[TRAIT]))
    assert [(each.where, "Nothing depends" in each.what) for each in problems_of(unread)] == [("traits/urgent", True)]

    def read(p: Any, d: Any) -> None:
        d.update(traits=[TRAIT])
        p["kiosk"]["work"] = {"by_trait": {"urgent": {"yes": "1 min"}}, "otherwise": "2 min"}

    assert [(each.where, "always stays" in each.what) for each in problems_of(demo(read))] == [("traits/urgent", True)]


@pytest.mark.parametrize(
    ("shares", "says"),
    [({"yes": 0.4, "no": 0.5}, "sum to 90 %"), ({"yes": 0.4, "perhaps": 0.6}, 'has no value "perhaps"')],
)
def test_chances_of_categories_are_a_whole_of_known_ones(shares: dict[str, float], says: str) -> None:
    def change(p: Any, d: Any) -> None:
        d["traits"] = [TRAIT]
        d["case_types"][0]["traits"] = {"urgent": {"shares": shares}}

    errors = [each for each in problems_of(demo(change)) if each.level is Severity.ERROR]
    assert [(each.where, says in each.what) for each in errors] == [("case_types/parking/traits", True)]


def test_levers_and_scenarios_that_do_not_fit() -> None:
    lever = {"id": "crew", "name": "Crew", "sets": ["/teams/clerks/size", "/teams/nobody/size"]}
    scenarios = [
        {"id": "gone", "name": "Gone", "levers": {"none": 1}},
        {"id": "bad", "name": "Bad", "changes": [{"op": "replace", "path": "/teams/clerks/size", "value": -1}]},
    ]
    found = problems_of(demo(lambda p, d: d.update(levers=[lever], scenarios=scenarios)))
    assert [(each.level.value, each.where) for each in found] == [
        ("error", "levers/crew/sets"),
        ("warning", "scenarios/gone/levers/none"),
        ("warning", "scenarios/bad"),
    ]


def test_a_loop_of_full_lines_that_keep_people_is_doubted() -> None:
    def circle(**more: Any) -> list[Problem]:
        line = {"max": 2, "when_full": "block"}
        one = serve("one", "1 min", "a", {"two": 1}, line=line, when_blocked="keeps-people")
        two = serve("two", "1 min", "b", {"one": 0.2, "out": 0.8}, line=line, **more)
        return problems_of(document([one, two, exit_step()], {"a": 1, "b": 1}, exponential(9)))

    assert [each.where for each in circle(when_blocked="keeps-people")] == ["steps/one/line"]
    assert circle() == []


def test_ways_that_part_in_a_circle_without_time() -> None:
    choose = {
        "id": "a",
        "name": "A",
        "kind": "choose",
        "next": [{"to": "b", "share": 0.5}, {"to": "out", "share": 0.5}],
    }
    other = {"id": "b", "name": "B", "kind": "choose", "next": [{"to": "a"}]}
    found = problems_of(document([choose, other, exit_step()], {}, exponential(1)))
    assert any("takes no time" in problem.what for problem in found)


def test_shares_are_asked_only_of_types_that_come_there() -> None:
    study = demo(lambda p, d: p["counter"]["next"][2]["share_by_type"].update(identity=0))
    assert problems_of(study) == []


def test_command_line_names_problems_without_a_traceback(tmp_path: Path) -> None:
    file = tmp_path / "study.json"
    file.write_text(json.dumps(demo(lambda p, d: p["kiosk"].update(work="5"))))
    for command in ("check", "run"):
        done = subprocess.run(
            [sys.executable, "-m", "flowcore", command, str(file)], capture_output=True, text=True, check=False
        )
        assert done.returncode == 1
        assert 'error: steps/kiosk/work: "5" has no unit.' in done.stdout + done.stderr
        assert "Traceback" not in done.stderr


@pytest.mark.parametrize(
    ("content", "says"),
    [("{", "is not JSON"), ("[]", "not a group"), (None, "cannot be read"), ("\xff", "UTF-8")],
)
def test_command_line_on_files_that_are_none(tmp_path: Path, content: str | None, says: str) -> None:
    file = tmp_path / "study.json"
    if content is not None:
        file.write_bytes(content.encode("latin-1"))
    done = subprocess.run(
        [sys.executable, "-m", "flowcore", "check", str(file)], capture_output=True, text=True, check=False
    )
    assert (done.returncode, "Traceback" in done.stderr) == (1, False)
    assert says in done.stderr


def test_command_line_checks_its_own_settings(tmp_path: Path) -> None:
    file = tmp_path / "study.json"
    file.write_text(json.dumps(document([serve("a", "1 min", None, {"out": 1}), exit_step()], {}, "1 min")))
    command = [sys.executable, "-m", "flowcore", "run", str(file), "--warm-up", "5"]
    done = subprocess.run(command, capture_output=True, text=True, check=False)
    assert done.returncode == 1
    assert "--warm-up" in done.stderr
    assert "has no unit" in done.stderr
