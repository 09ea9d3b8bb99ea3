"""Port Alder's own logs, made with the stand-ins: the services of the demo studies as they would really go on."""

import json
from collections.abc import Callable, Sequence
from functools import partial
from io import BytesIO
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import NamedTuple

from flowcore.logs.recognising import Preview
from flowcore.study import StudyDocument
from flowcore.study.document import written
from flowcore.study.levers import scaled
from flowcore.study.pointers import pointer_to
from stand_ins import kiosk, phone_switch
from urbanqueue.filed import PIECE
from urbanqueue.logs.actions import bring_log, read_as
from urbanqueue.studies.models import Study


class DemoLog(NamedTuple):
    """A log of a device, with its quirks, of a service in which some values are so many times what the study has."""

    study: str
    file: str
    device: Callable[[Sequence[str]], int]
    quirks: list[str]
    really: dict[str, float]


LOGS = (
    DemoLog(
        "Residents' hall",
        "kiosk-march.csv",
        kiosk.main,
        ["--late", "9", "--twice", "0.01", "--missing", "0.02"],
        {"/steps/counter/work": 1.07, "/steps/cashier/work": 1.25},
    ),
    DemoLog(
        "Lost property and travel cards by phone",
        "phone-switch.csv",
        phone_switch.main,
        [],
        {"/steps/card-calls/work": 1.1},
    ),
)


def bring_demo_logs(study: Study, document: StudyDocument) -> None:
    """Let a demo study have the log of its service, to be read by a worker as it is recognised."""
    for demo in LOGS:
        if demo.study == document.name:
            content = _logged(demo, document)
            log = bring_log(study, study.owner, demo.file, iter(partial(content.read, PIECE), b""))
            read_as(log, Preview.model_validate(log.preview).reading)


def _logged(demo: DemoLog, document: StudyDocument) -> BytesIO:
    """Return what a device writes while the service goes on as it really does."""
    really = written(document)
    for path, factor in demo.really.items():
        pointer = pointer_to(really, path)
        pointer.set(really, scaled(pointer.resolve(really), factor))
    with TemporaryDirectory() as folder:
        study, log = Path(folder) / "study.json", Path(folder) / "log.csv"
        study.write_text(json.dumps(really))
        if demo.device(["--study", str(study), "--out", str(log), *demo.quirks]):
            raise ValueError(f"no log of {demo.study} can be made")
        return BytesIO(log.read_bytes())
