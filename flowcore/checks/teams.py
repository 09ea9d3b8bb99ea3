"""Checks that teams can do what is asked of them."""

from collections import Counter
from collections.abc import Iterator

from flowcore.checks.registry import doubt, soundness
from flowcore.problems import Problem, error_at, warning_at
from flowcore.study import StudyDocument
from flowcore.study.graph import passed_between
from flowcore.study.needs import all_needs, skill_name, teams_of
from flowcore.study.rosters import RosterRow
from flowcore.study.steps import Serve
from flowcore.study.timetable import hours_to_period, members_with, most_members

LAST_DATE = "9999-12-31"


@soundness
def needs_fit_teams(study: StudyDocument) -> Iterator[Problem]:
    """No step asks for more members at once than its teams ever have."""
    teams = {team.id: team for team in study.teams}
    for step in study.steps:
        if not isinstance(step, Serve):
            continue
        asked: Counter[tuple[str, ...]] = Counter()
        for need in step.needs:
            asked[tuple(team for team in teams_of(need, study) if team in teams)] += need.count
        for able, count in asked.items():
            most = sum(most_members(teams[team]) for team in able)
            if able and count > most:
                names = " and ".join(teams[team].name for team in able)
                yield error_at(
                    where=f"steps/{step.id}/needs",
                    what=f"{step.name} needs {count} of {names} at once, and there are {most}.",
                    mend=f"Ask for fewer, or let {names} be {count} or more.",
                )


@soundness
def skills_are_had(study: StudyDocument) -> Iterator[Problem]:
    """Every skill that is asked for is had by some team."""
    skills = {skill for team in study.teams for skill in team.skills}
    for step in study.steps:
        for need in step.needs if isinstance(step, Serve) else []:
            if need.skill is not None and need.skill not in skills:
                yield error_at(
                    where=f"steps/{step.id}/needs",
                    what=f'No team has the skill "{skill_name(need.skill, study)}".',
                    mend="Give it to a team, or ask for another.",
                )


@soundness
def teams_have_work(study: StudyDocument) -> Iterator[Problem]:
    """Every team is needed somewhere."""
    needed = {team for need in all_needs(study) for team in teams_of(need, study)}
    for team in study.teams:
        if team.id not in needed:
            yield warning_at(f"teams/{team.id}", f"No step needs {team.name}.", "Let a step ask for it, or delete it.")


@soundness
def skills_are_asked_for(study: StudyDocument) -> Iterator[Problem]:
    """Every skill of a team is asked for by some step."""
    asked = {need.skill for need in all_needs(study)}
    for team in study.teams:
        for skill in team.skills:
            if skill not in asked:
                yield warning_at(
                    f"teams/{team.id}/skills",
                    f'No step asks for the skill "{skill_name(skill, study)}".',
                    "Ask for it, or take it away.",
                )


@soundness
def breaks_fall_in_their_shift(study: StudyDocument) -> Iterator[Problem]:
    """Everybody has every break before the shift ends."""
    for team in study.teams:
        for n, row in enumerate(team.roster):
            shift = hours_to_period(0.0, row.from_, row.to)
            for place, each in enumerate(row.breaks):
                have = members_with(row, each, shift)
                if have < row.people:
                    who = f"only {have} of the {row.people}" if have else "none"
                    yield warning_at(
                        f"teams/{team.id}/roster/{n}/breaks/{place}",
                        f"{team.name}: {who} who come from {row.from_} to {row.to} have the break of "
                        f"{each.length} before their shift ends.",
                        "Let it begin earlier, or let more of them go at once.",
                    )


@doubt
def shifts_are_written_once(study: StudyDocument) -> Iterator[Problem]:
    """No two shifts of a team have the same hours, breaks and days at once: they would be counted twice."""
    for team in study.teams:
        for n, row in enumerate(team.roster):
            twin = next((m for m, other in enumerate(team.roster[:n]) if _same_people(row, other)), None)
            if twin is not None:
                many = row.people + team.roster[twin].people
                yield warning_at(
                    f"teams/{team.id}/roster/{n}",
                    f"{team.name}: shifts {twin + 1} and {n + 1} are both from {row.from_} to {row.to} "
                    f"on the same days, so {many} people come.",
                    "Where these are the same people, take one of the two away.",
                )


def _same_people(row: RosterRow, other: RosterRow) -> bool:
    """Say whether two rows may be the same people, written twice."""
    same_hours = (row.from_, row.to, row.breaks) == (other.from_, other.to, other.breaks)
    last = min(row.to_date or LAST_DATE, other.to_date or LAST_DATE)
    at_once = max(row.from_date or "", other.from_date or "") <= last
    return same_hours and at_once and bool(set(row.days) & set(other.days))


@soundness
def absence_is_of_shifts(study: StudyDocument) -> Iterator[Problem]:
    """Only who has shifts can miss them."""
    for team in study.teams:
        if team.absence and not team.roster:
            yield warning_at(
                f"teams/{team.id}/absence",
                f"{team.name} are always there, so there is no shift that they could miss.",
                "Let them come by shifts, or take the absence away.",
            )


@doubt
def kept_members_cannot_lock(study: StudyDocument) -> Iterator[Problem]:
    """No case keeps a member of a team while it waits for another of the same team, and others do alike."""
    for step in study.steps:
        for need in step.needs if isinstance(step, Serve) else []:
            if need.keep_until is None or need.keep_until == step.id:
                continue
            kept = set(teams_of(need, study))
            for other in _steps_until(study, step.id, need.keep_until):
                waits = [each for each in other.needs if kept & set(teams_of(each, study)) and each.count > need.count]
                if waits:
                    yield warning_at(
                        f"steps/{other.id}/needs",
                        f"{other.name} asks for more of a team of which cases keep members since {step.name}: "
                        "if all are kept, each case waits for the others for ever.",
                        "Keep them less long, or ask for no more than are kept.",
                    )


def _steps_until(study: StudyDocument, first: str, last: str) -> list[Serve]:
    """Return the steps with needs that a case may pass on the way from one step to another."""
    passed = passed_between(study, first, last)
    return [step for step in study.steps if step.id in passed and isinstance(step, Serve)]
