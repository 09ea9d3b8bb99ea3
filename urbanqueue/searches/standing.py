"""What a search is of, and whether that is still so."""

import hashlib
import json
from collections.abc import Iterable
from functools import lru_cache

from flowcore.problems import StudyError
from flowcore.sizing.search import sizing_of
from flowcore.study import StudyDocument, written
from flowcore.study.scenarios import apply_scenario
from urbanqueue.runs.samples import digest_of
from urbanqueue.searches.models import Search
from urbanqueue.studies.actions import document_of
from urbanqueue.studies.models import Study, Version

DIGESTS_KEPT = 256


def study_of(search: Search) -> StudyDocument:
    """Return the study as it is searched."""
    return apply_scenario(document_of(search.version), search.scenario)


def digest_of_search(study: StudyDocument, sizing_id: str) -> str:
    """Return a mark of all of a study that matters to what one of its searches finds; StudyError where it is gone."""
    sizing = sizing_of(study, sizing_id)
    asked = {**sizing.model_dump(mode="json"), "name": ""}
    told = [digest_of(study), asked, written(study).get("targets", []), study.currency]
    return hashlib.sha256(json.dumps(told, sort_keys=True).encode()).hexdigest()


def those_that_hold(study: Study, searches: Iterable[Search]) -> set[int]:
    """Return which searches of a study are of it as it is now."""
    now = study.versions.values_list("pk", flat=True).get(number=study.version)
    return {each.pk for each in searches if _digest_in(now, each.scenario, each.sizing) == each.digest}


@lru_cache(DIGESTS_KEPT)
def _digest_in(version: int, scenario: str, sizing_id: str) -> str | None:
    """Return the mark of a search in a version, which never changes; None where it cannot be made there."""
    try:
        study = apply_scenario(document_of(Version.objects.get(pk=version)), scenario)
        return digest_of_search(study, sizing_id)
    except StudyError:
        return None
