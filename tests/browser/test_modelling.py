"""Building a flow and its demand as an analyst would: by keys, by table, by paste, from a file."""

import json
from typing import Any

import pytest
from django.conf import settings
from playwright.sync_api import Page, Route, expect

from flowcore import read_study
from tests.browser.conftest import Axe, Paste, saved, sign_in
from tests.browser.test_flow import document_of, open_flow
from urbanqueue.accounts.models import Person
from urbanqueue.studies.actions import create_study


@pytest.fixture
def clinic(analyst: Person) -> int:
    document = json.loads((settings.ROOT / "demo" / "animal-clinic.json").read_text())
    return create_study(analyst, read_study(document)).pk


def open_stream(page: Page, study_id: int, name: str) -> None:
    sign_in(page)
    page.goto(f"/studies/{study_id}/demand")
    page.get_by_role("tab", name=name).click()


def stream_of(study_id: int, stream_id: str) -> dict[str, Any]:
    found: dict[str, Any] = next(each for each in document_of(study_id)["streams"] if each["id"] == stream_id)
    return found


def test_a_way_back_is_drawn_with_keys_and_steps_are_moved(page: Page, clinic: int) -> None:
    open_flow(page, clinic)
    page.get_by_role("button", name="Payment, step").click()
    page.keyboard.press("w")
    page.keyboard.press("ArrowLeft")
    page.keyboard.press("Enter")
    expect(page.get_by_role("button", name="Undo: A way from Payment to Discharge")).to_be_visible()
    page.get_by_role("button", name="Payment, step").click()
    page.keyboard.press("m")
    page.get_by_role("button", name="Triage, step").click()
    expect(page.get_by_role("button", name="Undo: Move to after Triage")).to_be_visible()
    saved(page)
    steps = {step["id"]: step for step in document_of(clinic)["steps"]}
    assert [link["to"] for link in steps["triage"]["next"]] == ["payment"]
    assert steps["discharge"]["next"] == [{"to": "home"}]


def test_many_steps_are_edited_once_and_copied(page: Page, clinic: int) -> None:
    open_flow(page, clinic)
    page.get_by_role("button", name="Triage, step").click()
    page.get_by_role("button", name="Discharge, step").click(modifiers=["Shift"])
    sheet = page.get_by_role("complementary", name="Sheet")
    expect(sheet.get_by_role("heading", name="2 steps")).to_be_visible()
    sheet.get_by_role("button", name="any number can wait").click()
    most = sheet.get_by_label("Most in the line")
    most.fill("7")
    most.press("Enter")
    saved(page)
    lines = {step["id"]: step.get("line", {}).get("max") for step in document_of(clinic)["steps"]}
    assert {step for step, most in lines.items() if most == 7} == {"triage", "discharge"}
    page.keyboard.press("Escape")
    page.keyboard.press("Control+c")
    page.get_by_text("Copied Triage, Discharge").wait_for()
    page.get_by_role("button", name="Payment, step").click()
    page.keyboard.press("Control+v")
    expect(sheet.get_by_role("heading", name="2 steps")).to_be_visible()
    saved(page)
    copies = [step for step in document_of(clinic)["steps"] if step["name"] in ("Triage 2", "Discharge 2")]
    assert [step["line"]["max"] for step in copies] == [7, 7]


