"""The map as it is seen: all of it, with legible words clear of its lines and of each other."""

import json
from typing import Any

import pytest
from django.conf import settings
from playwright.sync_api import Page, expect

from flowcore import read_study
from tests.browser.conftest import sign_in
from urbanqueue.accounts.models import Person
from urbanqueue.studies.actions import create_study

SEEN = """() => {
  const map = document.querySelector(".line-map svg").getBoundingClientRect();
  const words = [...document.querySelectorAll(".line-map g[aria-hidden] text tspan")].map((line) => {
    const text = line.closest("text");
    const scale = text.getScreenCTM().a;
    const size = parseFloat(text.getAttribute("font-size")) * scale;
    const [first, last] = [line.getStartPositionOfChar(0), line.getEndPositionOfChar(line.getNumberOfChars() - 1)];
    const at = (point) => point.matrixTransform(text.getScreenCTM());
    const [begin, end] = [at(first), at(last)];
    return { what: line.textContent, size, left: begin.x, right: end.x, top: begin.y - 0.7 * size, bottom: begin.y };
  });
  const lines = [...document.querySelectorAll('.line-map g[stroke-width="5.5"] > path')];
  const points = lines.flatMap((path) => {
    const matrix = path.getScreenCTM();
    const count = Math.ceil(path.getTotalLength() / 2);
    return Array.from({ length: count + 1 }, (_, n) =>
      path.getPointAtLength((n / count) * path.getTotalLength()).matrixTransform(matrix));
  });
  const stops = [...document.querySelectorAll(".line-map [role=button]")].map((stop) => stop.getBoundingClientRect());
  return {
    out: stops.filter((stop) =>
      stop.left < map.left || stop.right > map.right || stop.top < map.top || stop.bottom > map.bottom).length,
    small: words.filter((word) => word.size < 11.99).map((word) => word.what),
    cut: words.filter((word) => word.left < map.left || word.right > map.right
      || word.top < map.top || word.bottom > map.bottom).map((word) => word.what),
    crossed: words.filter((word) => points.some(({ x, y }) =>
      x > word.left && x < word.right && y > word.top && y < word.bottom)).map((word) => word.what),
    over: words.flatMap((one, n) => words.slice(n + 1).filter((other) =>
      one.left < other.right && other.left < one.right && one.top < other.bottom && other.top < one.bottom)
      .map((other) => [one.what, other.what])),
    words: words.map((word) => word.what).join(" "),
  };
}"""
NOTHING_WRONG = {"out": 0, "small": [], "cut": [], "crossed": [], "over": []}


@pytest.mark.parametrize("name", ["residents-hall", "phone-line", "animal-clinic", "tree-permits"])
def test_all_of_a_flow_is_seen_and_read(page: Page, analyst: Person, name: str) -> None:
    document = json.loads((settings.ROOT / "demo" / f"{name}.json").read_text())
    study = create_study(analyst, read_study(document)).pk
    sign_in(page)
    for screen, width in (("flow", 1280), ("flow", 1024), ("history", 1280), ("history", 1024)):
        page.set_viewport_size({"width": width, "height": 800})
        page.goto(f"/studies/{study}/{screen}")
        stops = page.locator(".line-map [role=button]")
        expect(stops).to_have_count(len(document["steps"]) + len(document["streams"]))
        page.evaluate("document.fonts.ready")
        page.wait_for_function(f"JSON.stringify(({SEEN})().out) === '0'")
        seen: dict[str, Any] = page.evaluate(SEEN)
        words = seen.pop("words")
        assert seen == NOTHING_WRONG, (screen, width)
        if (screen, width) == ("flow", 1280):
            for step in [*document["steps"], *document["streams"]]:
                assert all(word in words for word in step["name"].split()), step["name"]
