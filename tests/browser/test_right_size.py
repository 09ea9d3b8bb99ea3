"""From a study to a roster that holds: what must hold, what may change, the search, and the scenario made of it."""

import re
from typing import Any

import pytest
from playwright.sync_api import Locator, Page, expect

from flowcore.study import StudyDocument, read_study
from tests.browser.conftest import Axe, saved, sign_in
from tests.browser.hands import Hands
from tests.flowcore.sizing.studies import busy_noon
from urbanqueue.accounts.models import Person
from urbanqueue.searches.models import Search
from urbanqueue.studies.actions import create_study, current_version
from urbanqueue.studies.models import Study


def noon(**more: Any) -> StudyDocument:
    document = busy_noon().model_dump(mode="json")
    document["run"] |= {"length": "1 wk", "replications": 5}
    return read_study(document | more)


def few_shifts() -> list[dict[str, Any]]:
    """Return limits among which little is to be tried."""
    shifts = [{"lengths": ["6 h", "8 h"], "from": "08:00", "to": "10:00", "every": "2 h"}]
    limits = {"team": "clerks", "people": {"low": 1, "high": 9}, "shifts": shifts}
    return [{"id": "clerks", "name": "Clerks", "teams": [limits]}]


def some_shifts() -> list[dict[str, Any]]:
    """Return limits among which it takes some seconds to try what there is."""
    [sizing] = noon().model_dump(mode="json")["sizing"]
    sizing["teams"][0]["shifts"][0] |= {"lengths": ["6 h", "8 h"], "every": "2 h"}
    return [sizing]


def document_of(study_id: int) -> Any:
    return current_version(Study.objects.get(pk=study_id)).document


@pytest.fixture
def noon_study(analyst: Person) -> int:
    return create_study(analyst, noon(sizing=few_shifts())).pk


def opened(page: Page, study: int) -> Locator:
    page.goto(f"/studies/{study}/right-size")
    return page.get_by_role("main")


def test_from_a_study_to_a_scenario_with_the_roster_by_keyboard(
    page: Page, analyst: Person, worker: None, axe: Axe
) -> None:
    study = create_study(analyst, noon(sizing=[])).pk
    sign_in(page)
    page.goto(f"/studies/{study}/flow")
    hands = Hands(page)
    hands.stop("Desk").wait_for()
    hands.command("Size Clerks")
    expect(page).to_have_url(re.compile("right-size"))
    hands.fill("Clerks, shifts 1: lengths", "6 h, 8 h")
    hands.fill("Clerks, shifts 1: step of the starts", "2 h")
    hands.fill("Clerks, shifts 1: latest start", "10:00")
    hands.fill("Clerks: at most", "9")
    saved(page)
    axe("what is asked")
    main = page.get_by_role("main")
    main.get_by_role("button", name="Search", exact=True).press("Enter")
    expect(main.get_by_role("progressbar", name="Search")).to_be_visible()
    table = main.get_by_role("table", name="Proposals")
    table.wait_for()
    heading = main.get_by_role("heading", level=2).first
    expect(heading).to_have_text(
        re.compile(r"^\d.Clerks.* keep at least 80.% of the waits at Desk within 5.min for EUR")
    )
    cheapest = table.get_by_role("row", name=re.compile("Cheapest that holds"))
    expect(cheapest.get_by_role("button", pressed=True)).to_be_visible()
    axe("what was found")
    cheapest.get_by_role("button", name="Make it a scenario: Cheapest that holds").press("Enter")
    saved(page)
    document = document_of(study)
    [scenario] = document["scenarios"]
    assert scenario["name"] == "Cheapest that holds"
    assert any(change["path"].startswith("/teams/clerks/roster") for change in scenario["changes"])
    page.get_by_role("button", name="Run and compare").press("Enter")
    expect(page).to_have_url(re.compile("compare"))
    expect(page.get_by_role("heading", level=1)).to_contain_text("Cheapest that holds")


def test_a_search_goes_on_while_one_looks_elsewhere_and_can_be_stopped(
    page: Page, analyst: Person, worker: None
) -> None:
    sign_in(page)
    main = opened(page, create_study(analyst, noon(sizing=some_shifts())).pk)
    main.get_by_role("button", name="Search", exact=True).click()
    expect(main.get_by_text(re.compile(r"the cheapest that seems to hold costs EUR"))).to_be_visible()
    page.get_by_role("link", name="Flow").click()
    page.get_by_role("link", name="Right-size").click()
    main.get_by_role("button", name="Stop and keep the best so far").click()
    expect(main.get_by_text("Stopped before its end.")).to_be_visible()
    expect(main.get_by_role("row", name=re.compile("Cheapest so far"))).to_be_visible()
    main.get_by_role("button", name="Go on with it").click()
    expect(main.get_by_role("row", name=re.compile("Cheapest that holds"))).to_be_visible()
    assert Search.objects.count() == 1


