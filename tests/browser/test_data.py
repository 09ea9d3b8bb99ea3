"""From a log to a study that fits it: brought, read, looked at, a flow and values taken, held against a run."""

import re
from pathlib import Path

import pytest
from django.conf import settings
from playwright.sync_api import Page, Route, expect

from stand_ins import kiosk
from tests.browser.conftest import Axe, open_studies, saved, sign_in
from urbanqueue.logs.models import LogFile
from urbanqueue.studies.actions import current_version, document_of
from urbanqueue.studies.models import Study

HALL = settings.ROOT / "tests" / "flowcore" / "formats" / "2" / "residents-hall.json"


@pytest.fixture(scope="module")
def log(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """The log of the kiosk of the residents' hall, with rows that are there twice, or lack their end."""
    path: Path = tmp_path_factory.mktemp("kiosk") / "kiosk.csv"
    quirks = ["--twice", "0.02", "--missing", "0.02", "--length", "3 wk"]
    assert kiosk.main(["--study", str(HALL), "--out", str(path), *quirks]) == 0
    return path


def bring(page: Page, file: Path) -> None:
    page.get_by_label("A log file", exact=True).set_input_files(file)


def read(page: Page, file: Path) -> None:
    bring(page, file)
    page.get_by_role("button", name="Read the log").press("Enter")
    page.get_by_role("region", name="Steps", exact=True).wait_for()


def document(study_id: int):
    return document_of(current_version(Study.objects.get(pk=study_id)))


def test_from_a_log_to_a_study_that_fits_it(page: Page, worker: None, axe: Axe, log: Path) -> None:
    open_studies(page)
    page.get_by_role("button", name="New study").click()
    page.wait_for_url("**/flow")
    page.get_by_role("link", name="Data").press("Enter")
    page.get_by_role("button", name="Choose a file").wait_for()
    axe("no log yet")
    bring(page, log)
    page.get_by_label("What Printed stands for").wait_for()
    expect(page.get_by_label("What Errand stands for")).to_have_text("the case type")
    expect(page.get_by_label("What Called stands for")).to_have_text("when work began")
    expect(page.get_by_label("How Called is written")).to_have_text("day, month, year")
    expect(page.get_by_role("button", name="4. Take")).to_be_disabled()
    axe("the columns of a log")
    page.get_by_role("button", name="Read the log").press("Enter")
    page.get_by_role("region", name="Steps", exact=True).wait_for()
    expect(page.get_by_role("main")).to_contain_text(re.compile(r"\d,\d+ cases made \d+,\d+ visits to 5 steps"))
    expect(page.get_by_role("region", name="What is doubtful")).to_contain_text("are told twice")
    axe("a log at a glance")

    page.get_by_role("button", name="3. A flow").press("Enter")
    page.get_by_role("button", name="Take this flow").wait_for()
    expect(page.get_by_role("main")).to_contain_text(re.compile(r"covers 9\d\.\d %, with 5 steps"))
    axe("the flow of a log")
    page.get_by_role("button", name="Take this flow").press("Enter")
    page.wait_for_url("**/flow")
    saved(page)
    study_id = int(re.search(r"studies/(\d+)", page.url)[1])
    drafted = document(study_id)
    assert {step.name for step in drafted.steps} == {
        "Greeter", "Counter", "Cashier", "Photo booth", "Identity desk", "Leaves"
    }  # fmt: skip
    assert drafted.sources["/streams/arrivals/week"].file == "kiosk.csv"

    page.get_by_role("button", name=re.compile("^Run .* × ")).click()
    page.wait_for_url("**/findings/**")
    page.get_by_role("link", name="Data").press("Enter")
    page.get_by_role("button", name="5. Check").press("Enter")
    page.get_by_role("region", name="Log beside simulated").wait_for()
    fitting = re.search(r"(\d+) of (\d+) figures fit", page.get_by_role("main").inner_text())
    assert int(fitting[1]) / int(fitting[2]) >= 0.8
    axe("a log beside what was simulated")
    page.get_by_role("button", name="Keep these figures").press("Enter")
    saved(page)
    known = {each.figure: each for each in document(study_id).observed}
    assert known["step/counter/wait/p90"].source.startswith("kiosk.csv")
    page.set_viewport_size({"width": 1024, "height": 800})
    page.evaluate("document.documentElement.dataset.theme = 'night'")
    page.get_by_role("button", name="4. Take").press("Enter")
    page.get_by_role("button", name="Take all").wait_for()
    axe("what a log says beside the study, by night in a narrow window")
    assert page.evaluate("document.scrollingElement.scrollWidth <= innerWidth")


def test_a_value_is_taken_known_by_its_source_and_forgotten_with_it(
    page: Page, demo_study: int, worker: None, axe: Axe, log: Path
) -> None:
    sign_in(page)
    page.goto(f"/studies/{demo_study}/data")
    read(page, log)
    before = document(demo_study)
    page.get_by_role("button", name="4. Take").press("Enter")
    page.get_by_role("button", name=re.compile("^Cashier how long work takes")).press("Enter")
    rests = page.get_by_role("complementary", name="What it rests on")
    expect(rests).to_contain_text(re.compile(r"\d,\d+ times, .* min on average"))
    rests.get_by_role("img", name="The times of the log with the shape that would be taken").wait_for()
    rests.get_by_role("img", name="Times at equal shares, by the shape and as seen").wait_for()
    axe("what a value rests on")
    rests.get_by_role("radio", name=re.compile("^gamma")).check()
    rests.get_by_role("button", name="Take it").press("Enter")
    expect(page.get_by_role("row", name=re.compile("^Cashier how long work takes"))).to_contain_text("taken from here")
    saved(page)
    after = document(demo_study)
    assert after.step("cashier").work.dist == "gamma"
    assert after.sources["/steps/cashier/work"].method == "gamma by maximum likelihood"
    page.goto(f"/studies/{demo_study}/flow?at=steps/cashier/work")
    mark = page.get_by_role("button", name=re.compile(r"Taken from kiosk\.csv, [\d,]+ rows, on .*: gamma by maximum"))
    mark.wait_for()
    work = page.locator('[data-at="steps/cashier/work/mean"]')
    work.fill("5 min")
    work.press("Enter")
    expect(mark).to_have_count(0)
    saved(page)
    assert document(demo_study).sources == {}
    page.get_by_role("button", name=re.compile("^Undo")).press("Enter")
    mark.wait_for()

    page.goto(f"/studies/{demo_study}/data?stage=take")
    page.get_by_label("What Counter stands for").press("Enter")
    page.get_by_role("option", name="nothing in the study").press("Enter")
    expect(page.get_by_role("row", name=re.compile("^Counter how long"))).to_have_count(0)
    page.get_by_role("button", name=re.compile("^Take all")).press("Enter")
    saved(page)
    taken = document(demo_study)
    assert taken.step("counter").work == before.step("counter").work
    assert len(taken.sources) >= 6
    page.get_by_role("button", name=re.compile("^Undo: Take .* values")).press("Enter")
    saved(page)
    assert set(document(demo_study).sources) == {"/steps/cashier/work"}


def test_an_answer_that_comes_late_does_not_undo_what_came_since(
    page: Page, demo_study: int, worker: None, tmp_path: Path
) -> None:
    sign_in(page)
    page.goto(f"/studies/{demo_study}/data")
    late: list[Route] = []

    def hold(route: Route) -> None:
        if late:
            route.continue_()
        else:
            late.append(route)

    page.route(re.compile(r"/api/logs/\d+$"), hold)
    log = tmp_path / "desk.csv"
    rows = [f"A{n},Counter,2027-03-01 09:{n:02}:00,2027-03-01 09:{n + 6:02}:00" for n in range(40)]
    log.write_text("\n".join(["Ticket,Service,Start,End", *rows]) + "\n")
    bring(page, log)
    page.get_by_role("button", name="Read the log").wait_for()
    before = page.request.get(f"/api/logs/{LogFile.objects.get().pk}").text()
    page.get_by_role("button", name="Read the log").press("Enter")
    page.get_by_role("button", name="Read the log").wait_for(state="hidden")
    late[0].fulfill(body=before, content_type="application/json")
    page.get_by_role("region", name="Steps", exact=True).wait_for()


def test_what_cannot_be_read_is_said_line_by_line_and_doubts_are_treated(
    page: Page, demo_study: int, worker: None, tmp_path: Path
) -> None:
    sign_in(page)
    page.goto(f"/studies/{demo_study}/data")
    broken = tmp_path / "old.xls"
    broken.write_bytes(b"\xd0\xcf\x11\xe0 an old workbook")
    bring(page, broken)
    expect(page.get_by_role("main")).to_contain_text("XLSX")
    assert not LogFile.objects.exists()
    days = [(f"2027-03-{1 + n // 40:02}", n % 40) for n in range(200)]
    rows = [f"A{n},Counter,{day} 09:{at:02}:00,{day} 09:{at + 6:02}:00" for n, (day, at) in enumerate(days)]
    log = tmp_path / "desk.csv"
    log.write_text("\n".join(["Ticket,Service,Start,End", *rows, rows[7], "A900,Counter,yesterday,today"]) + "\n")
    read(page, log)
    expect(page.get_by_role("main")).to_contain_text("1 row could not be read")
    expect(page.get_by_role("table", name="Rows that could not be read")).to_contain_text("line 203")
    doubts = page.get_by_role("region", name="What is doubtful")
    expect(doubts).to_contain_text("1 visit")
    expect(page.get_by_role("main")).to_contain_text("200 cases made 200 visits")
    doubts.get_by_label(re.compile("What is done: .*twice")).press("Enter")
    page.get_by_role("option", name="keep them").press("Enter")
    expect(page.get_by_role("main")).to_contain_text("200 cases made 201 visits")
    page.reload()
    expect(page.get_by_label(re.compile("What is done: .*twice"))).to_have_text("keep them")
    page.get_by_role("button", name="1. Columns").press("Enter")
    page.get_by_label("What Service stands for").press("Enter")
    page.get_by_role("option", name="left out").press("Enter")
    page.get_by_label("What Ticket stands for").press("Enter")
    page.get_by_role("option", name="left out").press("Enter")
    page.get_by_role("button", name="Read it again").press("Enter")
    expect(page.get_by_role("main")).to_contain_text("No column says which case a row is about.")
    page.get_by_role("button", name="Delete desk.csv").press("Enter")
    page.get_by_role("button", name="Delete", exact=True).press("Enter")
    page.get_by_role("button", name="Choose a file").wait_for()
    assert not LogFile.objects.exists()
