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
    document = json.loads((settings.ROOT / "tests" / "flowcore" / "formats" / "2" / "residents-hall.json").read_text())
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


def test_several_shifts_at_once_by_keyboard_and_wheel(page: Page, analyst: Person) -> None:
    later = shift(**{"from": "10:00", "to": "18:00", "people": 2})
    study = open_board(page, analyst, [shift(), later])
    clerks = page.get_by_role("region", name="Clerks")
    clerks.get_by_role("button", name="08:00 to 16:00").focus()
    page.keyboard.press("Shift+ArrowDown")
    expect(clerks.locator("[data-shift][aria-pressed=true]")).to_have_count(2)
    page.keyboard.press("ArrowRight")
    page.keyboard.press("+")
    assert [(row["from"], row["people"]) for row in roster_of(page, study)] == [("08:15", 5), ("10:15", 3)]
    expect(page.get_by_role("button", name="Undo: 2 shifts: people 2 → 3")).to_be_visible()
    clerks.get_by_role("button", name="08:15 to 16:15").hover()
    page.mouse.wheel(0, 100)
    expect(clerks.get_by_role("button", name="08:15 to 16:15, 4 people")).to_be_visible()
    bar = clerks.get_by_role("button", name="08:15 to 16:15").bounding_box()
    assert bar
    page.mouse.move(bar["x"] + 60, bar["y"] + 8)
    page.mouse.down()
    page.mouse.move(bar["x"] + 60 + bar["width"] / 8, bar["y"] + 8, steps=4)
    expect(clerks.get_by_role("button", name="11:15 to 19:15, 2 people")).to_be_visible()
    page.mouse.up()
    assert [(row["from"], row["people"]) for row in roster_of(page, study)] == [("09:15", 4), ("11:15", 2)]
    page.get_by_role("button", name="Copy Mon to …").click()
    page.get_by_role("menuitem", name="Saturday").click()
    assert [row["days"] for row in roster_of(page, study)] == [[*WORKDAYS, "sat"]] * 2
    clerks.get_by_role("button", name="09:15 to 17:15").focus()
    page.keyboard.press("Control+a")
    page.keyboard.press("Delete")
    expect(clerks).to_contain_text("always there")
    assert roster_of(page, study) is None
    page.get_by_role("button", name="Undo: Take away 2 shifts").click()
    expect(clerks.locator("[data-shift]")).to_have_count(2)


def test_people_by_the_half_hour_become_the_fewest_shifts(page: Page, analyst: Person, paste: Paste, axe: Axe) -> None:
    taken = [{"after": "4 h", "length": "30 min"}]
    study = open_board(page, analyst, [shift(breaks=taken)])
    page.get_by_role("region", name="Clerks").get_by_role("button", name="Clerks", exact=True).click()
    page.get_by_role("button", name="By the half hour").click()
    grid = page.get_by_role("grid", name="Clerks by the half hour")
    expect(grid.get_by_role("gridcell", name="Monday, 08:00: 4")).to_be_visible()
    axe("people by the half hour")
    week = ["\t".join(["0"] * 16 + ["4"] * 4 + ["6"] * 8 + ["4"] * 4 + ["0"] * 16)] * 5
    week += ["\t".join(["0"] * 18 + ["2"] * 8 + ["0"] * 22), "\t".join(["0"] * 48)]
    grid.get_by_role("gridcell", name="Monday, 07:00").click()
    page.keyboard.press("Home")
    paste("\n".join(week))
    expect(grid.get_by_role("gridcell", name="Monday, 10:00: 6")).to_be_visible()
    assert roster_of(page, study) == [
        shift(breaks=taken),
        {"days": ["sat"], "from": "09:00", "to": "13:00", "people": 2},
        {"days": WORKDAYS, "from": "10:00", "to": "14:00", "people": 2},
    ]
    paste("many")
    expect(page.get_by_text("Monday 00:00: “many” is not a number.")).to_be_visible()


