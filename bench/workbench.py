"""`python -m bench.workbench`: how soon the pulse beats, how smoothly things move, as `./start` serves them.

Prints times in milliseconds, and each as a share of its bar: half a second for the pulse, 50 ms for laying
out 300 steps, a sixtieth of a second for a frame while the map or a shift is moved or a replay is played, two of them
until wages and coverage follow a shift, two seconds until a replay moves, one for the first picture of the findings of
a thousand replications. Then how many bytes a thousand events of a replay's record take.
"""

import json
import math
import statistics
import subprocess
import sys
import time
from pathlib import Path
from typing import Any

from playwright.sync_api import Page, sync_playwright

from flowcore.replay.outline import outline_of
from flowcore.replay.recorder import Recorder
from flowcore.replay.written import written
from flowcore.study import read_study
from flowcore.study.durations import DAY

ROOT = Path(__file__).resolve().parent.parent
EMAIL, PASSWORD = "analyst@portalder.example", "port-alder"
BEATS = 40
PULSE_BAR, LAYOUT_BAR, FRAME_BAR = 500.0, 50.0, 1000 / 60
PICTURE_BAR = 1000.0
MOVES_BAR = 2000.0
PLAYED = 5.0
INSIDE = (10, 100, 500)
REPLICATIONS = 1000
OPENINGS = 12
KINDS = ["Check papers", "Counter", "Second opinion", "Copying", "Sign-off", "Registration desk", "Archive"]

ASK = """async ([path, body]) => {
    const began = performance.now();
    const token = document.cookie.match(/csrftoken=([^;]+)/)[1];
    const headers = { 'Content-Type': 'application/json', 'X-CSRFToken': token };
    const answer = await fetch('/api/pulse/' + path, { method: 'POST', body, headers });
    if (!answer.ok) throw new Error(answer.status);
    await answer.text();
    return performance.now() - began;
}"""
FRAMES = """() => {
    window.frames_ = [];
    let last = performance.now();
    const next = (now) => { window.frames_.push(now - last); last = now; window.asked_ = requestAnimationFrame(next); };
    requestAnimationFrame(next);
}"""
FOLLOWS = """() => {
    window.follows_ = [];
    let moved = null;
    addEventListener('pointermove', () => { moved = performance.now(); }, true);
    const told = () => {
        if (moved !== null) window.follows_.push(performance.now() - moved);
        moved = null;
    };
    const bold = [...document.querySelectorAll('main b')];
    const wages = bold.find((each) => each.parentElement.textContent.startsWith('Wages'));
    const line = document.querySelector('main svg[role=img] path:nth-of-type(2)');
    const any = { characterData: true, childList: true, subtree: true, attributes: true };
    for (const each of [wages, line]) new MutationObserver(told).observe(each, any);
}"""
LAYOUT = """
import { fitted } from './fit.js';
const box = { width: 840, height: 620 };
for (const study of JSON.parse(process.argv[2])) {
    const times = [];
    for (let n = 0; n < 30; n++) {
        const began = performance.now();
        fitted(study, box);
        times.push(performance.now() - began);
    }
    console.log(JSON.stringify(times.slice(5)));
}
"""


def flow(count: int) -> dict[str, Any]:
    """Return a study of so many steps in a row, one in ten cases skipping ahead or going back."""
    steps: list[dict[str, Any]] = []
    for n in range(count):
        aside = n - 3 if n % 11 == 5 else min(n + 3, count - 1)
        onward = [{"to": f"s{n + 1}", "share": 0.9}, {"to": f"s{aside}", "share": 0.1}]
        last = [{"to": f"s{n + 1}" if n + 1 < count else "out"}]
        name = f"{KINDS[n % len(KINDS)]} {n + 1}"
        step = {"id": f"s{n}", "name": name, "kind": "serve", "work": "1 min", "needs": [{"team": "staff"}]}
        steps.append({**step, "next": onward if n < count - 4 else last})
    types = [{"id": each, "name": each.title()} for each in ("letters", "parcels", "calls")]
    mix = [{"type": each["id"], "share": share} for each, share in zip(types, (0.5, 0.3, 0.2), strict=True)]
    return {
        "name": f"Flow of {count} steps",
        "case_types": types,
        "streams": [{"id": "in", "name": "In", "kind": "random", "gap": "30 min", "to": "s0", "mix": mix}],
        "steps": [*steps, {"id": "out", "name": "Done", "kind": "exit"}],
        "teams": [{"id": "staff", "name": "Staff", "size": 40}],
        "run": {"length": "1 wk"},
    }


