"""Scenarios in the workbench: tried in place, told in words, run together and compared."""

import json
import re

import pytest
from django.conf import settings
from playwright.sync_api import Page, expect

from flowcore import read_study
from flowcore.study.scenarios import apply_scenario
from tests.browser.conftest import Axe, saved, sign_in
from tests.browser.hands import Hands
from urbanqueue.accounts.models import Person
from urbanqueue.studies import actions
from urbanqueue.studies.models import Study


@pytest.fixture
def phone_line(analyst: Person) -> int:
    document = json.loads((settings.ROOT / "demo" / "phone-line.json").read_text())
    return actions.create_study(analyst, read_study(document)).pk


def choose(page: Page, name: str) -> None:
    page.get_by_role("button", name=re.compile("^Scenario: ")).click()
    page.get_by_role("menuitem", name=name, exact=True).click()
    expect(page.get_by_role("button", name=f"Scenario: {name}")).to_be_visible()


def stored(study: int) -> dict[str, object]:
    document: dict[str, object] = actions.current_version(Study.objects.get(pk=study)).document
    return document


def test_would_one_more_agent_do(page: Page, phone_line: int, worker: None, axe: Axe) -> None:
    """One more agent from 10 to 14, tried beside today and run with it: a verdict, and the study as it was."""
    before = stored(phone_line)
    sign_in(page)
    page.goto(f"/studies/{phone_line}/scenarios")
    page.get_by_role("heading", name="2 scenarios beside today").wait_for()
    expect(page.get_by_role("listitem", name="One from early to late")).to_contain_text(
        "shift 12:00–20:00, people 2 → 3"
    )
    axe("the scenarios")
    page.get_by_role("button", name="Try something").click()
    expect(page.get_by_role("button", name="Scenario: What if")).to_be_visible()
    page.get_by_role("link", name="Teams", exact=True).click()
    page.get_by_role("button", name="Add a shift").first.click()
    sheet = page.get_by_role("complementary", name="Sheet")
    ends = [sheet.get_by_label(re.compile(f"^Shift [0-9]+: {end}$")).last for end in ("from", "to")]
    for field, time in zip(ends, ("10:00", "14:00"), strict=True):
        field.fill(time)
        field.press("Enter")
    saved(page)
    axe("the board in a scenario")
    page.get_by_role("link", name="Scenarios", exact=True).click()
    entry = page.get_by_role("listitem", name="What if")
    expect(entry).to_contain_text("10:00")
    name = entry.get_by_label("Name of What if")
    name.fill("One more from 10 to 14")
    name.press("Enter")
    saved(page)
    assert {key: value for key, value in stored(phone_line).items() if key != "scenarios"} == {
        key: value for key, value in before.items() if key != "scenarios"
    }

    page.get_by_role("link", name="Run", exact=True).click()
    page.get_by_role("checkbox", name="One from early to late").uncheck()
    expect(page.get_by_text("Takes ")).to_be_visible()
    axe("what is to be run")
    page.get_by_role("main").get_by_role("button", name="Run 3 scenarios").click()
    page.get_by_role("img", name="Wait on the whole way against Cost").wait_for()
    expect(page.locator("main header")).to_contain_text("One more from 10 to 14")
    row = page.get_by_role("row", name="Wait at Lost property call").first
    expect(row).to_contain_text("better")
    expect(row).to_contain_text("target: at least 80")
    expect(page.get_by_text("20 replications of 4 wk side by side, the same cases with the same luck")).to_be_visible()
    axe("the comparison of three")
    page.get_by_role("button", name="One more from 10 to 14", exact=True).click()
    expect(page.get_by_role("complementary", name="What it buys")).to_contain_text("10:00")

    page.get_by_role("link", name="Run", exact=True).click()
    page.get_by_role("main").get_by_role("button", name="Run 3 scenarios").click()
    page.get_by_role("img", name="Wait on the whole way against Cost").wait_for()
    page.get_by_role("link", name="Run", exact=True).click()
    expect(page.get_by_role("row", name="Run 2")).to_contain_text("done")


