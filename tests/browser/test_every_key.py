"""Every key of the study file can be set, changed and cleared by hand, but for those that are named here."""

import json
import re
from collections.abc import Iterator
from typing import Any

import pytest
from playwright.sync_api import Locator, Page, expect
from pydantic import BaseModel

from flowcore import read_study
from flowcore.problems import StudyError
from flowcore.study import StudyDocument
from tests.browser.conftest import saved, sign_in
from tests.browser.everything import everything
from urbanqueue.accounts.models import Person
from urbanqueue.studies.actions import create_study
from urbanqueue.studies.models import Study, Version

ROOTS = (
    "calendars", "case_types", "traits", "streams", "steps", "teams", "skills", "deadlines", "spans", "site/places",
    "sizing",
)  # fmt: skip
MADE = {"id": "ids are made by the interface and never typed"}
ELSEWHERE = {
    ("ProfileStream", "week"): "typed into the grid of the Demand screen",
    ("DateStream", "arrivals"): "read from a file on the Demand screen",
    ("MixPart", "type"): "changed by giving another type the share",
    ("Target", "figure"): "changed by taking another figure",
    ("DatedArrival", "at"): "read from a file on the Demand screen",
    ("DatedArrival", "type"): "read from a file on the Demand screen",
    ("DatedArrival", "traits"): "read from a file on the Demand screen",
}
ON_OTHER_SCREENS = {
    ("StudyDocument", "name"): "the sheet of the study",
    ("StudyDocument", "start"): "the sheet of the study",
    ("StudyDocument", "currency"): "the sheet of the study",
    ("RunSettings", "length"): "the Run screen",
    ("RunSettings", "warm_up"): "the Run screen",
    ("RunSettings", "replications"): "the Run screen",
    ("RunSettings", "confidence"): "the Run screen",
    ("RunSettings", "seed"): "the Run screen",
    ("RunSettings", "doors"): "the closing time on the Teams screen",
    ("RunSettings", "interval"): "the targets on the Right-size screen",
    ("RunSettings", "until"): "the closing time on the Teams screen, and the Run screen",
    ("RunSettings", "precision"): "the Run screen",
    ("Precision", "figure"): "the Run screen",
    ("Precision", "within"): "the Run screen",
    ("Precision", "at_most"): "the Run screen",
    **{("Scenario", key): "the Scenarios screen" for key in ("id", "name", "about", "levers")},
    ("Scenario", "changes"): "every screen, while it is chosen",
    **{("PatchStep", key): "every screen, while a scenario is chosen" for key in ("op", "path", "value", "from")},
    **{("Lever", key): "the Scenarios screen" for key in ("id", "name", "values", "low", "high", "step")},
    ("Lever", "sets"): "beside each value of a sheet",
    ("Lever", "scales"): "the Scenarios screen, for all arrivals",
    **{("Observed", key): "the Findings screen" for key in ("figure", "value", "per", "low", "high", "source")},
    **{("OwnMeasure", key): "the Findings screen" for key in ("id", "name", "share", "count", "time", "level")},
    **{(part, key): "the Findings screen" for part in ("ShareOf", "CountOf") for key in ("of", "where")},
    **{("TimeBetween", key): "the Findings screen" for key in ("from", "to")},
    **{("LevelOf", key): "the Findings screen" for key in ("of", "where", "statistic")},
    **{("Source", key): "the Data screen, where values are taken" for key in ("file", "rows", "date", "method")},
    **{("Drawing", key): "the file that is imported" for key in ("file", "lines", "answers")},
    ("Until", "completed"): "the closing time on the Teams screen",
    ("Until", "empty"): "the closing time on the Teams screen",
}
WITHOUT_AN_EDITOR = {
    "StudyDocument": {"about"},
    "Site": {"distance", "pairs", "walking_speed"},
    "Pair": {"from", "to", "metres"},
}  # fmt: skip
"""What is written in the study file alone, until its screen is built."""
BESIDE = (
    "format",
    "site",
    "run",
    "measures",
    "targets",
    "observed",
    "board",
    "levers",
    "scenarios",
    "sources",
    "drawing",
)
HOLDERS = {"StudyDocument": {*BESIDE, *ROOTS}, "Site": {"places"}}
"""What only holds other parts, or is written by itself."""
KINDS = re.compile("Serve|Delay|Signal|Choose|Fork|Join|Gather|Scatter|SetTraits|Exit")