def test_the_table_is_filled_like_a_spreadsheet(page: Page, clinic: int, paste: Paste, axe: Axe) -> None:
    open_flow(page, clinic)
    page.get_by_role("button", name="Table of steps").click()
    grid = page.get_by_role("grid", name="Steps")
    axe("the table of steps")
    grid.get_by_role("gridcell", name="Triage, What it takes").click()
    page.keyboard.type("3-5-9 min")
    page.keyboard.press("Enter")
    expect(grid.get_by_role("gridcell", name="Triage, What it takes: 3–5–9 min")).to_be_visible()
    grid.get_by_role("gridcell", name="Triage, Most in line").click()
    paste("12\n15")
    grid.get_by_role("gridcell", name="Taking blood, Most in line").click()
    page.keyboard.type("4")
    page.keyboard.press("Enter")
    page.keyboard.press("ArrowUp")
    for _ in range(4):
        page.keyboard.press("Shift+ArrowDown")
    page.keyboard.press("Control+d")
    saved(page)
    steps = {step["id"]: step for step in document_of(clinic)["steps"]}
    assert steps["triage"]["work"] == {"dist": "triangular", "low": "3 min", "mode": "5 min", "high": "9 min"}
    most = {step: each.get("line", {}).get("max") for step, each in steps.items()}
    assert {step: each for step, each in most.items() if each} == {
        "triage": 12, "consultation": 15, "blood": 4, "treatment": 4, "discharge": 4, "payment": 4,
    }  # fmt: skip
    before = document_of(clinic)
    grid.get_by_role("gridcell", name="Triage, Who it needs").click()
    paste("Nurses\nRobots")
    expect(page.get_by_role("alert")).to_contain_text("There is no team “Robots”")
    grid.get_by_role("gridcell", name="Triage, Cost each").click()
    paste("1\t2\t3\t4")
    expect(page.get_by_role("alert")).to_contain_text("4 columns were copied, and from here on there is one")
    assert document_of(clinic) == before, "nothing of a paste that does not fit is kept"


def test_a_week_of_quarter_hours_is_pasted(page: Page, clinic: int, paste: Paste, axe: Axe) -> None:
    open_stream(page, clinic, "Walk-ins")
    sheet = page.get_by_role("complementary", name="Sheet")
    sheet.get_by_label("Interval", exact=True).click()
    page.get_by_role("option", name="15 min", exact=True).click()
    grid = page.get_by_role("grid")
    axe("the demand")
    first = grid.get_by_role("gridcell", name="00:00, Monday")
    first.scroll_into_view_if_needed()
    first.click()
    paste("\n".join("\t".join(f"{(row + day) % 5},25" for row in range(96)) for day in range(7)))
    expect(page.get_by_role("gridcell", name="00:15, Tuesday: 2.25")).to_be_visible()
    saved(page)
    week = stream_of(clinic, "walk-ins")["week"]
    assert [len(week[day]) for day in ("mon", "sun")] == [96, 96]
    assert week["tue"][:3] == [1.25, 2.25, 3.25]
    first.click()
    paste("\n".join("1\t" * 8 + "1" for _ in range(20)))
    expect(page.get_by_role("alert")).to_contain_text("9 columns were copied")
    paste("1\tmany")
    expect(page.get_by_role("alert")).to_contain_text("Tuesday 00:00: “many” is not a number")
    saved(page)
    assert stream_of(clinic, "walk-ins")["week"] == week


def test_a_profile_is_painted_scaled_and_copied(page: Page, clinic: int) -> None:
    open_stream(page, clinic, "Walk-ins")
    page.get_by_label("Arrivals of Walk-ins by hour of the week").wait_for()
    page.get_by_role("region", name="Pulse").get_by_text("Wait, mean").wait_for()
    grid = page.get_by_role("grid")
    brush = page.get_by_label("Number to paint with")
    brush.fill("3")
    brush.press("Enter")
    grid.get_by_role("gridcell", name="08:00, Monday").hover()
    start = grid.get_by_role("gridcell", name="08:00, Monday").bounding_box()
    end = grid.get_by_role("gridcell", name="09:00, Monday").bounding_box()
    assert start
    assert end
    page.mouse.move(start["x"] + 20, start["y"] + 10)
    page.mouse.down()
    page.mouse.move(end["x"] + 20, end["y"] + 10, steps=8)
    page.mouse.up()
    expect(grid.get_by_role("gridcell", name="09:00, Monday: 3")).to_be_visible()
    page.get_by_role("button", name="Paint with").click()
    grid.get_by_role("gridcell", name="08:00, Monday").click()
    page.get_by_label("Copy the day to").click()
    page.get_by_role("option", name="Saturday").click()
    scale = page.get_by_label("Scale to")
    scale.fill("50")
    scale.press("Enter")
    saved(page)
    week = stream_of(clinic, "walk-ins")["week"]
    assert week["mon"][16:20] == [1.5, 1.5, 1.5, 0.7]
    assert week["sat"] == week["mon"]
    assert week["tue"][16] == pytest.approx(0.8)