def roster(count: int) -> dict[str, Any]:
    """Return a study of so many shifts in teams of ten, each with two breaks."""
    breaks = [
        {"after": "2 h", "length": "20 min", "taken": "in-turn"},
        {"after": "4 h", "length": "40 min", "paid": False},
    ]
    days = ["mon", "tue", "wed", "thu", "fri"]
    rows = [
        {
            "days": days,
            "from": f"{7 + n % 5:02}:{15 * (n % 4):02}",
            "to": f"{15 + n % 5:02}:00",
            "people": 2 + n % 3,
            "breaks": breaks,
        }
        for n in range(count)
    ]
    teams = [
        {"id": f"t{n}", "name": f"Team {n + 1}", "rate": 20 + n, "roster": rows[10 * n : 10 * n + 10]}
        for n in range(max(1, count // 10))
    ]
    steps = [
        {"id": f"s{n}", "name": f"Desk {n + 1}", "kind": "serve", "work": "6 min", "needs": [{"team": team["id"]}],
         "next": [{"to": f"s{n + 1}" if n + 1 < len(teams) else "out"}]}
        for n, team in enumerate(teams)
    ]  # fmt: skip
    return {
        "name": f"Roster of {count} shifts",
        "streams": [{"id": "in", "name": "In", "kind": "random", "gap": "10 min", "to": "s0"}],
        "steps": [*steps, {"id": "out", "name": "Done", "kind": "exit"}],
        "teams": teams,
        "run": {"length": "1 wk"},
    }


def told(what: str, times: list[float], bar: float) -> None:
    """Print the median, the 95th percentile and its share of the bar."""
    p95 = statistics.quantiles(times, n=20)[-1]
    print(f"{what:58} {statistics.median(times):8.1f} {p95:8.1f} {p95 / bar:10.2f}", flush=True)


def lay_out() -> None:
    """Time the layout of the map in the JavaScript engine of the machine, from a bundle as it is served."""
    out = ROOT / "var" / "bench"
    command = ["npx", "vite", "build", "--ssr", "src/map/fit.ts", "--outDir", str(out), "--logLevel", "error"]
    subprocess.run(command, cwd=ROOT / "web", check=True, capture_output=True)
    (out / "package.json").write_text('{"type": "module"}')
    (out / "time.js").write_text(LAYOUT)
    counts = (12, 60, 300)
    studies = json.dumps([flow(count) for count in counts])
    lines = subprocess.run(["node", "time.js", studies], cwd=out, check=True, capture_output=True, text=True).stdout
    for count, line in zip(counts, lines.splitlines(), strict=True):
        told(f"laying out {count} steps", json.loads(line), LAYOUT_BAR)


def beat(page: Page) -> None:
    """Time both answers of the pulse for each demo study."""
    for file in sorted((ROOT / "demo").glob("*.json")):
        body = file.read_text()
        for path in ("theory", "simulation"):
            times = [page.evaluate(ASK, [path, body]) for _ in range(BEATS)]
            told(f"pulse by {path}: {json.loads(body)['name']}", times, PULSE_BAR)


def bring_in(page: Page, study: dict[str, Any]) -> None:
    """Bring a study in from the list of studies, and wait until its map is there."""
    file = {"name": "study.json", "mimeType": "application/json", "buffer": json.dumps(study).encode()}
    page.get_by_label("Study file").set_input_files(file)
    page.locator(".line-map [role=button]").first.wait_for()


def drag(page: Page, count: int) -> None:
    """Time the frames while a shift among so many is dragged, and how soon wages and coverage follow it."""
    bring_in(page, roster(count))
    page.get_by_role("link", name="Teams").click()
    bar = page.locator("[data-shift]").first
    bar.wait_for()
    page.locator("main [aria-busy=false] svg[role=img]").first.wait_for()
    box = bar.bounding_box()
    assert box
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    page.evaluate(FOLLOWS)
    page.evaluate(FRAMES)
    for n in range(120):
        page.mouse.move(x + 150 * (n % 30) / 30, y)
    page.mouse.up()
    frames, follows = page.evaluate(
        "() => { cancelAnimationFrame(window.asked_); return [window.frames_, window.follows_]; }"
    )
    told(f"a frame while dragging one of {count} shifts", frames[2:], FRAME_BAR)
    told(f"until coverage and wages follow, {count} shifts", follows, 2 * FRAME_BAR)
    page.get_by_role("link", name="All studies").click()


def move(page: Page, count: int) -> None:
    """Time the frames while the map of so many steps is dragged about."""
    bring_in(page, flow(count))
    page.get_by_role("region", name="Pulse").get_by_text("Wait, mean").wait_for()
    page.mouse.move(500, 400)
    page.mouse.down()
    page.evaluate(FRAMES)
    for n in range(120):
        page.mouse.move(500 + 200 * (n % 20) / 20, 400 - 3 * (n % 60))
    page.mouse.up()
    times = page.evaluate("() => { cancelAnimationFrame(window.asked_); return window.frames_; }")
    told(f"a frame while moving {count} steps", times[2:], FRAME_BAR)
    page.get_by_role("link", name="All studies").click()


def busy(inside: int) -> dict[str, Any]:
    """Return a study of a day in which about so many cases are inside: before, at and between twelve steps."""
    count, walk, work, idle = 12, 1.0, 2.0, 0.15
    gap = count * (walk + work) * (1 + idle) / inside
    steps: list[dict[str, Any]] = [
        {
            "id": f"s{n}",
            "name": f"{KINDS[n % len(KINDS)]} {n + 1}",
            "kind": "serve",
            "work": {"dist": "exponential", "mean": f"{work} min"},
            "needs": [{"team": f"t{n}"}],
            "next": [{"to": f"s{n + 1}" if n + 1 < count else "out", "travel": f"{walk} min"}],
        }
        for n in range(count)
    ]
    types = [{"id": each, "name": each.title()} for each in ("letters", "parcels", "calls")]
    mix = [{"type": each["id"], "share": share} for each, share in zip(types, (0.5, 0.3, 0.2), strict=True)]
    between = {"dist": "exponential", "mean": f"{gap:.4f} min"}
    size = math.ceil((1 + idle) * work / gap)
    return {
        "name": f"Day with {inside} inside",
        "case_types": types,
        "streams": [{"id": "in", "name": "In", "kind": "random", "gap": between, "to": "s0", "mix": mix}],
        "steps": [*steps, {"id": "out", "name": "Done", "kind": "exit"}],
        "teams": [{"id": f"t{n}", "name": f"Desk {n + 1}", "size": size} for n in range(count)],
        "run": {"length": "1 d"},
    }


def watch(page: Page, inside: int) -> None:
    """Time how soon a replay with so many inside moves once it is asked for, and its frames where most are."""
    bring_in(page, busy(inside))
    times = []
    for _ in range(OPENINGS):
        page.reload()
        page.locator(".line-map [role=button]").first.wait_for()
        began = time.perf_counter()
        page.get_by_role("link", name="Watch it").click()
        page.get_by_role("button", name="Play", exact=True).click()
        clock = page.get_by_role("heading", level=1).text_content()
        page.wait_for_function("(before) => document.querySelector('h1').textContent !== before", arg=clock)
        times.append(1000 * (time.perf_counter() - began))
        page.get_by_role("link", name="Flow").click()
    told(f"until a day with {inside} inside is seen to move", times, MOVES_BAR)
    page.get_by_role("link", name="Watch it").click()
    page.get_by_role("button", name="the most inside").click()
    page.get_by_role("button", name="Play", exact=True).click()
    page.evaluate(FRAMES)
    page.wait_for_timeout(1000 * PLAYED)
    frames = page.evaluate("() => { cancelAnimationFrame(window.asked_); return window.frames_; }")
    told(f"a frame of a replay with {inside} inside", frames[2:], FRAME_BAR)
    page.get_by_role("link", name="All studies").click()


def weigh() -> None:
    """Print how many events a replication of each demo study and of busy days has, and how large its record is."""
    print(f"\n{'replays':58} {'events':>10} {'bytes / 1,000':>14}")
    demos = [json.loads(file.read_text()) for file in sorted((ROOT / "demo").glob("*.json"))]
    for study in [*demos, *(busy(inside) for inside in INSIDE)]:
        document = read_study(study)
        outline = outline_of(document, Recorder(document, 0).pieces(DAY))
        pieces = list(Recorder(document, 0).pieces(outline.piece))
        events = sum(len(piece.notes) for piece in pieces)
        size = sum(len(written(piece)) for piece in pieces)
        print(f"{study['name']:58} {events:10,} {1000 * size / events:14,.0f}", flush=True)


def read_findings(page: Page) -> None:
    """Time how soon the first picture of the findings is there, from the map, with nothing read before."""
    hall = json.loads((ROOT / "demo" / "residents-hall.json").read_text())
    hall["run"] |= {"replications": REPLICATIONS}
    bring_in(page, {**hall, "name": "Hall, very often", "scenarios": [], "levers": []})
    page.get_by_role("button", name=f"Run 4 weeks × {REPLICATIONS}").click()
    page.get_by_role("region", name="Where the minutes go").wait_for(timeout=900_000)
    times = []
    for _ in range(OPENINGS):
        page.get_by_role("link", name="Flow").click()
        page.reload()
        page.locator(".line-map [role=button]").first.wait_for()
        began = time.perf_counter()
        page.get_by_role("link", name="Findings").click()
        page.get_by_role("region", name="Where the minutes go").get_by_role("img").wait_for()
        times.append(1000 * (time.perf_counter() - began))
    told(f"findings of {REPLICATIONS} replications, first picture", times, PICTURE_BAR)
    page.get_by_role("link", name="All studies").click()


def main() -> int:
    """Measure everything."""
    address = sys.argv[1] if len(sys.argv) > 1 else "http://127.0.0.1:8000"
    print(f"{'milliseconds':58} {'median':>8} {'p95':>8} {'p95 / bar':>10}")
    lay_out()
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=["--no-sandbox"])
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        page.goto(address)
        page.get_by_label("E-mail address").fill(EMAIL)
        page.get_by_label("Password").fill(PASSWORD)
        page.keyboard.press("Enter")
        page.get_by_role("heading", name="Studies").wait_for()
        for count in (12, 60, 300):
            move(page, count)
        for count in (5, 30, 200):
            drag(page, count)
        for inside in INSIDE:
            watch(page, inside)
        beat(page)
        read_findings(page)
        browser.close()
    weigh()
    return 0


if __name__ == "__main__":
    sys.exit(main())
