"""What cases carry by a log, who works how fast, what is done again and what together."""

from datetime import datetime, timedelta
from pathlib import Path

import numpy as np
import pytest

from flowcore.calibration.found import LogFound, found_in
from flowcore.calibration.proposals import proposals_for
from flowcore.calibration.proposals.matching import Matching
from flowcore.calibration.proposals.proposal import Proposal
from flowcore.logs.looks import look_at
from flowcore.logs.reading import read_log
from flowcore.logs.recognising import recognised
from flowcore.logs.roles import Reading, Role
from flowcore.logs.visits import Visits
from flowcore.study import read_study
from tests.flowcore.builders import Part, exit_step, serve, stream

CASES = 600
START = datetime(2027, 3, 1, 8)


def as_traits(reading: Reading, *names: str) -> Reading:
    """Return a reading with some columns as traits."""
    columns = [each.model_copy(update={"role": Role.TRAIT}) if each.name in names else each for each in reading.columns]
    return reading.model_copy(update={"columns": columns})


@pytest.fixture(scope="module")
def visits(tmp_path_factory: pytest.TempPathFactory) -> Visits:
    """Ann takes 5 minutes, Bo twice as long; every tenth case comes twice; the oven takes three at once."""
    luck = np.random.default_rng(2)
    rows = ["Case,Type,Step,Start,End,Member,Language,Pages"]
    for number in range(CASES):
        kind = "New" if number % 2 else "Old"
        language = "Norwegian" if luck.random() < (0.9 if kind == "Old" else 0.4) else "English"
        carried = f"{language},{int(luck.integers(1, 9))}"
        began = START + timedelta(minutes=15 * number)
        for turn in range(2 if number % 10 == 0 else 1):
            who, mean = ("Ann", 5) if luck.random() < 0.5 else ("Bo", 10)
            first = began + timedelta(minutes=20 * turn)
            ended = first + timedelta(minutes=float(luck.normal(mean, 1)))
            rows.append(f"{number},{kind},Desk,{first:%F %T},{ended:%F %T},{who},{carried}")
        batch = START + timedelta(minutes=45 * (number // 3) + 60)
        rows.append(f"{number},{kind},Oven,{batch:%F %T},{batch + timedelta(minutes=30):%F %T},Cy,{carried}")
    path = tmp_path_factory.mktemp("traits") / "log.csv"
    path.write_text("\n".join(rows))
    visits, report = read_log(path, as_traits(recognised(path).reading, "Language", "Pages"))
    assert report.unread == 0
    return visits


@pytest.fixture(scope="module")
def found(visits: Visits) -> LogFound:
    return found_in(visits)


def bakery(**language: object) -> Part:
    return {
        "name": "Bakery",
        "case_types": [{"id": "new", "name": "New"}, {"id": "old", "name": "Old"}],
        "traits": [
            {"id": "language", "name": "Language", "kind": "category", "values": ["norwegian", "English"]} | language,
            {"id": "pages", "name": "Pages", "start": 3},
        ],
        "streams": [stream("desk", "15 min", mix=[{"type": "new", "share": 0.5}, {"type": "old", "share": 0.5}])],
        "steps": [serve("desk", "5 min", None, {"oven": 1}), serve("oven", "30 min", None, {"out": 1}), exit_step()],
    }


def told(document: Part, found: LogFound) -> dict[str, Proposal]:
    return {each.at: each for each in proposals_for(read_study(document), found, Matching()).proposals}


def test_what_cases_carry_is_told_of_each_type_where_types_differ(found: LogFound) -> None:
    proposals = told(bakery(), found)
    old = proposals["/case_types/old/traits/language"]
    assert old.new["shares"]["norwegian"] == pytest.approx(0.9, abs=0.05), "by the name that the study has for it"
    assert proposals["/case_types/new/traits/language"].new["shares"]["norwegian"] == pytest.approx(0.4, abs=0.06)
    assert old.agrees is False
    pages = proposals["/traits/pages/start"]
    assert pages.old == 3
    assert set(pages.new["values"]) == set(range(1, 9))


def test_what_the_study_has_already_agrees(found: LogFound) -> None:
    true = bakery()
    shares = told(true, found)
    for each in true["case_types"]:
        each["traits"] = {"language": shares[f"/case_types/{each['id']}/traits/language"].new}
    assert told(true, found)["/case_types/old/traits/language"].agrees


def test_values_that_the_study_does_not_have_are_said(found: LogFound) -> None:
    proposals = told(bakery(values=["English", "Sami"]), found)
    assert "none of its values" in proposals["/case_types/old/traits/language"].doubt


def test_who_works_how_fast(found: LogFound) -> None:
    desk = next(each for each in found.steps if each.step == "Desk")
    assert [(each.name, round(each.mean), each.differs) for each in desk.by_person] == [
        ("Bo", 10, True),
        ("Ann", 5, True),
    ]
    assert all(each.low < each.mean < each.high for each in desk.by_person)
    oven = next(each for each in found.steps if each.step == "Oven")
    assert oven.by_person == [], "one person alone is no comparison"
    work = told(bakery(), found)["/steps/desk/work"]
    assert [each.name for each in work.people] == ["Bo", "Ann"]


def test_what_is_done_again_and_what_together_is_noticed(visits: Visits) -> None:
    noticed = look_at(visits).noticed
    assert "10 % of the cases at Desk come there more than once." in noticed
    assert "At Oven mostly several cases are dealt with at once, 3.0 on average." in noticed
    assert len(noticed) == 2


def test_traits_stay_with_their_cases_when_packed(visits: Visits) -> None:
    kept = visits.only(visits.step == 0)
    assert kept.carried.shape == (2, CASES)
    assert kept.categories[0][kept.carried[0, 0]] in ("Norwegian", "English")


def test_a_log_without_times_that_differ_has_no_pace(tmp_path: Path) -> None:
    rows = ["Case,Step,Start,End,Member"]
    for number in range(80):
        began = START + timedelta(minutes=15 * number)
        rows.append(f"{number},Desk,{began:%F %T},{began + timedelta(minutes=5):%F %T},{'Ann' if number % 2 else 'Bo'}")
    path = tmp_path / "log.csv"
    path.write_text("\n".join(rows))
    [desk] = found_in(read_log(path, recognised(path).reading)[0]).steps
    assert [(each.mean, each.differs) for each in desk.by_person] == [(5, False), (5, False)]
