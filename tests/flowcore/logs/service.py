"""A service whose truth is known, and its log as a device writes it, read again."""

import json
from pathlib import Path
from typing import Any

from flowcore.logs.doubts import Treatment, treated
from flowcore.logs.reading import read_log
from flowcore.logs.recognising import recognised
from flowcore.logs.visits import Visits
from tests.flowcore.builders import Part, exit_step, exponential, serve, stream

TYPES = [{"id": "pass", "name": "Passport"}, {"id": "move", "name": "Moving house"}]
WORK = {"dist": "lognormal", "mean": "6 min", "sd": "4 min"}
PATIENCE = 30.0


def a_service() -> Part:
    """Two kinds of errand at four desks; three in ten go on to the cashier; who waits too long leaves."""
    line = {"patience": exponential(PATIENCE), "gives_up_to": "gone"}
    return {
        "name": "Town desk",
        "start": "2027-03-01T00:00",
        "case_types": TYPES,
        "streams": [
            stream("counter", exponential(1.8), mix=[{"type": "pass", "share": 0.6}, {"type": "move", "share": 0.4}])
        ],
        "steps": [
            serve("counter", WORK, "clerks", {"till": 0.3, "out": 0.7}, line=line),
            serve("till", exponential(1.5), "cashiers", {"out": 1}),
            exit_step(),
            exit_step("gone", abandoned=True),
        ],
        "teams": [{"id": "clerks", "name": "Desk", "size": 4}, {"id": "cashiers", "name": "Till", "size": 2}],
        "run": {"length": "10 d", "replications": 1, "seed": 5},
    }


def read(path: Path) -> Visits:
    return treated(read_log(path, recognised(path).reading)[0], Treatment())


def logged(study: Part, device: Any, folder: Path, *quirks: str) -> Visits:
    """Return what a device logs of a study."""
    file, log = folder / "study.json", folder / "log.csv"
    file.write_text(json.dumps(study))
    assert device.main(["--study", str(file), "--out", str(log), *quirks]) == 0
    return read(log)