def test_who_does_what_in_a_grid(page: Page, analyst: Person, axe: Axe) -> None:
    study = open_board(page, analyst, None)
    page.get_by_role("button", name="Who does what").click()
    grid = page.get_by_role("grid", name="Who does what")
    cell = grid.get_by_role("gridcell", name=re.compile(r"^Counter, Clerks: 1 2\.\d\d$"))
    cell.click()
    axe("who does what")
    page.keyboard.type("2")
    page.keyboard.press("Enter")
    page.keyboard.press("ArrowUp")
    page.keyboard.press("ArrowRight")
    page.keyboard.type("1")
    page.keyboard.press("Enter")
    expect(
        grid.get_by_role("gridcell", name=re.compile(r"^At work, of those there, Clerks: 5\.\d\d of 3$"))
    ).to_be_visible()
    saved(page)
    counter = next(step for step in document_of(study)["steps"] if step["id"] == "counter")
    assert counter["needs"] == [{"team": "clerks", "count": 2}, {"team": "booths"}]
    page.get_by_role("complementary", name="Sheet").get_by_role("heading", name="Photo booth").wait_for()


def test_what_it_costs_line_by_line(page: Page, analyst: Person, axe: Axe) -> None:
    study = open_board(page, analyst, None)
    page.get_by_role("button", name="Costs").click()
    table = page.get_by_role("table", name="What a day and a case cost")
    expect(table.get_by_role("row", name="Clerks, regular time 1,728")).to_be_visible()
    expect(table.get_by_role("row", name="In all 4,008")).to_be_visible()
    page.get_by_label("Parking permit: an hour of waiting").fill("6")
    page.get_by_label("Parking permit: an hour of waiting").press("Enter")
    expect(table.get_by_role("row", name="Cases' waiting")).to_be_visible()
    axe("costs")
    page.get_by_label("Counter: a visit").fill("0.5")
    page.get_by_label("Counter: a visit").press("Enter")
    expect(table.get_by_role("row", name="Visits to steps")).to_be_visible()
    page.get_by_label("Currency").fill("nok")
    page.get_by_label("Currency").press("Enter")
    expect(table.get_by_role("columnheader", name="NOK a day")).to_be_visible()
    saved(page)
    document = document_of(study)
    assert (document["case_types"][0]["waiting_cost"], document["currency"]) == (6, "NOK")


def choose(page: Page, label: str, option: str) -> None:
    page.get_by_role("combobox", name=label, exact=True).click()
    page.get_by_role("option", name=option).click()


def test_closing_time_and_how_the_day_ends(page: Page, analyst: Person, axe: Axe) -> None:
    study = open_board(page, analyst, [shift()])
    page.get_by_role("button", name="Closing time").click()
    expect(page.get_by_text("cases come around the clock")).to_be_visible()
    choose(page, "Doors", "A new calendar")
    choose(page, "When a run is over", "is over when the last case has left after closing")
    page.get_by_role("img", name="Cases that come: the last by 17:00").wait_for()
    clerks = page.get_by_role("img", name=re.compile("^Clerks: gone by 16:"))
    expect(clerks).to_be_visible()
    choose(page, "Clerks: after the end of the shift", "stay until everybody has left")
    expect(page.get_by_role("img", name=re.compile("^Clerks: gone by 1[7-9]:"))).to_be_visible()
    choose(page, "Counter: in overtime", "not in overtime")
    axe("closing time")
    saved(page)
    document = document_of(study)
    assert document["run"]["until"] == {"empty": True}
    assert document["run"]["doors"] == document["calendars"][0]["id"]
    choose(page, "When a run is over", "is over after so many cases")
    page.get_by_label("Cases of a run").fill("250")
    page.get_by_label("Cases of a run").press("Enter")
    choose(page, "Doors", "doors that never shut")
    saved(page)
    run = document_of(study)["run"]
    assert (run["until"], "doors" in run) == ({"completed": 250}, False)