def test_dates_are_read_from_a_file_or_refused_with_reasons(page: Page, clinic: int) -> None:
    open_stream(page, clinic, "Rushed in")
    sheet = page.get_by_role("complementary", name="Sheet")
    sheet.get_by_label("How they come").click()
    page.get_by_role("option", name="at given dates").click()
    lines = [f"{1 + n % 28}.{3 + n // 28 % 3}.2027;{n % 24}:15;Illness" for n in range(200)]
    lines[7] = "31.2.2027;8:00;Illness"
    text = "Tag;Zeit;Grund für Besuch\n" + "\n".join(lines)
    page.get_by_label("File of dates").set_input_files(
        {"name": "arrivals.csv", "mimeType": "text/csv", "buffer": text.encode("latin-1")}
    )
    expect(page.get_by_label("What Tag holds")).to_have_text("date")
    expect(page.get_by_label("What Grund für Besuch holds")).to_have_text("case type")
    bad = page.get_by_role("table", name="Rows that cannot be read")
    expect(bad.get_by_role("row", name="line 9")).to_contain_text("“31.2.2027” is not a date")
    take = page.get_by_role("button", name="Take over 199 dates")
    expect(take).to_be_disabled()
    page.get_by_label("Leave out the 1 rows that cannot be read").check()
    take.click()
    expect(page.get_by_text("199 arrivals")).to_be_visible()
    saved(page)
    arrivals = stream_of(clinic, "rushed-in")["arrivals"]
    assert arrivals[0] == {"at": "2027-03-01T00:15", "type": "illness"}
    assert len(arrivals) == 199


def test_a_hundred_thousand_dates(page: Page, clinic: int) -> None:
    open_stream(page, clinic, "Rushed in")
    sheet = page.get_by_role("complementary", name="Sheet")
    sheet.get_by_label("How they come").click()
    page.get_by_role("option", name="at given dates").click()
    rows = (f"2027-{3 + n % 9:02}-{1 + n % 28:02} {n % 24:02}:{n % 60:02}" for n in range(100_000))
    page.get_by_label("File of dates").set_input_files(
        {"name": "year.csv", "mimeType": "text/csv", "buffer": ("when\n" + "\n".join(rows)).encode()}
    )
    page.get_by_role("button", name="Take over 100,000 dates").click()
    expect(page.get_by_text("100,000 arrivals")).to_be_visible()
    saved(page)
    assert len(stream_of(clinic, "rushed-in")["arrivals"]) == 100_000


def test_a_late_answer_of_the_pulse_is_given_up(page: Page, demo_study: int) -> None:
    open_flow(page, demo_study)
    pulse = page.get_by_role("region", name="Pulse")
    expect(pulse.get_by_role("button", name="Clerks 88 %")).to_be_visible()
    pulse.get_by_role("button", name="Clerks").click()
    held: list[Route] = []

    def hold_the_first(route: Route) -> None:
        if held:
            route.continue_()
        else:
            held.append(route)

    page.route("**/api/pulse/theory", hold_the_first)
    people = page.get_by_label("How many they are")
    people.fill("1")
    with page.expect_request("**/api/pulse/theory"):
        people.press("Enter")
    expect(pulse).to_have_attribute("aria-busy", "true")
    people.fill("2")
    people.press("Enter")
    expect(pulse.get_by_role("button", name="Clerks 133 %")).to_be_visible()
    expect(pulse).to_have_attribute("aria-busy", "false")
    [late] = held
    assert late.request.failure == "net::ERR_ABORTED"
    page.get_by_role("button", name="Undo: Clerks: size 2").click()
    expect(pulse.get_by_role("button", name="Clerks 265 %")).to_be_visible()


def test_the_pulse_is_asked_for_again_where_all_are_busy(page: Page, demo_study: int) -> None:
    asked: list[int] = []

    def refuse_twice(route: Route) -> None:
        asked.append(1)
        if len(asked) <= 2:
            route.fulfill(status=503, json={"problems": []})
        else:
            route.continue_()

    page.route("**/api/pulse/simulation", refuse_twice)
    open_flow(page, demo_study)
    pulse = page.get_by_role("region", name="Pulse")
    expect(pulse).to_have_attribute("aria-busy", "false")
    expect(pulse).to_contain_text("Inside, mean")
    assert len(asked) == 3