def plain_name(model: BaseModel) -> str:
    return re.sub(r"[^A-Za-z0-9]", "_", type(model).__name__)


def owner(model: str, key: str) -> str:
    """Return the model that a key is told of: where a step happens is told once for all kinds."""
    return "Step" if key in ("places", "pick_place") and KINDS.fullmatch(model) else model


def keys_used(model: BaseModel, at: str) -> Iterator[tuple[str, str, str, Any]]:
    """Yield every key that is set in a part of a study: its model's name, itself, its address and its field."""
    for name, field in type(model).model_fields.items():
        if name not in model.model_fields_set:
            continue
        key = field.alias or name
        address = f"{at}/{key}"
        yield owner(plain_name(model), key), key, address, field
        yield from inside(getattr(model, name), address)


def inside(value: Any, at: str) -> Iterator[tuple[str, str, str, Any]]:
    if isinstance(value, BaseModel):
        yield from keys_used(value, at)
    elif isinstance(value, list):
        for place, each in enumerate(value):
            yield from inside(each, f"{at}/{place}")
    elif isinstance(value, dict):
        for key, each in value.items():
            yield from inside(each, f"{at}/{key}")


def keys_of_schema() -> set[tuple[str, str]]:
    """Return every key of every part of a study, by the published schema; of what only holds others, none."""
    schema = StudyDocument.model_json_schema(by_alias=True)
    parts = {"StudyDocument": schema, **schema["$defs"]}
    named = [(re.sub(r"[^A-Za-z0-9]", "_", name), part.get("properties", {})) for name, part in parts.items()]
    keys = {(owner(model, key), key) for model, keys in named for key in keys}
    return {(model, key) for model, key in keys if key not in HOLDERS.get(model, ())}


def elements(study: StudyDocument) -> Iterator[tuple[str, BaseModel]]:
    for root in ROOTS:
        for element in study.site.places if root == "site/places" else getattr(study, root):
            yield f"{root}/{element.id}", element


STUDY = read_study(everything())
ALL_USED = [(at, *each) for at, element in elements(STUDY) for each in keys_used(element, at)]
USED = list(
    {(model, key): (at, model, key, address, field) for at, model, key, address, field in ALL_USED[::-1]}.values()
)


def test_the_study_uses_every_key_of_the_schema() -> None:
    used = {(model, key) for _, model, key, _, _ in USED}
    without = {(model, key) for model, keys in WITHOUT_AN_EDITOR.items() for key in keys}
    missing = keys_of_schema() - used - without - set(ON_OTHER_SCREENS)
    assert missing == set(), "a key without a place in everything(), and so without a proof that it can be edited"
    assert (without | set(ON_OTHER_SCREENS)) <= keys_of_schema() - used, "what is named here is a key, and has no proof"


def value_at(document: Any, address: str) -> Any:
    """Return what stands at an address of a document, or None."""
    here = document
    for part in address.split("/"):
        if isinstance(here, list):
            named = [each for each in here if isinstance(each, dict) and each.get("id") == part]
            here = named[0] if named else here[int(part)] if part.isdecimal() and int(part) < len(here) else None
        else:
            here = here.get(part) if isinstance(here, dict) else None
    return here


