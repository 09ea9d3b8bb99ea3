"""Watching a replication: playing, jumping, following a case, reading the logbook; what is seen is the engine's."""

import json
import re
from pathlib import Path
from xml.etree import ElementTree

import pytest
from django.conf import settings
from playwright.sync_api import Page, Route, expect

from flowcore.kernel.records import kinds as k
from flowcore.replay.outline import outline_of
from flowcore.replay.recorder import Recorder
from flowcore.study import StudyDocument, read_study
from flowcore.study.scenarios import apply_scenario
from tests.browser.conftest import Axe, open_findings, saved, sign_in
from tests.browser.hands import Hands
from urbanqueue.accounts.models import Person
from urbanqueue.runs.models import Part
from urbanqueue.studies.actions import create_study, current_version, document_of
from urbanqueue.studies.models import Study

SVG = "{http://www.w3.org/2000/svg}"


@pytest.fixture
def study(demo_study: int) -> StudyDocument:
    return document_of(current_version(Study.objects.get(pk=demo_study)))


@pytest.fixture
def watching(page: Page, demo_study: int) -> Page:
    sign_in(page)
    page.goto(f"/studies/{demo_study}/watch")
    page.get_by_role("button", name="Play", exact=True).wait_for()
    return page


def go_to(page: Page, words: str) -> None:
    page.get_by_role("button", name="a time …").press("Enter")
    page.get_by_label("A time to go to").fill(words)
    page.keyboard.press("Enter")


def clock(page: Page) -> str:
    return page.get_by_role("heading", level=1).inner_text()


def test_the_counters_are_the_engines_at_any_time(watching: Page, study: StudyDocument) -> None:
    """The study begins on a Monday at 8; its clock runs through opening hours, so a day has nine of them."""
    recorder = Recorder(study, 0)
    banner = watching.locator("header").filter(has=watching.get_by_role("heading", level=1))
    for minute in (61, 250, 1480, 173, 61):
        day, time = divmod(480 + minute, 1440)
        words = f"{('Mon', 'Tue')[day]} {time // 60:02}:{time % 60:02}"
        go_to(watching, words)
        piece = recorder.piece(0.0, float(minute))
        cases, _ = piece.at(float(minute))
        there = cases[cases.doing != k.Doing.NOTHING]
        waiting = int((there.doing == k.Doing.WAITING).sum())
        expect(banner).to_contain_text(re.compile(rf"inside {len(there)}\s*waiting {waiting}\D"))
        assert clock(watching).endswith(f"{time // 60:02}:{time % 60:02}")


def test_played_and_stepped_by_the_keyboard(watching: Page, study: StudyDocument) -> None:
    before = clock(watching)
    watching.get_by_role("heading", level=1).click()
    watching.keyboard.press("Space")
    expect(watching.get_by_role("button", name="Pause")).to_be_visible()
    expect(watching.get_by_role("heading", level=1)).not_to_have_text(before)
    watching.keyboard.press("Space")
    expect(watching.get_by_role("button", name="Play", exact=True)).to_be_visible()
    go_to(watching, "Mon 09:00")
    slider = watching.get_by_role("slider", name="The moment that is seen")
    instants = sorted({float(at) for at in Recorder(study, 0).piece(0.0, 200.0).changes.at})
    following = [at for at in instants if at > 60][:2]
    for at in following:
        watching.keyboard.press("ArrowRight")
        expect(slider).to_have_attribute("aria-valuenow", str(round(at)))
    watching.keyboard.press("ArrowLeft")
    watching.keyboard.press("ArrowLeft")
    expect(slider).to_have_attribute("aria-valuenow", str(round([at for at in instants if at < following[0]][-1])))
    watching.keyboard.press("]")
    expect(watching.get_by_label("A minute takes")).to_have_text("0.1 s")
    slider.focus()
    go_to(watching, "Mon 09:00")
    slider.press("PageUp")
    expect(slider).to_have_attribute("aria-valuetext", "Monday 10:00")


def test_a_time_that_cannot_be_read_or_reached_says_so(watching: Page) -> None:
    go_to(watching, "noon")
    expect(watching.get_by_role("alert")).to_have_text("Write it as 11:42, or as Thu 11:42 week 2.")
    watching.get_by_label("A time to go to").fill("Mon 09:00 week 99")
    watching.keyboard.press("Enter")
    expect(watching.get_by_role("alert")).to_have_text("The replication does not reach there.")


def test_it_can_be_read_by_night_in_a_narrow_window(watching: Page, axe: Axe) -> None:
    watching.evaluate("document.documentElement.dataset.theme = 'night'")
    watching.set_viewport_size({"width": 1024, "height": 800})
    watching.get_by_role("button", name="the most inside").press("Enter")
    axe("a replay by night")
    assert watching.evaluate("document.scrollingElement.scrollWidth <= innerWidth")