def test_a_value_is_marked_where_a_scenario_changes_it_and_can_be_as_today(page: Page, phone_line: int) -> None:
    sign_in(page)
    page.goto(f"/studies/{phone_line}/flow")
    page.locator(".line-map").wait_for()
    hands = Hands(page)
    choose(page, "Four in the early shift")
    hands.go_to("Until the evening")
    hands.go_to("Lost property call")
    hands.fill("Most in the line", "12")
    saved(page)
    back = hands.sheet.get_by_role("button", name="Most in the line: back to today’s 40")
    expect(back).to_be_visible()
    scenario = next(each for each in stored(phone_line)["scenarios"] if each["id"] == "four-early")  # type: ignore[attr-defined]
    assert scenario["levers"] == {"early": 4}
    assert scenario["changes"] == [{"op": "replace", "path": "/steps/lost-calls/line/max", "value": 12}]
    seen = apply_scenario(read_study(stored(phone_line)), "four-early")
    assert seen.model_dump()["steps"][1]["line"]["max"] == 12
    choose(page, "As it is today")
    expect(hands.sheet.get_by_label("Most in the line")).to_have_value("40")
    expect(back).to_have_count(0)
    page.get_by_role("button", name="Undo: Lost property call: max 40 → 12").click()
    expect(page.get_by_role("button", name="Scenario: Four in the early shift")).to_be_visible()
    expect(hands.sheet.get_by_label("Most in the line")).to_have_value("40")
    page.get_by_role("button", name="Redo: Lost property call: max 40 → 12").click()
    back.click()
    expect(hands.sheet.get_by_label("Most in the line")).to_have_value("40")
    expect(back).to_have_count(0)
    saved(page)
    assert next(each for each in stored(phone_line)["scenarios"] if each["id"] == "four-early").get("changes", []) == []  # type: ignore[attr-defined]


def test_what_a_scenario_changes_is_marked_on_map_board_and_tables(page: Page, phone_line: int, axe: Axe) -> None:
    """With what it is today and the way back, in each of them; at today nothing is marked."""
    sign_in(page)
    page.goto(f"/studies/{phone_line}/flow")
    page.locator(".line-map").wait_for()
    choose(page, "Four in the early shift")
    page.get_by_text("Table of steps", exact=True).click()
    cell = page.get_by_role("gridcell", name=re.compile("^Lost property call, Most in line"))
    cell.click()
    page.keyboard.type("12")
    page.keyboard.press("Enter")
    expect(cell).to_have_accessible_name("Lost property call, Most in line: 12, today 40")
    axe("the table of steps in a scenario")
    page.get_by_text("Map", exact=True).click()
    stop = page.locator(".line-map").get_by_role("button", name=re.compile("^Lost property call, "))
    expect(stop).to_have_accessible_name(re.compile("Differs from today: .*max 40 → 12"))
    page.get_by_text("Table of steps", exact=True).click()
    cell.click()
    cell.get_by_role("button", name="Back to today’s 40").click()
    expect(cell).to_have_accessible_name("Lost property call, Most in line: 40")

    page.get_by_role("link", name="Teams", exact=True).click()
    back = page.get_by_role("button", name=re.compile("^Shift 1 of Agents: back to today’s Agents, .* 3 people"))
    expect(back).to_be_visible()
    axe("the board in a scenario")
    page.get_by_role("button", name="Table of shifts").click()
    people = page.get_by_role("gridcell", name=re.compile("^Agents, shift 1, People: "))
    expect(people).to_have_accessible_name("Agents, shift 1, People: 4, today 3")
    people.click()
    page.keyboard.press("Alt+Delete")
    expect(people).to_have_accessible_name("Agents, shift 1, People: 3")
    page.get_by_role("button", name="Board", exact=True).click()
    expect(back).to_have_count(0)
    page.get_by_role("button", name=re.compile("^Undo: ")).click()
    back.click()
    expect(back).to_have_count(0)
    saved(page)
    scenario = next(each for each in stored(phone_line)["scenarios"] if each["id"] == "four-early")  # type: ignore[attr-defined]
    assert (scenario.get("levers", {}), scenario.get("changes", [])) == ({}, [])


