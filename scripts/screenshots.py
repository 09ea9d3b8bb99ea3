"""Goes the way of a new analyst through the demo study and takes a picture of every main view."""

import re
import sys
from pathlib import Path

from playwright.sync_api import Page, sync_playwright

FOLDER = Path(__file__).resolve().parent.parent / "docs" / "screenshots"
MILLISECONDS = 300_000
"""How long anything may take to be seen, also on a slow machine."""
FLAGS = ["--no-sandbox", "--disable-gpu", "--disable-background-networking"]


def take(page: Page, name: str) -> None:
    """Take one picture, once everything has settled."""
    page.evaluate("document.fonts.ready")
    page.wait_for_load_state("networkidle")
    page.screenshot(path=FOLDER / f"{name}.png")


def run(page: Page) -> None:
    """Run the study with its scenarios and wait until they are compared."""
    page.get_by_role("button", name="Run 5 scenarios").click()
    page.get_by_role("img", name="Wait on the whole way against Cost").wait_for()


def watch(page: Page) -> None:
    """Watch who waited longest, and the same case in another scenario."""
    page.get_by_role("link", name="Watch it").click()
    page.get_by_role("button", name="the longest wait").click()
    page.get_by_text(re.compile("^Waited .* so far")).wait_for()
    take(page, "watch")
    page.get_by_label("Beside it").click()
    page.get_by_role("option", name="beside One more clerk over midday").click()
    page.get_by_role("button", name="the longest wait").click()
    page.get_by_role("list", name="Its way: One more clerk over midday").wait_for()
    take(page, "watch-beside")


def memo(page: Page) -> None:
    """Write a memo of the findings."""
    page.get_by_role("button", name="Memo", exact=True).click()
    page.get_by_role("menuitem", name="Write a memo of this").click()
    page.get_by_label("Title of the memo").wait_for()
    page.get_by_role("region", name="How long they take").get_by_role("img").wait_for()
    take(page, "memo")


def walk(page: Page, url: str) -> None:
    """Go the whole way and back."""
    page.goto(url)
    page.get_by_label("Password").wait_for()
    page.get_by_label("E-mail address").fill("analyst@portalder.example")
    page.get_by_label("Password").fill("port-alder")
    page.keyboard.press("Enter")
    page.get_by_role("table").wait_for()
    page.get_by_role("link", name="Residents' hall", exact=True).click()
    page.get_by_role("button", name="Counter, step").wait_for()
    run(page)
    page.get_by_role("link", name="Findings").click()
    page.get_by_role("heading", name="Half of the cases").wait_for()
    take(page, "findings")
    watch(page)
    page.get_by_role("link", name="Findings").click()
    page.get_by_role("heading", name="Half of the cases").wait_for()
    memo(page)
    page.get_by_role("link", name="Flow").click()
    page.get_by_role("button", name="Counter, step").click()
    page.get_by_text("90 % in").first.wait_for()
    take(page, "flow-step")
    page.get_by_role("button", name="Scenario: As it is today").click()
    page.get_by_role("menuitem", name="A fourth clerk all day").click()
    page.get_by_role("button", name="Open the team").click()
    page.get_by_label("Shift 2: people").fill("2")
    page.keyboard.press("Enter")
    page.get_by_text("Saved", exact=True).wait_for()
    page.get_by_role("region", name="Pulse").get_by_text("8 weeks").wait_for()
    page.get_by_role("button", name="Scenario: A fourth clerk all day").click()
    page.get_by_role("menuitem", name="As it is today").click()
    run(page)
    page.get_by_role("link", name="Run", exact=True).click()
    page.get_by_role("row", name="Run 2").wait_for()
    take(page, "run")
    history(page)
    data(page)
    page.get_by_role("link", name="Flow").click()
    page.get_by_role("button", name="Identity desk, step").click()
    page.get_by_role("button", name="Demo analyst").click()
    page.get_by_role("menuitem", name="Night theme").click()
    page.get_by_label("Share of way 1").fill("84")
    page.keyboard.press("Enter")
    page.get_by_text("Add 10 % so that").first.wait_for()
    page.get_by_text("Saved", exact=True).wait_for()
    take(page, "flow-night-problem")
    page.keyboard.press("Escape")
    page.get_by_role("button", name="Undo: Identity desk").click()
    page.get_by_text("Saved", exact=True).wait_for()


def data(page: Page) -> None:
    """Look at what the log of the kiosk says beside the study, and beside its run."""
    page.get_by_role("link", name="Data").click()
    page.get_by_role("button", name="4. Take").click()
    page.get_by_role("button", name="Cashier how long work takes").click()
    page.get_by_role("img", name="Times at equal shares").wait_for()
    take(page, "data-take")
    page.get_by_role("button", name="5. Check").click()
    page.get_by_role("region", name="Log beside simulated").wait_for()
    take(page, "data-check")


def model(page: Page) -> None:
    """Look at how a larger study is modelled: its map, its table, its demand."""
    page.get_by_role("link", name="All studies").click()
    page.locator("tr:nth-child(3) td svg").wait_for()
    take(page, "studies")
    page.get_by_role("link", name="Animal clinic on Tern Street", exact=True).click()
    page.get_by_role("button", name="Consultation, step").click()
    page.get_by_role("region", name="Pulse").get_by_text("Wait, mean").wait_for()
    take(page, "flow-clinic")
    page.get_by_role("link", name="Teams").click()
    page.get_by_role("region", name="Nurses").get_by_role("button", name="2 people").focus()
    page.get_by_role("img", name="Nurses: people there").wait_for()
    take(page, "teams")
    page.get_by_role("button", name="Who does what").click()
    page.get_by_role("gridcell", name="At work, of those there, Vets: 0").wait_for()
    take(page, "teams-needs")
    page.get_by_role("link", name="Demand").click()
    page.get_by_role("tab", name="Booked check-ups").click()
    page.get_by_role("img", name="Arrivals of Booked check-ups").wait_for()
    take(page, "demand-appointments")
    page.get_by_role("tab", name="Walk-ins").click()
    page.get_by_role("img", name="Arrivals of Walk-ins").wait_for()
    take(page, "demand-profile")


def compare(page: Page) -> None:
    """Run the scenarios of a study and look at what they are worth."""
    page.get_by_role("link", name="All studies").click()
    page.get_by_role("link", name="Lost property and travel cards by phone", exact=True).click()
    page.get_by_role("link", name="Scenarios", exact=True).click()
    page.get_by_text("people 2 → 3").wait_for()
    take(page, "scenarios")
    page.get_by_role("button", name="Run 3 scenarios").click()
    page.get_by_role("img", name="Wait on the whole way against Cost").wait_for()
    take(page, "compare")


def right_size(page: Page) -> None:
    """Look for the cheapest roster of the study that is open."""
    page.get_by_role("link", name="Right-size").click()
    page.get_by_role("button", name="Search", exact=True).click()
    page.get_by_role("table", name="Proposals").wait_for()
    take(page, "right-size")


def history(page: Page) -> None:
    """Look at the versions of the study that was worked on."""
    page.get_by_role("link", name="History").click()
    page.get_by_role("navigation", name="Versions").get_by_role("button", name="Version 1").last.click()
    page.get_by_role("button", name="Restore version 1").wait_for()
    take(page, "history")


def main() -> None:
    """Take all pictures."""
    FOLDER.mkdir(parents=True, exist_ok=True)
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=FLAGS)
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        page.set_default_timeout(MILLISECONDS)
        walk(page, sys.argv[1])
        page.evaluate("localStorage.clear()")
        page.reload()
        model(page)
        compare(page)
        right_size(page)
        browser.close()


main()
