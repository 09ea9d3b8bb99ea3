"""What runs found, in a sentence, for the list of studies."""

import logging

from django.db.models import QuerySet
from pydantic import BaseModel

from flowcore.findings.headline import headline
from flowcore.findings.words import as_text
from urbanqueue.runs.models import Run
from urbanqueue.runs.samples import results_of, study_of
from urbanqueue.studies.models import Study

logger = logging.getLogger(__name__)


def tell_findings() -> None:
    """Write down what the runs found that are over and have not said so yet."""
    for run in Run.objects.filter(finding=None, finished_at__isnull=False):
        Run.objects.filter(pk=run.pk).update(finding=_finding(run))


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


def _finding(run: Run) -> str:
    """Return what a run found of its first scenario; nothing where that failed or can no longer be read."""
    part = run.parts.select_related("sample", "run__version").first()
    if part is None or part.problem:
        return ""
    try:
        return as_text(headline(study_of(part), results_of(part)))
    except Exception:
        logger.exception("The finding of run %s cannot be told", run.pk)
        return ""
