"""Processes drawn elsewhere: BPMN files into studies, and studies into BPMN files."""

import re
from typing import Annotated, Any

from django.http import HttpRequest
from ninja import Router, Schema
from pydantic import Field

from flowcore.exchange.bpmn.read import ProcessRead, read_process
from flowcore.exchange.bpmn.write import write_process
from flowcore.exchange.notes import NotKept
from flowcore.study import StudyDocument
from flowcore.study.base import Id
from urbanqueue.api.errors import LONGEST_FILE, Problems, Sent

MOST_ANSWERS = 5000
_DECLARATION = re.compile(r"^\ufeff?\s*<\?xml[^>]*\?>")

router = Router(tags=["exchange"], by_alias=True)


class ProcessFile(Sent):
    """A BPMN file as a text, its name, and answers by their keys to what it does not say."""

    text: Annotated[str, Field(max_length=LONGEST_FILE)]
    file: Annotated[str, Field(max_length=300)] = ""
    answers: Annotated[dict[str, Any], Field(max_length=MOST_ANSWERS)] = {}


class Drawing(Sent):
    """A study, and where its steps stand on the map, in pixels."""

    study: StudyDocument
    positions: dict[Id, tuple[float, float]] = {}


class ProcessWritten(Schema):
    """A BPMN file as a text, and what of the study it does not keep."""

    text: str
    not_kept: list[NotKept]


@router.post(
    "/read", response={200: ProcessRead, 422: Problems}, operation_id="readProcess", summary="A process from BPMN"
)
def read(request: HttpRequest, process: ProcessFile) -> ProcessRead:
    """Return the study that a BPMN file would become, what it does not say, and what of it cannot be kept."""
    return read_process(_DECLARATION.sub("", process.text).encode(), process.file, process.answers)


@router.post(
    "/write", response={200: ProcessWritten, 422: Problems}, operation_id="writeProcess", summary="A process as BPMN"
)
def write(request: HttpRequest, drawing: Drawing) -> ProcessWritten:
    """Return a study as a BPMN file with BPSim and a diagram, and what of it that does not keep."""
    written = write_process(drawing.study, drawing.positions or None)
    return ProcessWritten(text=written.content.decode(), not_kept=written.not_kept)
