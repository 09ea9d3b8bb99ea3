"""Hands on the keyboard: what an analyst does again and again without a mouse."""

import re

from playwright.sync_api import Locator, Page, expect


class Hands:
    """The keyboard of a page with the workbench open."""

    def __init__(self, page: Page) -> None:
        self.page = page
        self.keys = page.keyboard
        self.sheet = page.get_by_role("complementary", name="Sheet")

    def command(self, text: str) -> None:
        """Find something in the palette and do it."""
        self.keys.press("Control+k")
        self.keys.type(text)
        self.page.get_by_role("option", name=text).first.wait_for()
        self.keys.press("Enter")
        expect(self.page.get_by_role("dialog")).to_have_count(0)

    def stop(self, name: str) -> Locator:
        """Return a stop of the map."""
        return self.page.locator(".line-map").get_by_role("button", name=re.compile(f"^{re.escape(name)}, "))

    def is_on(self, name: str) -> None:
        """See that the keyboard is on a stop of the map."""
        expect(self.stop(name)).to_be_focused()

    def go_to(self, name: str) -> None:
        """Find a step by typing and open its sheet."""
        self.command(name)
        expect(self.sheet.get_by_role("heading", name=name)).to_be_visible()

    def call(self, name: str) -> None:
        """Name the step that the keyboard is on."""
        self.keys.press("r")
        self.keys.type(name)
        self.keys.press("Enter")
        self.keys.press("Escape")
        self.is_on(name)

    def add(self, kind: str, name: str) -> None:
        """Add a part of the study; its name is typed at once."""
        self.command(f"Add a {kind}")
        expect(self.sheet.get_by_label(f"Name of the {kind}")).to_be_focused()
        self.keys.type(name)
        self.keys.press("Enter")

    def fill(self, label: str, value: str) -> None:
        """Type over a value of the sheet."""
        self.sheet.get_by_label(label, exact=True).focus()
        self.keys.press("Control+a")
        self.keys.type(value)
        self.keys.press("Enter")

    def press(self, name: str, place: int = 0) -> None:
        """Press a button of the sheet."""
        self.sheet.get_by_role("button", name=name, exact=True).nth(place).press("Enter")

    def pick(self, label: str, option: str) -> None:
        """Pick from a list of the sheet by typing how the choice begins."""
        self.sheet.get_by_label(label, exact=True).press("Enter")
        self.page.get_by_role("listbox").wait_for()
        self.keys.type(option)
        expect(self.page.get_by_role("option", name=option, exact=True)).to_be_focused()
        self.keys.press("Enter")
        expect(self.page.get_by_role("listbox")).to_have_count(0)
