"""What runs found, in a sentence, for the list of studies."""

import logging

from django.db.models import QuerySet
from pydantic import BaseModel

from flowcore.findings.run import in_short
from flowcore.reports.findings import RunFindings
from urbanqueue.runs.locks import telling_of
from urbanqueue.runs.models import Part, Run
from urbanqueue.runs.summaries import sum_up
from urbanqueue.studies.models import Study

logger = logging.getLogger(__name__)


MANY_REPLICATIONS = 200
"""Parts with more than these are summed up before anybody asks for them."""


def tell_findings() -> None:
    """Write down what the runs found that are over and have not said so yet; one that another process is at is left."""
    untold = Run.objects.filter(finding=None, finished_at__isnull=False)
    for pk in untold.values_list("pk", flat=True):
        _tell(pk)


def _tell(pk: int) -> None:
    """Sum a run up and write down what it found, unless another process is at it or has done it."""
    with telling_of(pk) as mine:
        parts = Part.objects.select_related("sample", "run__version").filter(run=pk, run__finding=None)
        first = parts.first() if mine else None
        if first is None:
            return
        finding = _finding(first)
        for part in parts.filter(done__gt=MANY_REPLICATIONS).exclude(pk=first.pk):
            sum_up(part, "findings")
        still_so = Run.objects.filter(pk=pk, finished_at=first.run.finished_at, parts__sample=first.sample_id)
        still_so.update(finding=finding)


class Finding(BaseModel):
    """What a run found, in a sentence, and the number of the version that it ran."""

    sentence: str
    version: int


def last_findings(studies: QuerySet[Study]) -> dict[int, Finding]:
    """Return by study what the latest run found that found something."""
    told = Run.objects.filter(version__study__in=studies, finding__gt="")
    latest = told.order_by("version__study", "-number").distinct("version__study")
    rows = latest.values_list("version__study", "finding", "version__number")
    return {study: Finding(sentence=sentence or "", version=version) for study, sentence, version in rows}


def _finding(part: Part) -> str:
    """Return what a run found of a scenario; nothing where that failed or can no longer be read."""
    if part.problem or not part.done:
        return ""
    try:
        return in_short(RunFindings.model_validate(sum_up(part, "findings")).sentences)
    except Exception:
        logger.exception("The finding of run %s cannot be told", part.run_id)
        return ""
