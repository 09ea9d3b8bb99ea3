"""A process drawn elsewhere: what it is, and what it does not say, is seen before a study is made of it."""

from pathlib import Path

from lxml import etree
from playwright.sync_api import Page, expect

from flowcore.study import written
from tests.browser.conftest import Axe, open_studies, saved
from tests.flowcore.exchange.drawn_elsewhere import x
from tests.flowcore.exchange.files import file, flows
from tests.urbanqueue.test_logs import LOG
from urbanqueue.logs.actions import bring_log
from urbanqueue.runs.actions import runs_of
from urbanqueue.runs.models import Part
from urbanqueue.studies.actions import current_version, document_of
from urbanqueue.studies.models import Study

STALLS = Path("demo/stall-permits.bpmn")
EDGE = x("boundaryEvent", x("errorEventDefinition"), id="B", name="Lost", attachedToRef="A")
BODY = x("startEvent", id="S", name="Comes") + x("userTask", id="A", name="Look at it") + EDGE + x("endEvent", id="E")
UNSAID = file(BODY + flows("S A", "A E", "B E"))


def choose(page: Page, name: str, content: bytes) -> None:
    chosen = {"name": name, "mimeType": "application/xml", "buffer": content}
    page.get_by_label("Process, study file or whole folder").set_input_files(chosen)  # type: ignore[arg-type]


def test_what_is_missing_is_asked_for_in_one_list(page: Page, axe: Axe) -> None:
    open_studies(page)
    choose(page, "looks.bpmn", UNSAID)
    dialog = page.get_by_role("dialog")
    expect(dialog).to_contain_text("1 task, 3 events, 3 sequence flows and 1 scenario with parameters")
    lost = dialog.get_by_role("region", name="What cannot be kept as it was drawn")
    expect(lost.get_by_role("row", name="Lost")).to_contain_text(
        "It happens to a share of the cases when that is over."
    )
    axe("a process before it is made")
    assert not Study.objects.exists()
    asked = dialog.get_by_role("region", name="What the file does not say")
    expect(asked.get_by_role("row")).to_have_count(3)
    asked.get_by_label("Look at it: How long does it take?").fill("25 min")
    page.keyboard.press("Enter")
    asked.get_by_label("Lost: How often does this happen?").fill("20")
    page.keyboard.press("Enter")
    asked.get_by_label("Comes: How far apart do cases come?").fill("soon")
    page.keyboard.press("Enter")
    expect(asked.get_by_role("alert")).to_contain_text("duration")
    asked.get_by_label("Comes: How far apart do cases come?").fill("30 min")
    page.keyboard.press("Enter")
    page.get_by_role("button", name="Make a study of it").press("Enter")
    page.get_by_role("button", name="Look at it, step").wait_for()
    document = document_of(current_version(Study.objects.get()))
    steps = {step["kind"]: step for step in written(document)["steps"]}
    assert steps["serve"]["work"] == "25 min"
    assert [link["share"] for link in steps["choose"]["next"]] == [0.2, 0.8]


def test_a_process_comes_in_runs_and_goes_out_in_its_drawing(page: Page, axe: Axe) -> None:
    open_studies(page)
    choose(page, STALLS.name, STALLS.read_bytes())
    page.get_by_role("button", name="Make a study of it").click()
    page.get_by_role("button", name="Examine the pitch, step").wait_for()
    expect(page.get_by_text("Drawn in stall-permits.bpmn")).to_be_visible()
    axe("the map of a process with two participants")
    page.get_by_role("link", name="All studies").click()
    page.get_by_role("button", name="More for Stall permits", exact=True).click()
    page.get_by_role("menuitem", name="Export as a process").click()
    expect(page.get_by_role("dialog")).to_contain_text("All of the study is in the file.")
    axe("a process before it is saved")
    with page.expect_download() as download:
        page.get_by_role("button", name="Save the file").click()
    sent, kept = (etree.parse(path) for path in (download.value.path(), STALLS))
    ids = [[each.get("bpmnElement") for each in tree.iter("{*}BPMNShape")] for tree in (sent, kept)]
    assert ids[0] == ids[1]


def test_a_drawing_can_be_forgotten_and_brought_back(page: Page) -> None:
    open_studies(page)
    choose(page, STALLS.name, STALLS.read_bytes())
    page.get_by_role("button", name="Make a study of it").click()
    page.get_by_role("button", name="Forget the drawing").click()
    saved(page)
    assert document_of(current_version(Study.objects.get())).drawing is None
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_text("Drawn in stall-permits.bpmn")).to_be_visible()


def test_what_is_no_process_is_refused(page: Page) -> None:
    open_studies(page)
    choose(page, "page.xml", b"<html/>")
    dialog = page.get_by_role("dialog")
    expect(dialog).to_contain_text("page.xml could not be imported")
    expect(dialog).to_contain_text("no BPMN 2.0")
    page.keyboard.press("Escape")
    expect(dialog).to_have_count(0)
    assert not Study.objects.exists()


def test_everything_is_passed_on_and_opened_by_the_keyboard_alone(page: Page, part: Part, axe: Axe) -> None:
    bring_log(part.run.version.study, part.run.version.study.owner, "kiosk.csv", [LOG.encode()])
    open_studies(page)
    page.get_by_role("button", name="More for Residents' hall", exact=True).press("Enter")
    page.get_by_role("menuitem", name="Export the whole folder").press("Enter")
    dialog = page.get_by_role("dialog")
    expect(dialog.get_by_role("region", name="Logs in the folder")).to_contain_text("kiosk.csv")
    axe("what is in a whole folder")
    with page.expect_download() as download:
        page.get_by_role("button", name="Save the folder").press("Enter")
    assert download.value.suggested_filename == "residents-hall.zip"
    choose(page, "residents-hall.zip", download.value.path().read_bytes())
    expect(dialog).to_contain_text("1 version, 1 run and 1 log. Nothing is made of it yet.")
    axe("a whole folder before a study is made of it")
    assert Study.objects.count() == 1
    page.get_by_role("button", name="Make a study of it").press("Enter")
    page.get_by_role("button", name="Counter, step").wait_for()
    made = Study.objects.exclude(pk=part.run.version.study_id).get()
    assert [run.number for run in runs_of(made)] == [part.run.number]
    assert [log.name for log in made.logs.all()] == ["kiosk.csv"]


def test_a_zip_of_something_else_is_refused(page: Page) -> None:
    open_studies(page)
    choose(page, "holiday.zip", b"PK and then nothing of a zip")
    dialog = page.get_by_role("dialog")
    expect(dialog).to_contain_text("holiday.zip could not be imported")
    expect(dialog).to_contain_text("It cannot be unpacked")