class Editor:
    """The sheet of one element, with the document as it stands in the browser."""

    def __init__(self, page: Page, study_id: int) -> None:
        self.page = page
        self.study_id = study_id
        self.sheet = page.locator("aside[aria-label=Sheet]")
        self.last_edit = page.locator("header button[aria-label^='Undo:']")

    def show(self, at: str) -> None:
        address = f"/studies/{self.study_id}/{screen_of(at)}"
        if f"/studies/{self.study_id}/" not in self.page.url:
            self.page.goto(address)
        go = "(to) => { history.pushState({}, '', to); dispatchEvent(new PopStateEvent('popstate')); }"
        self.page.evaluate(go, address)
        self.field("data-at", f"{at}/name").wait_for()
        folded = self.sheet.locator("button[data-fold][aria-expanded=false]")
        while folded.count():
            folded.first.click()

    def document(self) -> Any:
        draft = self.page.evaluate(f"localStorage.getItem('urban-queue-draft-{self.study_id}')")
        return json.loads(draft)["document"] if draft else everything()

    def undo(self) -> None:
        self.last_edit.evaluate("each => each.click()")

    def field(self, attribute: str, address: str) -> Locator:
        return self.sheet.locator(f'[{attribute}="{address}"]')

    def change(self, address: str) -> bool:
        """Give what stands at an address another value; say whether it can be done."""
        field = self.field("data-at", address)
        if field.count() == 0:
            field = self.sheet.locator(f'[data-at^="{address}/"]')
        if field.count() == 0:
            return False
        control = field.first
        before = value_at(self.document(), address)
        tag = control.evaluate("each => each.tagName")
        if tag == "INPUT":
            control.fill(another(control.input_value()))
            control.press("Enter")
        elif control.get_attribute("role") == "combobox":
            self.choose(control, address, lambda now: now != before)
        else:
            inner = control.locator("button[aria-pressed=false], input").first
            if inner.evaluate("each => each.tagName") == "INPUT":
                inner.fill(another(inner.input_value()))
                inner.press("Enter")
            else:
                inner.click()
        return bool(value_at(self.document(), address) != before)

    def choose(self, control: Locator, address: str, fits: Any) -> bool:
        """Pick options, one after the other, until what stands there is as wanted."""
        others = self.page.locator('[role="option"]:not([data-state="checked"])')
        tried = 0
        while True:
            control.click()
            self.page.get_by_role("option").first.wait_for()
            if tried >= others.count():
                self.page.keyboard.press("Escape")
                return False
            others.nth(tried).click()
            expect(self.sheet.locator("[aria-busy=true]")).to_have_count(0)
            if fits(value_at(self.document(), address)):
                return True
            tried += 1
            if self.last_edit.count():
                self.undo()

    def clear(self, address: str, default: Any) -> bool:
        """Take away what stands at an address; say whether it can be done."""
        cleared = self.field("data-clears", address)
        inner = self.sheet.locator(f'[data-clears^="{address}/"]')
        control = self.field("data-at", address).first
        is_there = control.count() > 0
        if cleared.count():
            cleared.first.get_by_role("button").click()
        elif is_there and control.get_attribute("role") == "combobox":
            return self.choose(control, address, lambda now: now is None)
        elif address.endswith("/mix"):
            shares = self.sheet.locator(f'input[data-at^="{address}/"]')
            while shares.count():
                shares.first.fill("0")
                shares.first.press("Enter")
        elif inner.count():
            while inner.count():
                inner.first.get_by_role("button").click()
        elif is_there and isinstance(default, int | float | None):
            is_share = control.evaluate("each => each.nextSibling?.textContent === '%'")
            control.fill(f"{(default or 0) * (100 if is_share else 1):g}")
            control.press("Enter")
        return value_at(self.document(), address) is None


def screen_of(at: str) -> str:
    """Return where an element of a study is edited, with what is to be shown there."""
    if at.startswith("sizing/"):
        return f"right-size?search={at.removeprefix('sizing/')}"
    return f"{'demand' if at.startswith('streams/') else 'flow'}?at={at}"


