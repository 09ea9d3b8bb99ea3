"""Modelling: by keyboard alone, with typing errors, with undo, and with two windows."""

import copy
import json
import re
from typing import Any

from django.conf import settings
from playwright.sync_api import Page, expect

from flowcore import read_study
from flowcore.study import written
from tests.browser.conftest import Axe, open_studies, saved, sign_in
from urbanqueue.accounts.models import Person
from urbanqueue.studies.actions import create_study
from urbanqueue.studies.models import Study, Version

DEMO = json.loads((settings.ROOT / "tests" / "flowcore" / "formats" / "2" / "residents-hall.json").read_text())


def document_of(study_id: int) -> dict[str, Any]:
    study = Study.objects.get(pk=study_id)
    document: dict[str, Any] = Version.objects.get(study=study, number=study.version).document
    return document


def open_flow(page: Page, study_id: int) -> None:
    sign_in(page)
    page.goto(f"/studies/{study_id}/flow")
    page.locator(".line-map [role=button]").first.wait_for()


def test_a_flow_from_a_blank_study_with_the_keyboard_alone(page: Page) -> None:
    open_studies(page)
    keys = page.keyboard

    def tab_to(name: str) -> None:
        for _ in range(30):
            keys.press("Tab")
            if name in str(
                page.evaluate("document.activeElement.getAttribute('aria-label') || document.activeElement.textContent")
            ):
                return
        raise AssertionError(f"Tab does not lead to {name}")

    tab_to("New study")
    keys.press("Enter")
    page.get_by_role("button", name="Service, step").wait_for()
    tab_to("Arrivals, stream")
    keys.press("ArrowRight")
    expect(page.get_by_role("button", name="Service, step")).to_be_focused()

    keys.press("r")
    keys.type("Reception")
    keys.press("Enter")
    keys.press("Escape")
    expect(page.get_by_role("button", name="Reception, step")).to_be_focused()
    keys.press("n")
    expect(page.get_by_role("button", name="New step, step")).to_be_focused()
    keys.press("r")
    keys.type("Advice")
    keys.press("Enter")
    tab_to("It takes: least")
    keys.press("Control+a")
    keys.type("1h30")
    expect(page.get_by_text("is above the most likely")).to_be_visible()
    keys.press("Control+a")
    keys.type("90s")
    keys.press("Enter")
    keys.press("Escape")
    expect(page.get_by_role("button", name="Advice, step")).to_be_focused()
    keys.press("ArrowLeft")
    expect(page.get_by_role("button", name="Reception, step")).to_be_focused()
    keys.press("b")
    expect(page.get_by_role("button", name="New step, step")).to_be_focused()
    keys.press("Delete")
    expect(page.get_by_role("button", name="New step, step")).to_have_count(0)
    keys.press("Control+z")
    expect(page.get_by_role("button", name="New step, step")).to_have_count(1)
    keys.press("Control+y")
    expect(page.get_by_role("button", name="New step, step")).to_have_count(0)
    saved(page)
    document = document_of(Study.objects.get().pk)
    assert [(step["name"], [link["to"] for link in step.get("next", [])]) for step in document["steps"]] == [
        ("Reception", ["new-step", "served"]),
        ("Advice", ["served"]),
        ("Served", []),
    ]
    assert document["steps"][1]["work"]["low"] == "90 s"


def test_a_share_too_few_is_told_in_place_and_stops_the_run(page: Page, demo_study: int, axe: Axe) -> None:
    open_flow(page, demo_study)
    page.get_by_role("button", name="Identity desk, step").click()
    share = page.get_by_label("Share of way 1")
    share.fill("84")
    share.press("Enter")
    ways = page.get_by_role("region", name="Where they go")
    expect(ways.get_by_text("90 %", exact=True)).to_be_visible()
    expect(ways.get_by_text("Add 10 % so that they make 100 %.")).to_be_visible()
    saved(page)
    expect(page.get_by_role("button", name="Identity desk, step")).to_have_accessible_name(re.compile("1 to look at"))
    axe("a sheet with a problem")
    page.get_by_role("button", name="Run 4 weeks").click()
    expect(page.get_by_text("It cannot run.")).to_be_visible()
    page.get_by_role("button", name="Undo: Identity desk").click()
    expect(ways.get_by_text("100 %", exact=True)).to_be_visible()
    saved(page)
    assert document_of(demo_study)["steps"] == written(read_study(DEMO))["steps"]