def test_a_case_is_followed_and_the_logbook_read(watching: Page, study: StudyDocument, axe: Axe) -> None:
    longest = outline_of(study, Recorder(study, 0).pieces(1440.0)).to_follow["all"].longest_wait
    assert longest is not None
    sheet = watching.get_by_role("complementary", name="What is seen")
    sheet.get_by_role("button", name="the one who waited longest").press("Enter")
    expect(sheet.get_by_text(f"Case {longest.case:,}")).to_be_visible()
    expect(sheet.get_by_text(re.compile(r"^Waited \d+ min so far"))).to_be_visible()
    expect(sheet.get_by_role("listitem").filter(has_text="all busy").first).to_be_visible()
    sheet.get_by_role("button", name="Open the logbook").press("Enter")
    sheet.get_by_label(re.compile("of case .* only")).check()
    book = sheet.get_by_role("list", name="Logbook")
    expect(book.get_by_role("listitem").first).to_contain_text(f"Case {longest.case:,} ")
    axe("a case that is followed")
    sheet.get_by_label("Minutes waited").fill("20")
    sheet.get_by_role("button", name="Find them").press("Enter")
    found = sheet.get_by_role("list", name="Who waited long").get_by_role("button")
    expect(found.first).to_contain_text(f"case {longest.case:,}")
    sheet.get_by_role("button", name="Take out the day …").press("Enter")
    with watching.expect_download() as download:
        watching.get_by_role("menuitem", name="As a table (CSV)").click()
    assert Path(download.value.path()).read_text().startswith("time,minute,case,type,step,event,member")
    sheet.get_by_label("Of which type").press("Enter")
    watching.get_by_role("option", name="of Identity card").press("Enter")
    sheet.get_by_role("button", name="a typical one").press("Enter")
    expect(sheet.get_by_role("heading", name=re.compile("^Case .*, Identity card"))).to_be_visible()
    sheet.get_by_role("button", name="case number …").press("Enter")
    sheet.get_by_label("Case number").fill("2")
    watching.keyboard.press("Enter")
    expect(sheet.get_by_text(re.compile("^Case 2,"))).to_be_visible()


def test_watched_again_from_the_same_moment_after_an_edit(page: Page, demo_study: int) -> None:
    sign_in(page)
    page.goto(f"/studies/{demo_study}/flow")
    page.get_by_role("link", name="Watch it").click()
    go_to(page, "Mon 10:30")
    hands = Hands(page)
    hands.command("Flow")
    hands.stop("Counter").click()
    hands.fill("Name of the step", "Front desk")
    saved(page)
    hands.command("Watch it")
    expect(page.get_by_role("main").get_by_role("button", name="Front desk", exact=True)).to_be_visible()
    expect(page.get_by_role("heading", level=1)).to_have_text("Monday 10:30")


def test_a_replication_of_a_run_is_watched_from_its_findings(page: Page, part: Part) -> None:
    open_findings(page, part)
    page.get_by_role("link", name="Watch it").click()
    page.get_by_role("button", name="Play", exact=True).wait_for()
    expect(page.get_by_label("Which replication")).to_contain_text("the one nearest the mean")
    page.get_by_label("Which replication").press("Enter")
    page.get_by_role("option", name=re.compile("waits longest")).click()
    expect(page).to_have_url(re.compile("replication="))
    page.get_by_role("button", name="Play", exact=True).wait_for()


def test_what_there_is_not_cannot_be_watched(page: Page, demo_study: int) -> None:
    sign_in(page)
    page.goto(f"/studies/{demo_study}/watch?run=999999")
    expect(page.get_by_role("main")).to_contain_text("It is not there.")
    page.goto(f"/studies/{demo_study}/watch?beside=nowhere")
    expect(page.get_by_role("region", name="The map")).to_be_visible()


def test_two_scenarios_on_one_clock_with_the_same_luck(page: Page, analyst: Person, axe: Axe) -> None:
    """Counters of each by the engine, from seven on a Monday; and one case in both, its ways side by side."""
    study = read_study(json.loads((settings.ROOT / "demo" / "phone-line.json").read_text()))
    sign_in(page)
    page.goto(f"/studies/{create_study(analyst, study).pk}/watch")
    page.get_by_label("Beside it").press("Enter")
    page.get_by_role("option", name="beside Four in the early shift").press("Enter")
    sides = {"As it is today": study, "Four in the early shift": apply_scenario(study, "four-early")}
    for day, hour in ((0, 8), (1, 11)):
        go_to(page, f"{('Mon', 'Tue')[day]} {hour:02}:00 week 2")
        moment = 7 * 1440.0 + day * 1440 + (hour - 7) * 60
        for name, document in sides.items():
            cases, _ = Recorder(document, 0).piece(0.0, moment).at(moment)
            inside = int((cases.doing != k.Doing.NOTHING).sum())
            expect(page.get_by_role("region", name=name)).to_contain_text(f"inside {inside}")
    sheet = page.get_by_role("complementary", name="What is seen")
    sheet.get_by_role("button", name="the one who waited longest").press("Enter")
    for name in sides:
        expect(sheet.get_by_role("list", name=f"Its way: {name}").get_by_role("listitem").first).to_be_visible()
    expect(
        sheet.get_by_role("img", name=re.compile("As it is today: waited .* Four in the early shift: waited"))
    ).to_be_visible()
    axe("two scenarios beside each other")
    page.get_by_role("button", name="Scenario: As it is today").click()
    page.get_by_role("menuitem", name="Four in the early shift", exact=True).click()
    expect(page.get_by_role("region", name="The map"), "nothing is beside itself").to_be_visible()
    page.get_by_label("Beside it").press("Enter")
    page.get_by_role("option", name="nothing beside it").press("Enter")
    expect(page.get_by_role("region", name="Four in the early shift")).to_have_count(0)


