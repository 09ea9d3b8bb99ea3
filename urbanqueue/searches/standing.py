"""What a search is of, and whether that is still so."""

import hashlib
import json
from collections.abc import Iterable

from flowcore.problems import StudyError
from flowcore.sizing.search import sizing_of
from flowcore.study import StudyDocument, written
from flowcore.study.scenarios import apply_scenario
from urbanqueue.runs.samples import digest_of
from urbanqueue.searches.models import Search
from urbanqueue.studies.actions import current_version, document_of
from urbanqueue.studies.models import Study


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
    searches = list(searches)
    now = document_of(current_version(study))
    asked = {(each.scenario, each.sizing) for each in searches}
    digests = {key: _digest_now(now, *key) for key in asked}
    return {each.pk for each in searches if digests[each.scenario, each.sizing] == each.digest}


def _digest_now(now: StudyDocument, scenario: str, sizing_id: str) -> str | None:
    try:
        return digest_of_search(apply_scenario(now, scenario), sizing_id)
    except StudyError:
        return None
