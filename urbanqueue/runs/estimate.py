"""How long a run will take, before it is started."""

from dataclasses import dataclass

from django.db.models import Count

from flowcore.engine import ENGINE
from flowcore.study import RunSettings, StudyDocument, minutes
from urbanqueue.runs.models import ReplicationRow, Sample
from urbanqueue.runs.samples import digest_of
from urbanqueue.studies.models import Study


@dataclass(frozen=True)
class Lacking:
    """What a scenario lacks of the replications that are wanted; `seconds` for each, None where nobody knows."""

    scenario: str
    replications: int
    stored: int
    seconds: float | None


@dataclass(frozen=True)
class _Pace:
    """How long a simulated minute takes, by the replications of a sample."""

    sample: int
    seconds: float

    def of(self, document: StudyDocument) -> float:
        return self.seconds * minutes(document.run.length)


def lacking_of(study: Study, documents: dict[str, StudyDocument]) -> list[Lacking]:
    """Return for each scenario how many replications are stored, and how long each of the others takes.

    That is known from the replications of the same document, else from those of the study that were drawn last.
    """
    paces = _paces(study)
    latest = max(paces.values(), key=lambda each: each.sample, default=None)
    found: list[Lacking] = []
    for scenario, document in documents.items():
        wanted, digest = document.run.replications, digest_of(document)
        rows = ReplicationRow.objects.filter(sample__study=study, sample__digest=digest, sample__engine=ENGINE)
        pace = paces.get(digest, latest)
        stored = rows.filter(number__lt=wanted).count()
        found.append(Lacking(scenario, wanted, stored, pace.of(document) if pace else None))
    return found


def _paces(study: Study) -> dict[str, _Pace]:
    """Return the pace of each sample of a study that has replications, by its digest."""
    samples = Sample.objects.filter(study=study, engine=ENGINE, seconds__gt=0).annotate(many=Count("rows"))
    rows = samples.values_list("digest", "pk", "seconds", "many", "document__run__length")
    usual = RunSettings().length
    return {
        digest: _Pace(pk, seconds / many / minutes(length or usual))
        for digest, pk, seconds, many, length in rows
        if many
    }