def test_a_point_of_the_frontier_is_a_roster_too(page: Page, noon_study: int, worker: None) -> None:
    sign_in(page)
    main = opened(page, noon_study)
    main.get_by_role("button", name="Search", exact=True).click()
    frontier = main.get_by_role("region", name="What it buys")
    point = frontier.get_by_role("button", name=re.compile("cheapest that holds"))
    point.press("Enter")
    expect(point).to_have_attribute("aria-pressed", "true")
    expect(frontier.get_by_text(re.compile("all targets seem to hold"))).to_be_visible()
    frontier.get_by_role("button", name="Make it a scenario: the chosen point").click()
    saved(page)
    [scenario] = document_of(noon_study)["scenarios"]
    assert scenario["name"].startswith("Right-sized for EUR")
    frontier.get_by_role("button", name="Show its shifts: the chosen point").click()
    expect(page).to_have_url(re.compile("teams"))
    expect(page.get_by_role("button", name=f"Scenario: {scenario['name']}")).to_be_visible()
    page.get_by_role("link", name="Right-size").click()
    expect(main.get_by_role("table", name="Proposals")).to_have_count(0)
    expect(main.get_by_text("On the right stand what must hold")).to_be_visible()


def test_targets_of_a_search_alone_leave_those_of_the_study(page: Page, noon_study: int) -> None:
    sign_in(page)
    opened(page, noon_study)
    hands = Hands(page)
    hands.press("Change them for this search alone")
    hands.fill("Target 1: at least", "90")
    hands.sheet.get_by_label("Target 1: of what").click()
    page.get_by_role("option", name="in every 30 min of the week").click()
    saved(page)
    document = document_of(noon_study)
    [target] = document["sizing"][0]["targets"]
    assert (target["at_least"], target["by"]) == (0.9, "interval")
    assert document["targets"][0]["at_least"] == 0.8
    hands.press("Take the study’s")
    saved(page)
    assert "targets" not in document_of(noon_study)["sizing"][0]


def test_what_cannot_be_searched_is_said_beside_its_place(page: Page, analyst: Person) -> None:
    limits = {"team": "clerks", "people": {"low": 0, "high": 3}, "shifts": []}
    study = create_study(analyst, noon(sizing=[{"id": "a", "name": "A", "teams": [limits]}])).pk
    sign_in(page)
    main = opened(page, study)
    expect(main.get_by_text("Clerks have no shifts to choose from.")).to_be_visible()
    expect(main.get_by_role("button", name="Search", exact=True)).to_be_disabled()
    page.get_by_role("complementary", name="Sheet").get_by_role("button", name="Shifts", exact=True).click()
    expect(main.get_by_role("button", name="Search", exact=True)).to_be_enabled()


def test_a_study_without_teams_or_questions_says_what_to_do(page: Page, analyst: Person) -> None:
    step = {"id": "desk", "name": "Desk", "kind": "serve", "work": "1 min", "next": [{"to": "out"}]}
    stream = {"id": "in", "name": "In", "kind": "random", "gap": "5 min", "to": "desk"}
    exit_ = {"id": "out", "name": "Out", "kind": "exit"}
    study = create_study(analyst, read_study({"name": "Alone", "streams": [stream], "steps": [step, exit_]})).pk
    sign_in(page)
    main = opened(page, study)
    expect(main.get_by_text("Nobody works here yet.")).to_be_visible()


def test_levers_are_searched_too(page: Page, analyst: Person, worker: None) -> None:
    lever = {"id": "people", "name": "Number of clerks", "sets": ["/teams/clerks/size"], "low": 2, "high": 6, "step": 1}
    teams = [{"id": "clerks", "name": "Clerks", "rate": 20, "size": 2}]
    study = create_study(analyst, noon(levers=[lever], teams=teams, sizing=[])).pk
    sign_in(page)
    main = opened(page, study)
    main.get_by_role("button", name="Set the levers").click()
    main.get_by_role("button", name="Search", exact=True).click()
    cheapest = main.get_by_role("row", name=re.compile("Cheapest that holds"))
    cheapest.get_by_role("button", name="Make it a scenario").click()
    saved(page)
    [scenario] = document_of(study)["scenarios"]
    assert scenario["levers"]["people"] in (3, 4, 5, 6)
    assert not scenario.get("changes")
