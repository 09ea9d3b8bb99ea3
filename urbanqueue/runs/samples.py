"""Samples: the replications of one document, found again by whoever runs the same document."""

import hashlib
import json
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from functools import lru_cache

from django.db.models import QuerySet

from flowcore.engine import ENGINE
from flowcore.results.catalogue import hour_of
from flowcore.results.replication import Replication
from flowcore.results.run import Results
from flowcore.study import StudyDocument, minutes, read_study, written
from flowcore.theory.network import visit_rates
from urbanqueue.runs.locks import locked
from urbanqueue.runs.models import Part, ReplicationRow, Sample
from urbanqueue.runs.packing import Unpacking
from urbanqueue.studies.models import Study

VISITS_PER_CHUNK = 600_000
ROWS_AT_ONCE = 200
PARTS_AT_HAND = 256
MOST_AT_HAND = 100
"""So many parts are kept at hand that have no more than so many replications: some 150 MB at most."""
NOT_DRAWN = ("name", "about", "currency", "targets", "observed", "board", "levers", "scenarios", "sizing", "sources")
"""What of a study a replication does not depend on, but for targets of days and intervals: it tells their figures."""
ONLY_READ = ("replications", "precision", "confidence")
"""What of the run settings a replication does not depend on."""


def sample_of(study: Study, document: StudyDocument) -> Sample:
    """Return the sample of a document, which is made where nobody has run that document before."""
    sample, _ = Sample.objects.get_or_create(
        study=study,
        digest=digest_of(document),
        engine=ENGINE,
        defaults={"document": written(document), "per_chunk": _chunk_size(document)},
    )
    return sample


def digest_of(document: StudyDocument) -> str:
    """Return a mark of all of a document that matters to its replications."""
    text = written(document)
    drawn = {key: value for key, value in text.items() if key not in NOT_DRAWN}
    if by_time := [each for each in text.get("targets", []) if each.get("by", "run") != "run"]:
        drawn["targets"] = [{key: each[key] for key in each if key != "sure"} for each in by_time]
    drawn["run"] = {key: value for key, value in text.get("run", {}).items() if key not in ONLY_READ}
    return hashlib.sha256(json.dumps(drawn, sort_keys=True).encode()).hexdigest()


def _chunk_size(document: StudyDocument) -> int:
    """Return how many replications are about half a second of work, by the expected number of visits."""
    visits = float(visit_rates(document).sum()) * minutes(document.run.length)
    return max(1, int(VISITS_PER_CHUNK / max(1.0, visits)))


def forget_samples(study: Study) -> None:
    """Take away the samples of a study that no run reads any more."""
    study.samples.filter(pk__in=locked(study.samples.filter(parts=None))).delete()


def rows_of(part: Part) -> QuerySet[ReplicationRow]:
    """Return the replications that a part reads, as far as they are done."""
    if part.kept is not None:
        return part.sample.rows.filter(number__in=part.kept)
    return part.sample.rows.filter(number__lt=part.replications)


def study_of(part: Part) -> StudyDocument:
    """Return the study as a part runs it, with the targets and levers of its version."""
    whole = part.run.version.document
    kept = {key: value for key, value in part.sample.document.items() if key not in NOT_DRAWN}
    shared = {key: whole[key] for key in NOT_DRAWN if key in whole and key != "scenarios"}
    run = kept.get("run", {}) | {key: part.run.settings[key] for key in ONLY_READ}
    return read_study(kept | shared | {"run": run})


def results_of(part: Part) -> Results:
    """Return the results of a part from the replications that are written so far."""
    return Results.of(_all_of(rows_of(part), part.sample), part.run.settings["confidence"])


@dataclass(frozen=True)
class Needed:
    """What is read of rows: figures and histograms of some quantities, the cases inside, the hours of the week."""

    quantities: frozenset[str]
    inside: bool
    hours: bool

    @classmethod
    def of(cls, addresses: Iterable[str], inside: bool) -> "Needed":
        """Return what some figures need."""
        parts = [address.rpartition("/") for address in addresses]
        quantities = frozenset(quantity for quantity, _, _ in parts)
        return cls(quantities, inside, any(hour_of(statistic) is not None for _, _, statistic in parts))

    @property
    def left_out(self) -> list[str]:
        """The columns that need not be read."""
        return [column for column, is_read in (("inside", self.inside), ("week", self.hours)) if not is_read]


def some_results_of(part: Part, addresses: Iterable[str], with_inside: bool = False) -> Results:
    """Return the results of a part with no more than some figures, which is much less to read.

    The cases inside by interval are among them where they are asked for. What is read of a part that lacks nothing is
    kept at hand: its replications are those of its sample's document and engine, and never change.
    """
    needed = Needed.of(addresses, with_inside)
    confidence = part.run.settings["confidence"]
    has_all = part.kept is not None or part.done == part.replications
    if not has_all or part.done > MOST_AT_HAND:
        return Results.of(_some_of(rows_of(part), part.sample, needed), confidence)
    numbers = tuple(range(part.replications) if part.kept is None else part.kept)
    sample = part.sample
    return _at_hand((sample.pk, sample.study_id, sample.digest, sample.engine), numbers, needed, confidence)


@lru_cache(PARTS_AT_HAND)
def _at_hand(sample: tuple[int, int, str, str], numbers: tuple[int, ...], needed: Needed, level: float) -> Results:
    found = Sample.objects.get(pk=sample[0])
    rows = found.rows.filter(number__in=numbers)
    return Results.of(_some_of(rows, found, needed), level)


def _some_of(rows: QuerySet[ReplicationRow], sample: Sample, needed: Needed) -> Iterator[Replication]:
    """Yield the replications of rows with what is needed of them."""
    unpacked = Unpacking(sample, needed.quantities)
    for row in rows.defer(*needed.left_out).iterator(ROWS_AT_ONCE):
        yield unpacked(row, with_inside=needed.inside, with_week=needed.hours)


def _all_of(rows: QuerySet[ReplicationRow], sample: Sample) -> Iterator[Replication]:
    unpacked = Unpacking(sample)
    for row in rows.iterator(ROWS_AT_ONCE):
        yield unpacked(row)