def test_an_empty_study_begins_with_one_step(page: Page, analyst: Person) -> None:
    study = create_study(analyst, read_study({"name": "Empty"})).pk
    sign_in(page)
    page.goto(f"/studies/{study}/demand")
    expect(page.get_by_text("Nobody comes yet.")).to_be_visible()
    page.get_by_role("main").get_by_role("button", name="Add a stream").click()
    page.keyboard.type("Door")
    page.keyboard.press("Enter")
    page.get_by_role("navigation").get_by_role("link", name="Flow").click()
    page.get_by_role("button", name="Begin with one step and an exit").click()
    expect(page.locator(".line-map").get_by_role("button", name="New step, step")).to_be_focused()
    saved(page)
    document = document_of(study)
    assert [step["kind"] for step in document["steps"]] == ["serve", "exit"]
    assert document["streams"][0]["to"] == document["steps"][0]["id"]
    expect(page.get_by_role("region", name="Pulse")).to_contain_text("Wait, mean")


def test_the_pulse_tells_what_an_edit_did(page: Page, demo_study: int) -> None:
    open_flow(page, demo_study)
    pulse = page.get_by_role("region", name="Pulse")
    expect(pulse.get_by_role("button", name="Clerks 88 %")).to_be_visible()
    expect(pulse).to_contain_text("8 weeks")
    pulse.get_by_role("button", name="Clerks").click()
    people = page.get_by_label("How many they are")
    people.fill("2")
    people.press("Enter")
    expect(pulse.get_by_role("button", name="Clerks 133 %")).to_contain_text("+45")
    expect(pulse).to_contain_text("members' worth of work for 2")
    expect(pulse).to_have_attribute("aria-busy", "false")
    expect(pulse).to_contain_text("more")
    pulse.get_by_role("button", name="Show").click()
    expect(page.get_by_label("How many they are")).to_be_focused()
    page.get_by_role("button", name="Undo: Clerks: size 3 → 2").click()
    expect(pulse.get_by_role("button", name="Clerks 88 %")).to_contain_text("−45")


def test_an_old_version_is_looked_at_and_restored(page: Page, demo_study: int, axe: Axe) -> None:
    open_flow(page, demo_study)
    page.get_by_role("button", name="Cashier, step").click()
    page.keyboard.press("Delete")
    saved(page)
    page.get_by_role("link", name="History").click()
    versions = page.get_by_role("navigation", name="Versions")
    expect(versions.get_by_role("button", name="Version 2, now")).to_contain_text("Cashier deleted")
    versions.get_by_role("button", name="Version 1").click()
    expect(page.get_by_role("button", name="Cashier, step")).to_be_visible()
    axe("the history")
    page.get_by_role("button", name="Restore version 1").click()
    page.wait_for_url("**/flow")
    expect(page.get_by_role("button", name="Cashier, step")).to_be_visible()
    saved(page)
    assert "cashier" in [step["id"] for step in document_of(demo_study)["steps"]]


def test_two_windows_keep_both_where_they_touch_different_things(page: Page, demo_study: int) -> None:
    open_flow(page, demo_study)
    other = page.context.new_page()
    other.goto(f"/studies/{demo_study}/flow")
    other.locator(".line-map [role=button]").first.wait_for()
    for window, name in ((page, "Greeters"), (other, "Officers")):
        sheet = window.get_by_role("complementary", name="Sheet")
        sheet.get_by_role("button", name=name).click()
        people = sheet.get_by_label("How many they are")
        people.fill("6")
        people.press("Enter")
        if window is page:
            saved(page)
    other.get_by_role("dialog").get_by_role("button", name="Keep both").click()
    saved(other)
    sizes = {team["id"]: team["size"] for team in document_of(demo_study)["teams"]}
    assert (sizes["greeters"], sizes["officers"]) == (6, 6)
