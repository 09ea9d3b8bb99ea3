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


def all_needs(study: StudyDocument) -> list[Need]:
    """Return every need of a study, those of escorts too."""
    needs = [need for step in study.steps if isinstance(step, Serve) for need in step.needs]
    escorts = [link.escort for step in study.steps for link in links_of(step)]
    return needs + [escort for escort in escorts if escort is not None]
