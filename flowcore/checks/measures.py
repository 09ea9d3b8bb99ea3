"""Checks of the analyst's own measures: what they are of exists and can be told."""

from collections.abc import Iterator

from flowcore.checks.registry import soundness
from flowcore.problems import Problem, error_at
from flowcore.study import StudyDocument
from flowcore.study.measures import OF_THE_MOMENT, TIME
from flowcore.study.steps import Exit


@soundness
def measures_are_of_what_exists(study: StudyDocument) -> Iterator[Problem]:
    """Own measures are of types, streams, steps, outcomes and teams that exist, and each of a quantity that it has."""
    for measure in study.measures:
        told = measure.share or measure.count or measure.level
        if told is not None and told.of != TIME and told.of.split("/")[1] not in _ids(study, told.of):
            yield error_at(
                where=f"measures/{measure.id}/of",
                what=f'{measure.name} is of "{told.of}", which is not there.',
                mend="Choose what it is of.",
            )


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


@soundness
def measures_of_the_time_ask_of_the_moment(study: StudyDocument) -> Iterator[Problem]:
    """Own measures of the time ask only what can be told at any moment, without a case."""
    for measure in study.measures:
        asked = [each.fact for each in measure.conditions if each.kind not in OF_THE_MOMENT]
        if measure.of_time is not None and asked:
            yield error_at(
                where=f"measures/{measure.id}/where",
                what=f"{measure.name} is of the time, and asks {asked[0]}, which only a case can tell.",
                mend="Ask for a line, for free members, the time of day or the weekday.",
            )