def another(text: str) -> str:
    """Return another text that a field would take, told by how the one that stands there looks."""
    if re.fullmatch(r"\d\d:\d\d", text):
        return "13:30"
    if re.fullmatch(r"\d{4}-\d\d-\d\d( .*)?", text):
        return text.replace("2027-", "2028-").replace("-02-29", "-02-28")
    if found := re.fullmatch(r"(-?[\d.]+)( ?[a-z]*)", text):
        number = float(found[1])
        if number == 0:
            return f"1{found[2]}"
        return f"{number * 0.9 if found[2] else (number - 1 if number > 1 else number + 1):g}{found[2]}"
    if ", " in text:
        return text + ", " + text.split(", ", maxsplit=1)[0]
    return f"{text}-x"


PARTS = sorted({at for at, *_ in USED})


@pytest.fixture
def editor(page: Page, analyst: Person) -> Editor:
    study = create_study(analyst, STUDY)
    sign_in(page)
    for address in ("**/document", "**/api/pulse/**"):
        page.route(address, lambda route: route.abort())
    return Editor(page, study.pk)


def changed_badly(editor: Editor, part: str) -> Iterator[str]:
    """Change every key of a part, and yield what cannot be changed or is not readable afterwards."""
    for at, model, key, address, _ in USED:
        if at != part or key in MADE or (model, key) in ELSEWHERE or (KINDS.fullmatch(model) and key == "kind"):
            continue
        if not editor.change(address):
            yield f"{model}.{key} at {address}: nothing changes it"
            continue
        try:
            read_study(editor.document())
        except StudyError as error:
            yield f"{model}.{key} at {address}: what was written cannot be read: {error}"
        editor.undo()


def cleared_badly(editor: Editor, part: str) -> Iterator[str]:
    """Clear every key of a part that may be left out, and yield what cannot be cleared."""
    for at, model, key, address, field in USED:
        if at != part or field.is_required() or (model, key) in ELSEWHERE or ALTERNATIVE.search(f"{model}.{key}"):
            continue
        if not editor.clear(address, field.get_default(call_default_factory=True)):
            yield f"{model}.{key} at {address}: nothing clears it"
        while editor.last_edit.count():
            editor.undo()


def test_every_key_can_be_changed_and_cleared(editor: Editor) -> None:
    failed = []
    for part in PARTS:
        editor.show(part)
        failed += [*changed_badly(editor, part), *cleared_badly(editor, part)]
    assert failed == [], "\n".join(failed)


# One of several ways to say the same, taken away by choosing another one; or what holds others,
# which are cleared one by one.
ALTERNATIVE = re.compile(
    r"^(Need\.(team|skill)|Rule\.(all|any)|Then\.(send|divert)|Clears\.(at|every|after_step|waiting|message)|RandomStream\.(gap|chance)"
    r"|Link\.(share|share_by_type|otherwise|when)|WorkByType\.\w+|Trait\.(kind|values)|\w+Stream\.kind"
    r"|ShiftLimits\.(starts|from|to|every)|Target\.at_(most|least)|Serve\.line|\w+\.next|Team\.(size|closing)|Break\.(after|at|within)|After\.\w+)$"
)


def test_what_was_typed_is_what_is_saved(page: Page, analyst: Person) -> None:
    study = create_study(analyst, STUDY)
    sign_in(page)
    editor = Editor(page, study.pk)
    editor.show("steps/desk")
    for address in ("steps/desk/line/max", "steps/desk/needs/0/count", "steps/desk/line/patience"):
        assert editor.change(address)
    saved(page)
    current = Study.objects.get(pk=study.pk)
    document = Version.objects.get(study=current, number=current.version).document
    assert document["steps"][0]["line"]["max"] == 19
    assert "count" not in document["steps"][0]["needs"][0], "one is what holds where nothing is said"
    assert document["steps"][0]["line"]["patience"] == "27 min"
    expect(page.get_by_text("Saved", exact=True)).to_be_visible()