def test_a_duration_without_a_unit_is_refused_at_the_field_and_kept(page: Page, demo_study: int) -> None:
    open_flow(page, demo_study)
    page.get_by_role("button", name="Ticket kiosk, step").click()
    time = page.get_by_label("It takes: time")
    time.fill("5")
    time.press("Enter")
    expect(page.get_by_text("“5” has no unit. Write 5 min, 5 s or 5 h.")).to_be_visible()
    expect(time).to_have_value("5")
    time.fill("1 m 30 s")
    time.press("Enter")
    expect(time).to_have_value("90 s")
    saved(page)
    assert document_of(demo_study)["steps"][0]["work"] == "90 s"


def test_errors_of_a_file_stand_at_their_fields(page: Page, analyst: Person) -> None:
    wrong = copy.deepcopy(DEMO)
    steps = {step["id"]: step for step in wrong["steps"]}
    steps["cashier"]["needs"] = [{"team": "robots"}]
    steps["document-check"]["next"] = [{"to": "document-check"}]
    open_flow(page, create_study(analyst, read_study(wrong)).pk)
    page.get_by_role("button", name="Cashier, step").click()
    expect(page.get_by_role("region", name="Who it needs").get_by_text('There is no team "robots".')).to_be_visible()
    page.get_by_role("button", name="Document check, delay").click()
    expect(page.get_by_role("region", name="Where they go").get_by_text("loop without an exit")).to_be_visible()


def test_a_file_that_cannot_be_read_is_refused_with_places(page: Page) -> None:
    open_studies(page)
    wrong = {**DEMO, "run": {**DEMO["run"], "speed": 9}}
    page.get_by_label("Process, study file or whole folder").set_input_files(
        {"name": "hall.json", "mimeType": "application/json", "buffer": json.dumps(wrong).encode()}
    )
    dialog = page.get_by_role("dialog")
    expect(dialog.get_by_text("run/speed")).to_be_visible()
    expect(dialog.get_by_text("Remove it, or correct its spelling.")).to_be_visible()
    assert not Study.objects.exists()


def test_import_duplicate_export_delete_and_undo(page: Page) -> None:
    open_studies(page)
    page.get_by_label("Process, study file or whole folder").set_input_files(
        {"name": "hall.json", "mimeType": "application/json", "buffer": json.dumps(DEMO).encode()}
    )
    expect(page.get_by_role("dialog").get_by_text("steps")).to_contain_text("Nothing is made of it yet")
    page.get_by_role("button", name="Make a study of it").click()
    page.get_by_role("button", name="Counter, step").wait_for()
    page.get_by_role("link", name="All studies").click()
    more = page.get_by_role("button", name="More for Residents' hall", exact=True)
    more.click()
    with page.expect_download() as download:
        page.get_by_role("menuitem", name="Export the study file").click()
    assert read_study(json.loads(download.value.path().read_text())) == read_study(DEMO)
    more.click()
    page.get_by_role("menuitem", name="Duplicate").click()
    page.get_by_role("link", name="Residents' hall (copy)").wait_for()
    more.click()
    page.get_by_role("menuitem", name="Delete").click()
    expect(page.get_by_role("link", name="Residents' hall", exact=True)).to_have_count(0)
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_role("link", name="Residents' hall", exact=True)).to_have_count(1)


def test_two_windows_lose_nothing(page: Page, demo_study: int) -> None:
    open_flow(page, demo_study)
    other = page.context.new_page()
    other.goto(f"/studies/{demo_study}/flow")
    other.locator(".line-map [role=button]").first.wait_for()
    for window, name in ((page, "Hall one"), (other, "Hall two")):
        title = window.get_by_label("Name of the study")
        title.fill(name)
        title.press("Enter")
        if window is page:
            saved(page)
    dialog = other.get_by_role("dialog")
    expect(dialog.get_by_role("region", name="What they changed")).to_contain_text("Hall one")
    expect(dialog.get_by_role("region", name="What you changed")).to_contain_text("Hall two")
    dialog.get_by_role("button", name="Keep mine as a study of its own").click()
    expect(other.get_by_label("Name of the study")).to_have_value("Hall one")
    saved(other)
    assert set(Study.objects.values_list("name", flat=True)) == {"Hall one", "Hall two (mine)"}