def test_a_skill_by_its_name(page: Page, analyst: Person) -> None:
    study = open_board(page, analyst, None)
    sheet = page.get_by_role("complementary", name="Sheet")
    page.get_by_role("region", name="Clerks").get_by_role("button", name="Clerks", exact=True).click()
    expect(sheet.get_by_role("list", name="Without it")).to_contain_text("Counter would need nobody.")
    sheet.get_by_role("button", name="A skill", exact=True).click()
    sheet.get_by_role("button", name="Open the skill").click()
    name = sheet.get_by_label("Name of the skill")
    name.fill("Local law")
    name.press("Enter")
    sheet.get_by_role("button", name="Give it to …").click()
    page.get_by_role("menuitem", name="Officers").click()
    page.get_by_role("button", name="Who does what").click()
    cell = page.get_by_role("gridcell", name=re.compile("^Identity desk, skill Local law"))
    cell.click()
    page.keyboard.type("1")
    page.keyboard.press("Enter")
    saved(page)
    document = document_of(study)
    assert [skill["name"] for skill in document["skills"]] == ["Local law"]
    [skill] = [skill["id"] for skill in document["skills"]]
    assert [team["id"] for team in document["teams"] if skill in team.get("skills", [])] == ["clerks", "officers"]
    desk = next(step for step in document["steps"] if step["id"] == "identity-desk")
    assert desk["needs"] == [{"team": "officers"}, {"skill": skill}]


CALENDAR = "\r\n".join([
    "BEGIN:VCALENDAR", "VERSION:2.0",
    "BEGIN:VEVENT", "UID:1", "SUMMARY:Clerks: early", "DTSTART:20270301T070000", "DTEND:20270301T130000",
    "RRULE:FREQ=WEEKLY;BYDAY=MO,TU", "X-ROSTER-PEOPLE:2", "END:VEVENT",
    "BEGIN:VEVENT", "UID:2", "SUMMARY:Staff meeting", "DTSTART:20270301T130000", "DURATION:PT1H",
    "RRULE:FREQ=MONTHLY", "END:VEVENT",
    "END:VCALENDAR",
])  # fmt: skip


def test_rosters_from_a_calendar_and_a_table(page: Page, analyst: Person, axe: Axe) -> None:
    study = open_board(page, analyst, [shift()])
    file = page.get_by_label("A file of shifts")
    file.set_input_files({"name": "rosters.ics", "mimeType": "text/calendar", "buffer": CALENDAR.encode()})
    coming = page.get_by_role("region", name="Shifts that would come in")
    expect(coming).to_contain_text("“Staff meeting” does not repeat by days of the week, and is left out.")
    expect(coming.get_by_role("row", name="Mon, Tue 07:00 13:00 2")).to_be_visible()
    axe("what would come in")
    assert roster_of(page, study) == [shift()]
    coming.get_by_role("button", name="Take over 1 shift").click()
    early = {"days": ["mon", "tue"], "from": "07:00", "to": "13:00", "people": 2, "from_date": "2027-03-01"}
    assert roster_of(page, study) == [early]
    with page.expect_download() as table:
        page.get_by_role("button", name="Take out …").click()
        page.get_by_role("menuitem", name="Shifts as a table (CSV)").click()
    page.get_by_role("button", name="Undo: 1 shift from rosters.ics").click()
    page.get_by_role("button", name="08:00 to 16:00").wait_for()
    file.set_input_files(table.value.path())
    coming.get_by_role("button", name="Take over 1 shift").click()
    assert roster_of(page, study) == [early]
    file.set_input_files({"name": "notes.txt", "mimeType": "text/plain", "buffer": b"BEGIN:VCALENDAR\nnothing"})
    expect(page.get_by_text("This is no calendar with events.")).to_be_visible()
