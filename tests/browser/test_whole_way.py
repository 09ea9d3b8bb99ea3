"""From signing in to a verdict, as an analyst goes it."""

import re

from playwright.sync_api import Page, expect

from tests.browser.conftest import Axe, open_studies, saved, sign_in
from urbanqueue.studies.management.commands.load_demo import EMAIL, PASSWORD


def test_from_sign_in_to_a_verdict(page: Page, demo_study: int, worker: None, axe: Axe) -> None:
    page.goto("/")
    page.get_by_label("Password").wait_for()
    axe("sign-in")
    page.get_by_label("E-mail address").fill(EMAIL)
    page.get_by_label("Password").fill(PASSWORD)
    page.keyboard.press("Enter")
    page.get_by_role("heading", name="Studies").wait_for()
    axe("the list of studies")
    page.get_by_role("link", name="Residents' hall").click()
    counter = page.get_by_role("button", name="Counter, step")
    counter.wait_for()
    axe("the flow with nothing selected")

    page.get_by_role("button", name="Run 4 weeks × 30").click()
    page.get_by_role("progressbar", name="Run 1").wait_for()
    page.get_by_role("heading", name="Half of the cases wait under").wait_for()
    expect(page.get_by_role("main")).to_contain_text("Most waiting in line is at Counter")
    expect(page.get_by_text("30 replications of 4 wk")).to_be_visible()
    expect(page.get_by_role("row", name="Clerks").first).to_contain_text("89 %")
    axe("the findings")

    page.get_by_role("link", name="Flow").click()
    counter.click()
    axe("the sheet of a step")
    page.get_by_role("button", name="Open the team").click()
    people = page.get_by_label("How many they are")
    people.fill("4")
    people.press("Enter")
    saved(page)
    expect(page.get_by_role("button", name="Undo: Clerks: size 3 → 4")).to_be_visible()
    page.get_by_role("button", name="Run 4 weeks × 30").click()
    page.get_by_role("heading", name="Half of the cases wait under").wait_for()
    expect(page.get_by_role("row", name="Clerks").first).to_contain_text("66 %")

    page.get_by_role("link", name="Compare").click()
    page.get_by_role("heading", name="“As it is today, run 2” takes").wait_for()
    expect(page.get_by_role("row", name="Wait at Counter")).to_contain_text("better")
    expect(page.get_by_role("row", name="Cost EUR a day")).to_contain_text("worse")
    expect(page.get_by_role("row", name="Wait at Greeter")).to_contain_text("same")
    expect(page.get_by_role("complementary", name="What it buys")).to_contain_text("Clerks size 3 → 4")
    axe("the comparison")

    page.get_by_role("link", name="Run", exact=True).click()
    expect(page.get_by_role("row", name="Run 2")).to_contain_text("done")
    axe("the runs")

    page.goto("/")
    row = page.get_by_role("row", name="Residents' hall")
    expect(row).to_contain_text("Half of the cases wait under")
    expect(row).not_to_contain_text("Found with version", timeout=1000)
    axe("the list of studies with a finding")


def test_a_run_is_read_while_it_goes_on_and_stopped_when_that_is_enough(
    page: Page, demo_study: int, worker: None, axe: Axe
) -> None:
    sign_in(page)
    page.goto(f"/studies/{demo_study}/run")
    times = page.get_by_label("Replications")
    times.fill("5000")
    times.press("Enter")
    saved(page)
    estimate = page.get_by_text("Takes about")
    expect(estimate).to_be_visible()
    page.get_by_role("button", name="Run it").click()
    expect(page.get_by_text(re.compile(r"^[1-9]\d* of 5000 replications$"))).to_be_visible()
    expect(estimate).to_have_count(0)
    page.get_by_role("link", name="What it says so far").press("Enter")
    going = page.get_by_role("region", name="The run goes on")
    narrowing = going.get_by_role("img", name=re.compile("the interval went from .* to"))
    expect(narrowing).to_have_count(3)
    before = narrowing.first.get_attribute("aria-label")
    expect(narrowing.first).not_to_have_attribute("aria-label", before or "")
    axe("the findings of a run that goes on")
    going.get_by_role("button", name="Sure enough: stop here").press("Enter")
    expect(page.get_by_text("Stopped after")).to_be_visible()
    expect(going).to_have_count(0)
    page.get_by_role("link", name="Run", exact=True).press("Enter")
    expect(page.get_by_role("row", name="Run 1")).to_contain_text("stopped")
    expect(estimate).to_be_visible()


def test_the_night_theme_is_legible(page: Page, demo_study: int, axe: Axe) -> None:
    open_studies(page)
    page.get_by_role("button", name="Demo analyst").click()
    page.get_by_role("menuitem", name="Night theme").click()
    axe("the list of studies by night")
    page.goto(f"/studies/{demo_study}/flow")
    page.get_by_role("button", name="Counter, step").click()
    axe("the flow by night")