def test_what_no_longer_fits_is_shown_and_settled(page: Page, phone_line: int) -> None:
    sign_in(page)
    page.goto(f"/studies/{phone_line}/flow")
    page.locator(".line-map").wait_for()
    hands = Hands(page)
    choose(page, "Four in the early shift")
    hands.go_to("Call back")
    hands.fill("Name of the step", "Ring back")
    choose(page, "As it is today")
    hands.stop("Call back").focus()
    hands.keys.press("Delete")
    saved(page)
    choose(page, "Four in the early shift")
    page.get_by_role("button", name="One change does not fit any more").click()
    entry = page.get_by_role("listitem", name="Four in the early shift")
    expect(entry).to_contain_text("leads nowhere")
    entry.get_by_role("button", name="Drop what no longer fits").click()
    expect(entry).to_contain_text("shift 07:45–15:45, people 3 → 4")
    expect(entry.get_by_text("leads nowhere")).to_have_count(0)
    expect(page.get_by_text("not fit any more")).to_have_count(0)


def test_scenarios_are_made_of_others_ordered_deleted_and_made_the_baseline(page: Page, phone_line: int) -> None:
    sign_in(page)
    page.goto(f"/studies/{phone_line}/scenarios")
    names = page.get_by_role("main").get_by_label(re.compile("^Name of "))

    def do(scenario: str, what: str) -> None:
        page.get_by_role("button", name=f"More on {scenario}", exact=True).click()
        page.get_by_role("menuitem", name=what).click()

    do("Four in the early shift", "Make another from it")
    copied = page.get_by_role("listitem", name="Four in the early shift, changed")
    expect(copied).to_contain_text("people 3 → 4")
    do("Four in the early shift, changed", "Move up")
    expect(names.nth(1)).to_have_value("Four in the early shift, changed")
    do("Four in the early shift, changed", "Delete")
    expect(copied).to_have_count(0)
    page.get_by_role("button", name="Undo", exact=True).click()
    expect(copied).to_have_count(1)
    do("Four in the early shift", "Make it “As it is today”")
    expect(page.get_by_role("listitem", name="As it was before")).to_contain_text("people 4 → 3")
    expect(copied).to_contain_text("It changes nothing yet.")
    saved(page)
    teams = {team["id"]: team for team in stored(phone_line)["teams"]}  # type: ignore[attr-defined]
    assert teams["agents"]["roster"][0]["people"] == 4


def test_a_run_is_named_gone_on_with_and_deleted(page: Page, phone_line: int, worker: None) -> None:
    sign_in(page)
    page.goto(f"/studies/{phone_line}/run")
    for name in ("Four in the early shift", "One from early to late"):
        page.get_by_role("checkbox", name=name).uncheck()
    page.get_by_label("Replications").fill("3")
    page.get_by_label("Replications").press("Enter")
    saved(page)
    page.get_by_role("button", name="Run it").click()
    page.get_by_role("region", name="Where the minutes go").get_by_role("img").wait_for()
    page.get_by_role("link", name="Run", exact=True).click()
    page.get_by_role("button", name="More on Run 1").click()
    page.get_by_role("menuitem", name="More replications").click()
    page.get_by_label("Replications in all").fill("5")
    page.get_by_label("Replications in all").press("Enter")
    page.get_by_role("button", name="Go on").click()
    expect(page.get_by_role("row", name="Run 1")).to_contain_text("4 wk × 5")
    expect(page.get_by_role("row", name="Run 1")).to_contain_text("done")
    page.get_by_role("button", name="More on Run 1").click()
    page.get_by_role("menuitem", name="Name and note").click()
    page.get_by_label("Name", exact=True).fill("First look")
    page.get_by_label("Note").fill("For Monday.")
    page.get_by_role("button", name="Keep").click()
    expect(page.get_by_role("row", name="First look")).to_contain_text("For Monday.")
    page.get_by_role("button", name="More on First look").click()
    page.get_by_role("menuitem", name="Delete").click()
    page.get_by_role("button", name="Delete it").click()
    expect(page.get_by_text("There is no run yet.")).to_be_visible()