def test_a_member_is_followed_by_a_click_on_the_map(watching: Page) -> None:
    go_to(watching, "Mon 10:00")
    expect(watching.get_by_role("heading", level=1)).to_have_text("Monday 10:00")
    expect(watching.locator("header").last).to_contain_text(re.compile(r"inside [1-9]"))
    stop = watching.get_by_role("button", name="Greeter", exact=True).bounding_box()
    assert stop is not None
    watching.mouse.click(stop["x"] + stop["width"] / 2, stop["y"] + stop["height"] + 12)
    sheet = watching.get_by_role("complementary", name="What is seen")
    day = sheet.get_by_role("list", name=re.compile("The day of Greeters 1"))
    expect(day.get_by_role("listitem").filter(has_text="case 1 at Greeter")).to_be_visible()
    sheet.get_by_role("button", name="Open the logbook").press("Enter")
    sheet.get_by_label("of the member only").check()
    sheet.get_by_label("What kind of event").press("Enter")
    watching.get_by_role("option", name="work", exact=True).press("Enter")
    lines = sheet.get_by_role("list", name="Logbook").get_by_role("listitem")
    expect(lines.first).to_contain_text(re.compile("Case .* at Greeter with Greeters 1"))
    sheet.get_by_role("button", name="To their next event").press("Enter")
    expect(sheet.get_by_role("heading", name=re.compile("up to 10:"))).not_to_contain_text("10:00:00")
    go_to(watching, "Mon 10:00")
    day.get_by_role("button", name=re.compile(r"^case 1 at")).first.press("Enter")
    expect(sheet.get_by_text(re.compile("^Case 1,"))).to_be_visible()
    watching.keyboard.press("c")
    expect(watching.get_by_role("status").filter(has_text="inside")).to_have_text(
        re.compile(r"Monday 10:00: \d+ inside, \d+ waiting")
    )


@pytest.mark.parametrize(("item", "ending"), [("Picture as SVG", ".svg"), ("Picture as PNG", ".png")])
def test_what_is_seen_is_saved_as_a_picture(watching: Page, item: str, ending: str) -> None:
    go_to(watching, "Mon 10:00")
    watching.get_by_role("button", name="Save what is seen").press("Enter")
    with watching.expect_download() as download:
        watching.get_by_role("menuitem", name=item).click()
    assert download.value.suggested_filename == f"residents-hall-monday-10-00{ending}"
    content = Path(download.value.path()).read_bytes()
    if ending == ".png":
        assert content.startswith(b"\x89PNG")
        return
    assert b"Monday 10:00" in content
    moving = ElementTree.fromstring(content).findall(f"{SVG}g[@transform]")[-1]
    drawn = moving.findall(f"{SVG}path")
    cases = int(re.search(r"inside (\d+)", watching.locator("header").last.inner_text())[1])
    assert len(drawn) >= cases, "each case is a shape that stays sharp"


def test_a_picture_waits_for_what_it_shows(watching: Page) -> None:
    held: list[Route] = []

    def hold(route: Route) -> None:
        held.append(route)

    watching.route("**/replays/piece*", hold)
    go_to(watching, "Thu 10:00 week 3")
    watching.get_by_role("button", name="Save what is seen").press("Enter")
    with watching.expect_download() as download:
        watching.get_by_role("menuitem", name="Picture as SVG").click()
        expect(watching.locator("header").last).to_contain_text("inside …")
        for route in held:
            route.continue_()
        watching.unroute("**/replays/piece*", hold)
    assert download.value.suggested_filename.startswith("residents-hall-thursday-10-00")
    moving = ElementTree.parse(download.value.path()).getroot().findall(f"{SVG}g[@transform]")[-1]
    assert moving.findall(f"{SVG}path"), "cases are on the map"


def test_a_stretch_is_saved_as_a_film(watching: Page) -> None:
    go_to(watching, "Mon 10:00")
    watching.get_by_role("button", name="Save what is seen").press("Enter")
    watching.get_by_role("menuitem", name="Film what is played from now on").click()
    expect(watching.get_by_role("heading", level=1)).not_to_have_text("Monday 10:00")
    with watching.expect_download() as download:
        watching.get_by_role("button", name="End the film and save it").click()
    assert download.value.suggested_filename.endswith(".webm")
    assert Path(download.value.path()).read_bytes().startswith(b"\x1a\x45\xdf\xa3"), "as all WebM does"