def test_what_was_typed_outlives_a_lost_server(page: Page, demo_study: int) -> None:
    open_flow(page, demo_study)
    page.route("**/document", lambda route: route.abort())
    title = page.get_by_label("Name of the study")
    title.fill("Typed in a tunnel")
    title.press("Enter")
    page.get_by_text("Kept here, trying again").wait_for()
    page.unroute("**/document")
    page.reload()
    expect(page.get_by_label("Name of the study")).to_have_value("Typed in a tunnel")
    saved(page)
    assert Study.objects.get(pk=demo_study).name == "Typed in a tunnel"


def test_the_page_says_that_the_server_is_away_and_goes_on_by_itself(page: Page, demo_study: int) -> None:
    open_flow(page, demo_study)
    away = {"status": 503, "json": {"problems": [{"where": "x", "what": "Away.", "mend": "Wait.", "level": "error"}]}}
    page.route("**/api/**", lambda route: route.fulfill(**away))
    page.get_by_role("link", name="Run", exact=True).click()
    page.get_by_role("status").get_by_text("The server does not answer just now").wait_for()
    title = page.get_by_label("Name of the study")
    title.fill("Typed while it was away")
    title.press("Enter")
    page.get_by_text("kept here, trying again").wait_for()
    page.unroute("**/api/**")
    saved(page)
    page.get_by_text("There is no run yet").wait_for()
    expect(page.get_by_role("status").get_by_text("The server does not answer just now")).to_have_count(0)
    assert Study.objects.get(pk=demo_study).name == "Typed while it was away"


def test_what_was_deleted_is_listed_until_it_is_gone_for_good(page: Page, demo_study: int, axe: Axe) -> None:
    open_studies(page)
    page.get_by_label("More for Residents' hall").click()
    page.get_by_role("menuitem", name="Delete").click()
    page.get_by_text("Deleted studies, kept for 30 days").click()
    page.get_by_text("gone for good on").wait_for()
    axe("studies with a deleted one")
    page.get_by_role("button", name="Restore Residents' hall").click()
    page.get_by_role("link", name="Residents' hall").wait_for()
    expect(page.get_by_text("Deleted studies")).to_have_count(0)
    assert Study.objects.get(pk=demo_study).deleted_at is None


def test_what_is_being_typed_outlives_a_reload(page: Page, demo_study: int) -> None:
    open_flow(page, demo_study)
    page.get_by_role("region", name="Pulse").get_by_role("button", name="Clerks").click()
    page.get_by_label("How many they are").fill("7")
    page.reload()
    page.get_by_role("region", name="Pulse").get_by_role("button", name="Clerks").click()
    expect(page.get_by_label("How many they are")).to_have_value("7")
    saved(page)
    assert document_of(demo_study)["teams"][1]["size"] == 7


def test_three_hundred_steps_on_a_narrow_window(page: Page, analyst: Person) -> None:
    steps = [
        {
            "id": f"s{n}",
            "name": f"Step number {n}",
            "kind": "serve",
            "work": "1 min",
            "needs": [{"team": "staff"}],
            "next": [{"to": f"s{n + 1}", "share": 0.9}, {"to": f"s{min(n + 7, 299)}", "share": 0.1}]
            if n < 298
            else [{"to": f"s{n + 1}" if n < 299 else "out"}],
        }
        for n in range(300)
    ]
    document = {**DEMO, "steps": [*steps, {"id": "out", "name": "Out", "kind": "exit"}]}
    document["streams"] = [{**DEMO["streams"][0], "to": "s0"}]
    document["teams"] = [{"id": "staff", "name": "Staff", "size": 400}]
    page.set_viewport_size({"width": 1024, "height": 768})
    open_flow(page, create_study(analyst, read_study(document)).pk)
    page.keyboard.press("Control+k")
    page.keyboard.type("Step number 150")
    page.get_by_role("option", name="Step number 150").first.wait_for()
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", name="Step number 150")).to_be_visible()
    expect(page.locator(".line-map").get_by_text("Step number", exact=False).first).to_be_visible()
    assert page.evaluate("document.documentElement.scrollWidth <= innerWidth")