def test_a_value_becomes_a_lever_with_a_family_of_scenarios(page: Page, phone_line: int, axe: Axe) -> None:
    sign_in(page)
    page.goto(f"/studies/{phone_line}/flow")
    page.locator(".line-map").wait_for()
    hands = Hands(page)
    hands.go_to("Lost property call")
    field = hands.sheet.locator('[data-at="steps/lost-calls/line/max"]')
    field.focus()
    vary = field.locator("xpath=ancestor::span[contains(@class, 'group/vary')]").get_by_role("button")
    expect(vary).to_have_accessible_name("Vary this")
    vary.press("Enter")
    page.get_by_role("menuitem", name="Vary this").press("Enter")
    expect(vary).to_have_accessible_name("Driven by Lost property call: line, max")
    page.get_by_role("link", name="Scenarios", exact=True).click()
    entry = page.get_by_role("listitem", name="Lost property call: line, max")
    values = entry.get_by_label("Values of Lost property call: line, max")
    values.fill("20 to 60 by 20")
    values.press("Enter")
    cell = page.get_by_role("gridcell", name="Four in the early shift, Lost property call: line, max")
    cell.click()
    page.keyboard.type("50")
    page.keyboard.press("Enter")
    expect(page.get_by_role("main").get_by_role("listitem", name="Four in the early shift")).to_contain_text(
        "max 40 → 50"
    )
    axe("the levers")
    page.get_by_role("button", name="Every combination of …").click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_label("Agents in the late shift").uncheck()
    dialog.get_by_label("Lost property call: line, max").check()
    expect(dialog).to_contain_text("21 scenarios, about")
    axe("the combinations")
    dialog.get_by_role("button", name="Make them").click()
    expect(page.get_by_role("heading", name="22 scenarios beside today")).to_be_visible()
    page.get_by_role("button", name="Undo: Every combination").click()
    expect(page.get_by_role("heading", name="2 scenarios beside today")).to_be_visible()
    entry.get_by_role("button", name="Delete").click()
    saved(page)
    assert len(stored(phone_line)["levers"]) == 2  # type: ignore[arg-type]
    scenario = next(each for each in stored(phone_line)["scenarios"] if each["id"] == "four-early")  # type: ignore[attr-defined]
    assert scenario["levers"] == {"early": 4}


def test_measures_are_found_by_typing_and_traded_off(page: Page, phone_line: int, worker: None, axe: Axe) -> None:
    """How long a run goes on is said on the Run screen, and what its scenarios are judged by on the comparison."""
    sign_in(page)
    page.goto(f"/studies/{phone_line}/run")
    page.get_by_role("button", name="How much warm-up does it take?").click()
    expect(page.get_by_role("img", name="Cases inside from the start on")).to_be_visible()
    page.get_by_role("textbox", name="Replications", exact=True).fill("3")
    page.get_by_role("textbox", name="Replications", exact=True).press("Enter")
    page.get_by_role("button", name="And more until it is precise enough …").click()
    expect(page.get_by_text("Wait on the whole way (mean, min)")).to_be_visible()
    page.get_by_label("Precision", exact=True).fill("20")
    page.get_by_label("Precision", exact=True).press("Enter")
    page.get_by_label("Most replications").fill("6")
    page.get_by_label("Most replications").press("Enter")
    saved(page)
    axe("how precise a run is to be")
    page.get_by_role("checkbox", name="One from early to late").uncheck()
    page.get_by_role("main").get_by_role("button", name="Run 2 scenarios").click()
    chart = page.get_by_role("img", name="Wait on the whole way against Cost")
    chart.wait_for()
    page.get_by_role("button", name="Add a measure").click()
    page.get_by_label("Find a figure", exact=True).last.fill("lost property call under 60 s")
    page.get_by_role("option", name="Wait at Lost property call within 60 s").click()
    added = page.get_by_role("row", name="Wait at Lost property call within 60 s")
    expect(added).to_contain_text("better")
    load = page.get_by_role("row", name=re.compile("^Agents: at work"))
    expect(load).to_contain_text("lower")
    load.get_by_role("button", name="More on Agents: at work").press("Enter")
    page.get_by_role("menuitem", name="More is better").click()
    expect(load).to_contain_text("worse")
    page.get_by_label("Measure upwards").click()
    page.get_by_role("option", name="Wait at Lost property call, within 60 s").click()
    expect(page.get_by_role("img", name="Wait at Lost property call against Cost")).to_be_visible()
    axe("the comparison by chosen measures")
    added.get_by_role("button", name="More on Wait at Lost property call").click()
    page.get_by_role("menuitem", name="Leave it out").click()
    expect(added).to_have_count(0)


@pytest.fixture
def short_phone_line(analyst: Person) -> int:
    document = json.loads((settings.ROOT / "demo" / "phone-line.json").read_text())
    document["run"] |= {"length": "1 wk", "replications": 20}
    return actions.create_study(analyst, read_study(document)).pk


