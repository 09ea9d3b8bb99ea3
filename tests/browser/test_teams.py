"""The roster board: shifts moved, stretched and counted by mouse and by keyboard, and what follows at once."""

import json
import re
from typing import Any

from django.conf import settings
from playwright.sync_api import Page, expect

from flowcore import read_study
from tests.browser.conftest import Axe, Paste, saved, sign_in
from tests.browser.test_flow import document_of
from urbanqueue.accounts.models import Person
from urbanqueue.studies.actions import create_study

WORKDAYS = ["mon", "tue", "wed", "thu", "fri"]


def open_board(page: Page, analyst: Person, roster: list[dict[str, Any]] | None) -> int:
    """Open the board of a hall whose clerks have these shifts, or are always there."""
    document = json.loads((settings.ROOT / "tests" / "shared" / "plain-hall.json").read_text())
    clerks = next(team for team in document["teams"] if team["id"] == "clerks")
    if roster is not None:
        del clerks["size"]
        clerks["roster"] = roster
    study = create_study(analyst, read_study(document)).pk
    sign_in(page)
    page.goto(f"/studies/{study}/flow")
    page.get_by_role("link", name="Teams").click()
    page.get_by_role("region", name="Clerks").wait_for()
    return study


def roster_of(page: Page, study: int) -> Any:
    saved(page)
    return next(team for team in document_of(study)["teams"] if team["id"] == "clerks").get("roster")


def shift(**more: Any) -> dict[str, Any]:
    return {"days": WORKDAYS, "from": "08:00", "to": "16:00", "people": 4} | more


def test_a_shift_by_keyboard_alone(page: Page, analyst: Person, axe: Axe) -> None:
    study = open_board(page, analyst, [shift()])
    bar = page.get_by_role("button", name="Clerks, Monday to Friday, 08:00 to 16:00, 4 people")
    bar.focus()
    axe("the board")
    page.keyboard.press("ArrowRight")
    expect(page.get_by_role("button", name="Clerks, Monday to Friday, 08:15 to 16:15, 4 people")).to_be_focused()
    page.keyboard.press("Shift+ArrowRight")
    page.keyboard.press("Alt+ArrowLeft")
    page.keyboard.press("6")
    page.keyboard.press("+")
    expect(page.get_by_role("button", name="Clerks, Monday to Friday, 08:10 to 16:25, 7 people")).to_be_focused()
    assert roster_of(page, study) == [shift(**{"from": "08:10", "to": "16:25", "people": 7})]
    page.keyboard.press("s")
    expect(page.get_by_role("region", name="Clerks").get_by_role("button", name="7 people")).to_have_count(2)
    page.keyboard.press("ArrowDown")
    page.keyboard.press("d")
    page.keyboard.press("Delete")
    page.keyboard.press("Enter")
    expect(page.get_by_label("Shift 2: people")).to_be_focused()
    rows = roster_of(page, study)
    assert [(row["from"], row["to"]) for row in rows] == [("08:10", "12:15"), ("12:15", "16:25")]
    page.keyboard.press("Escape")
    expect(page.locator("[data-shift]:focus")).to_have_count(1)


def test_a_shift_is_dragged_and_stretched(page: Page, analyst: Person) -> None:
    study = open_board(page, analyst, [shift(breaks=[{"after": "4 h", "length": "30 min", "paid": False}])])
    wages = page.get_by_text(re.compile("Wages by shifts"))
    expect(wages).to_contain_text("3,600")
    bar = page.locator("[data-shift]")
    box = bar.bounding_box()
    assert box
    hour = box["width"] / 8
    middle = box["y"] + box["height"] / 2
    page.mouse.move(box["x"] + box["width"] / 4, middle)
    page.mouse.down()
    page.mouse.move(box["x"] + box["width"] / 4 + hour, middle, steps=5)
    expect(page.get_by_role("button", name="09:00 to 17:00, 4 people")).to_be_visible()
    page.mouse.up()
    assert roster_of(page, study)[0]["from"] == "09:00"
    box = bar.bounding_box()
    assert box
    page.mouse.move(box["x"] + box["width"] - 3, middle)
    page.mouse.down()
    page.mouse.move(box["x"] + box["width"] - 3 - 2 * hour, middle, steps=5)
    expect(wages).to_contain_text("2,640")
    page.mouse.up()
    row = roster_of(page, study)[0]
    assert (row["from"], row["to"]) == ("09:00", "15:00")
    page.get_by_role("button", name="Undo: Clerks, shift 1: 09:00–17:00 → 09:00–15:00").click()
    expect(page.get_by_role("button", name="09:00 to 17:00, 4 people")).to_be_visible()
    notch = bar.locator("[data-break]").first.bounding_box()
    assert notch
    page.mouse.move(notch["x"] + notch["width"] / 2, notch["y"] + 3)
    page.mouse.down()
    page.mouse.move(notch["x"] + notch["width"] / 2 - 1.5 * hour, notch["y"] + 3, steps=5)
    page.mouse.up()
    row = roster_of(page, study)[0]
    assert (row["from"], row["to"], row["breaks"][0]["after"]) == ("09:00", "17:00", "2.5 h")


