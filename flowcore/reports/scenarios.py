"""What each scenario of a study changes, in words, and what is wrong with it."""

from pydantic import BaseModel

from flowcore.checks import errors_of
from flowcore.problems import Problem, StudyError
from flowcore.study import StudyDocument
from flowcore.study.differences import Change, differences
from flowcore.study.runs import Scenario
from flowcore.study.scenarios import apply_scenario, misfits


class ScenarioWords(BaseModel):
    """What differs in a scenario from the study as it is, and why it could not be run."""

    id: str
    changes: list[Change]
    problems: list[Problem]


def scenarios_in_words(study: StudyDocument) -> list[ScenarioWords]:
    """Return what the scenarios of a study change, in the study's order; of what does not fit, the problems alone."""
    today = study.model_copy(update={"scenarios": [], "levers": []})
    return [_in_words(study, today, scenario) for scenario in study.scenarios]


def _in_words(study: StudyDocument, today: StudyDocument, scenario: Scenario) -> ScenarioWords:
    if problems := misfits(study, scenario):
        return ScenarioWords(id=scenario.id, changes=[], problems=problems)
    try:
        changed = apply_scenario(study, scenario.id)
    except StudyError as error:
        return ScenarioWords(id=scenario.id, changes=[], problems=error.problems)
    return ScenarioWords(id=scenario.id, changes=differences(today, changed), problems=errors_of(changed))