def test_a_comparison_is_run_drawn_aimed_at_and_copied(
    page: Page, short_phone_line: int, worker: None, axe: Axe
) -> None:
    """Never run, it offers to; then in every picture, with a target, as text, and with more replications."""
    page.context.grant_permissions(["clipboard-read", "clipboard-write"])
    sign_in(page)
    page.goto(f"/studies/{short_phone_line}/compare")
    expect(page.get_by_role("heading", name="Nothing to compare yet")).to_be_visible()
    expect(page.get_by_text("Takes about")).to_be_visible()
    axe("a comparison that was never run")
    page.get_by_role("main").get_by_role("button", name="Run 3 scenarios").click()
    sheet = page.get_by_role("complementary", name="What it buys")

    def draw(what: str) -> None:
        page.get_by_label("What is drawn").click()
        page.get_by_role("option", name=what).click()

    draw("How it answers to a lever")
    expect(sheet.get_by_role("img", name="Wait on the whole way over Agents in the early shift")).to_be_visible()
    axe("the answer to a lever")
    draw("By two levers")
    table = sheet.get_by_role("table", name=re.compile("over Agents in the early shift and Agents in the late shift"))
    expect(table.get_by_role("button")).to_have_count(3)
    axe("the answer to two levers")
    table.get_by_role("button").last.click()
    expect(sheet).to_contain_text("“One from early to late” differs from")
    draw("How it spreads")
    expect(sheet.get_by_role("img", name="How One from early to late spreads over As it is today")).to_be_visible()
    draw("By the hour of the week")
    expect(sheet.get_by_role("table", name=re.compile("^Cases inside by the hour"))).to_be_visible()
    axe("the hours of the week")

    row = page.get_by_role("row", name=re.compile("^Door to door mean"))
    row.get_by_role("button", name="More on Door to door, mean, min").press("Enter")
    page.get_by_role("menuitem", name="Target …").press("Enter")
    dialog = page.get_by_role("dialog", name="Target")
    dialog.get_by_label("At most").fill("4 min")
    dialog.get_by_label("At most").press("Enter")
    axe("a target")
    page.keyboard.press("Escape")
    expect(row).to_contain_text("target: at most 4")
    expect(page.get_by_role("heading", level=1)).to_contain_text("all 3 targets")
    saved(page)
    targets = stored(short_phone_line)["targets"]
    assert targets[-1] == {"figure": "type/all/total/mean", "at_most": "4 min"}  # type: ignore[index]

    page.get_by_role("button", name="Copy the sentences").click()
    expect(page.get_by_text("Copied.")).to_be_visible()
    assert "20 replications of 1 wk side by side" in page.evaluate("navigator.clipboard.readText()")
    figure = page.get_by_role("main").get_by_role("link", name=re.compile("EUR .* a day")).first
    figure.click()
    expect(page.get_by_role("rowheader", name=re.compile("^Cost EUR a day"))).to_be_focused()
    page.get_by_role("button", name="Run 10 more of each").click()
    expect(page.get_by_text("30 replications of 1 wk side by side")).to_be_visible()


def test_a_run_lists_how_long_it_took_and_restores_its_version(page: Page, short_phone_line: int, worker: None) -> None:
    """Run until the last call has left, run again at once from the store, and back to the version that was run."""
    sign_in(page)
    page.goto(f"/studies/{short_phone_line}/run")
    for name in ("Four in the early shift", "One from early to late"):
        page.get_by_role("checkbox", name=name).uncheck()
    page.get_by_label("When a run is over").click()
    page.get_by_role("option", name="is over when the last case has left after closing").click()
    saved(page)
    for _ in range(2):
        page.get_by_role("button", name="Run it").click()
        page.get_by_role("region", name="Where the minutes go").get_by_role("img").wait_for()
        page.get_by_role("link", name="Run", exact=True).click()
    expect(page.get_by_role("row", name="Run 2")).to_contain_text("read from what was stored")
    expect(page.get_by_role("row", name="Run 1")).to_contain_text(re.compile(r"done in \d+ s"))
    page.get_by_label("When a run is over").click()
    page.get_by_role("option", name="is over after its length").click()
    saved(page)
    page.get_by_role("button", name="More on Run 1").click()
    page.get_by_role("menuitem", name="Restore version 2").click()
    expect(page.get_by_label("When a run is over")).to_contain_text("when the last case has left")
    saved(page)
    assert stored(short_phone_line)["run"]["until"] == {"empty": True}  # type: ignore[index]
