"""Checks that what scenarios vary is there, and that traits do something."""

from collections.abc import Iterator

from flowcore.checks.references import written_traits
from flowcore.checks.registry import soundness
from flowcore.problems import Problem, StudyError, error_at, warning_at
from flowcore.study import StudyDocument
from flowcore.study.graph import links_of
from flowcore.study.pointers import leads_somewhere
from flowcore.study.rules import conditions_of
from flowcore.study.runs import Scenario
from flowcore.study.scenarios import apply_scenario, misfits, parts_around
from flowcore.study.steps import WorkByType


@soundness
def levers_move_something(study: StudyDocument) -> Iterator[Problem]:
    """Every lever drives something, and every place that it drives is there."""
    document = parts_around(study, [path for lever in study.levers for path in lever.sets])
    for lever in study.levers:
        where = f"levers/{lever.id}/sets"
        if not lever.sets:
            yield error_at(where, f"The lever {lever.name} drives nothing.", "Let it drive something, or delete it.")
        for path in lever.sets:
            if not leads_somewhere(document, path):
                what = f"The lever {lever.name} drives {path}, which is not there."
                yield error_at(where, what, "Take the place away, or delete the lever.")


@soundness
def scenarios_fit(study: StudyDocument) -> Iterator[Problem]:
    """Every scenario moves levers that are there and makes a study that can be read."""
    for scenario in study.scenarios:
        yield from _does_not_fit(study, scenario)


def _does_not_fit(study: StudyDocument, scenario: Scenario) -> Iterator[Problem]:
    """Yield what of a scenario does not fit the study, or what of its outcome cannot be read."""
    if found := misfits(study, scenario):
        for each in found:
            yield warning_at(each.where, f"{scenario.name}: {each.what}", each.mend)
        return
    try:
        apply_scenario(study, scenario.id)
    except StudyError as error:
        for problem in error.problems:
            what = f"{scenario.name}: {problem.where}: {problem.what}"
            yield warning_at(f"scenarios/{scenario.id}", what, problem.mend)


@soundness
def traits_matter(study: StudyDocument) -> Iterator[Problem]:
    """Every trait is asked for somewhere, and has more than its first value."""
    written = {trait for _, values in written_traits(study) for trait in values}
    read = _read_traits(study)
    for trait in study.traits:
        if trait.id not in read:
            yield warning_at(
                f"traits/{trait.id}", f"Nothing depends on {trait.name}.", "Use it in a rule, or delete it."
            )
        elif trait.id not in written:
            yield warning_at(
                f"traits/{trait.id}",
                f"{trait.name} always stays what it is at first.",
                "Let a case type, a stream or a step set it.",
            )


def _read_traits(study: StudyDocument) -> set[str]:
    asked = [condition for measure in study.measures for condition in measure.conditions]
    read = {condition.about for condition in asked if condition.kind == "trait"}
    for step in study.steps:
        for link in links_of(step):
            conditions = conditions_of(link.when) if link.when else []
            read |= {condition.about for condition in conditions if condition.kind == "trait"}
        for work in (getattr(step, "work", None), getattr(step, "time", None)):
            read |= set(work.by_trait) if isinstance(work, WorkByType) else set()
    return read
