"""Who can meet a need, and all needs of a study."""

from flowcore.study.base import Id
from flowcore.study.document import StudyDocument
from flowcore.study.graph import links_of
from flowcore.study.steps import Need, Serve


def teams_of(need: Need, study: StudyDocument) -> list[Id]:
    """Return the teams that can meet a need: those it prefers first, then as the study lists them."""
    if need.team is not None:
        return [need.team]
    able = [team.id for team in study.teams if need.skill in team.skills]
    preferred = [team for team in need.prefer if team in able]
    return preferred + [team for team in able if team not in preferred]


def skill_name(skill: Id, study: StudyDocument) -> str:
    """Return how people call a skill; one that the study does not list is called by its id."""
    return next((each.name for each in study.skills if each.id == skill), skill.replace("-", " "))


def all_needs(study: StudyDocument) -> list[Need]:
    """Return every need of a study, those of escorts too."""
    needs = [need for step in study.steps if isinstance(step, Serve) for need in step.needs]
    escorts = [link.escort for step in study.steps for link in links_of(step)]
    return needs + [escort for escort in escorts if escort is not None]