def test_from_always_there_to_shifts_and_who_lacks_when(page: Page, analyst: Person, axe: Axe) -> None:
    study = open_board(page, analyst, None)
    clerks = page.get_by_role("region", name="Clerks")
    expect(clerks).to_contain_text("3, always there")
    clerks.get_by_role("button", name="Let them come by shifts").click()
    clerks.get_by_role("button", name="Clerks, Monday to Friday, 08:00 to 16:00, 3 people").click()
    clerks.get_by_role("button", name="Add a shift").click()
    expect(clerks.get_by_role("button", name="1 person")).to_be_visible()
    page.get_by_role("heading", name="Clerks").first.wait_for()
    picture = page.get_by_role("img", name="Clerks: people there beside people needed")
    expect(picture).to_have_accessible_name(re.compile("07:00–08:00 short by 2.7"))
    expect(page.get_by_text("07:00–08:00 short by 2.7")).to_be_visible()
    page.get_by_role("button", name="Sat", exact=True).click()
    expect(clerks).to_contain_text("nobody on this day")
    page.get_by_role("button", name="Week", exact=True).click()
    axe("the board of a week")
    assert [row["people"] for row in roster_of(page, study)] == [3, 1]


def test_shifts_are_filled_in_like_a_spreadsheet(page: Page, analyst: Person, paste: Paste, axe: Axe) -> None:
    study = open_board(page, analyst, [shift(), shift(days=["sat"], people=1)])
    page.get_by_role("button", name="Table of shifts").click()
    grid = page.get_by_role("grid", name="Shifts")
    grid.get_by_role("gridcell", name="Clerks, shift 1, Breaks").click()
    paste("30 min after 4 h, in turn, not paid\n15 min at 10:00")
    expect(grid.get_by_role("gridcell", name="Clerks, shift 2, Breaks: 15 min at 10:00")).to_be_visible()
    grid.get_by_role("gridcell", name="A new shift, Team").first.click()
    paste("Clerks\tSun\t9\t1300\t2\nOfficers\tMon–Wed\t8:00\t12:00\t3\n\t\t\t\t")
    expect(grid.get_by_role("gridcell", name="Officers, shift 1, From: 08:00")).to_be_visible()
    axe("the table of shifts")
    taken = {"after": "4 h", "length": "30 min", "taken": "in-turn", "paid": False}
    assert roster_of(page, study) == [
        shift(breaks=[taken]),
        shift(days=["sat"], people=1, breaks=[{"at": "10:00", "length": "15 min"}]),
        {"days": ["sun"], "from": "09:00", "to": "13:00", "people": 2},
    ]
    officers = next(team for team in document_of(study)["teams"] if team["id"] == "officers")
    assert officers["roster"] == [{"days": ["mon", "tue", "wed"], "from": "08:00", "to": "12:00", "people": 3}]
    assert "size" not in officers
    before = document_of(study)
    grid.get_by_role("gridcell", name="Clerks, shift 1, Days").click()
    paste("Sun\nholidays")
    expect(page.get_by_text("“holidays” are no days.")).to_be_visible()
    grid.get_by_role("gridcell", name="Clerks, shift 3, Team").click()
    paste("Robots")
    expect(page.get_by_text("There is no team “Robots”.")).to_be_visible()
    assert document_of(study) == before, "nothing of a paste that does not fit is kept"
    paste("Officers")
    expect(grid.get_by_role("gridcell", name="Officers, shift 2, Days: Sun")).to_be_visible()
