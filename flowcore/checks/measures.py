"""Checks of the analyst's own measures: one that cannot be told is left out of a run, and stops none."""

from collections.abc import Iterator

from flowcore.checks.references import condition_problems, unknown
from flowcore.checks.registry import soundness
from flowcore.problems import Problem, Severity, error_at
from flowcore.study import StudyDocument
from flowcore.study.measures import OF_THE_MOMENT, TIME, OwnMeasure
from flowcore.study.steps import Exit


@soundness
def measures_can_be_told(study: StudyDocument) -> Iterator[Problem]:
    """Own measures are of what exists, and ask what can be told there."""
    for measure in study.measures:
        for problem in _troubles(study, measure):
            yield problem.model_copy(update={"level": Severity.WARNING})


def with_what_can_be_told(study: StudyDocument) -> StudyDocument:
    """Return a study without the own measures that cannot be told: a scenario may lack what they are of."""
    told = [measure for measure in study.measures if not any(_troubles(study, measure))]
    return study if len(told) == len(study.measures) else study.model_copy(update={"measures": told})


def _troubles(study: StudyDocument, measure: OwnMeasure) -> Iterator[Problem]:
    at = f"measures/{measure.id}"
    yield from _of_what_exists(study, measure, f"{at}/of")
    steps = {step.id for step in study.steps}
    if measure.time is not None:
        yield from unknown([measure.time.to.step], steps, f"{at}/to", "step")
        yield from unknown([measure.time.from_.step] if measure.time.from_ else [], steps, f"{at}/from", "step")
    for condition in measure.conditions:
        yield from condition_problems(study, condition, f"{at}/where")
    yield from _of_the_moment(measure, f"{at}/where")


def _of_what_exists(study: StudyDocument, measure: OwnMeasure, where: str) -> Iterator[Problem]:
    told = measure.share or measure.count or measure.level
    if told is not None and told.of != TIME and told.of.split("/")[1] not in _ids(study, told.of):
        what = f'{measure.name} is of "{told.of}", which is not there.'
        yield error_at(where, what, "Choose what it is of.")


def _ids(study: StudyDocument, of: str) -> set[str]:
    """Return the ids of what a measure may be of."""
    match of.split("/", maxsplit=1)[0]:
        case "type":
            return {each.id for each in study.case_types} | ({"all"} if of.endswith(("/all", "/inside")) else set())
        case "stream":
            return {each.id for each in study.streams}
        case "team":
            return {each.id for each in study.teams}
        case "outcome":
            return {each.id for each in study.steps if isinstance(each, Exit)}
    return {each.id for each in study.steps if not isinstance(each, Exit)}


def _of_the_moment(measure: OwnMeasure, where: str) -> Iterator[Problem]:
    """Yield what a measure of the time asks that only a case can tell."""
    asked = [each.fact for each in measure.conditions if each.kind not in OF_THE_MOMENT]
    if measure.of_time is not None and asked:
        what = f"{measure.name} is of the time, and asks {asked[0]}, which only a case can tell."
        yield error_at(where, what, "Ask for a line, for free members, the time of day or the weekday.")
