"""Checks that what is said to come from data is there."""

from collections.abc import Iterator

from flowcore.checks.registry import soundness
from flowcore.problems import Problem, warning_at
from flowcore.study import StudyDocument
from flowcore.study.pointers import leads_somewhere
from flowcore.study.scenarios import parts_around


@soundness
def sources_are_of_values(study: StudyDocument) -> Iterator[Problem]:
    """Every place that is said to come from data is in the document."""
    document = parts_around(study, list(study.sources))
    for path, source in study.sources.items():
        if not leads_somewhere(document, path):
            what = f"{path} is said to come from {source.file}, and is not there."
            yield warning_at("sources", what, "Take this out of the sources.")
