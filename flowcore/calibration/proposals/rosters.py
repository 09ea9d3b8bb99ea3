"""What a log says of who works when."""

from collections import defaultdict
from collections.abc import Iterator
from typing import Any

from flowcore.calibration.found import LogFound
from flowcore.calibration.proposals.matching import Matching
from flowcore.calibration.proposals.proposal import PlaceSet, Proposal, Proposed
from flowcore.calibration.shifts import BreakFound, PersonFound, Shift, together
from flowcore.study import StudyDocument
from flowcore.study.base import Id
from flowcore.study.calendars import DAYS, minute_of_day, time_of_day
from flowcore.study.durations import DAY, minutes
from flowcore.study.needs import teams_of
from flowcore.study.steps import Serve
from flowcore.study.teams import Team

FEW_TIMES = 20
NEAR = 30
Row = dict[str, Any]


def rosters_of(study: StudyDocument, found: LogFound, names: Matching) -> Iterator[Proposal]:
    """Yield the shifts of each team's members, as far as what they did tells."""
    members: dict[Id, list[PersonFound]] = defaultdict(list)
    for person in found.people:
        works_for = _team_of(study, person, names)
        if works_for is not None and person.shifts:
            members[works_for].append(person)
    for team in study.teams:
        if members[team.id]:
            yield _proposal(team, members[team.id])


def _team_of(study: StudyDocument, person: PersonFound, names: Matching) -> Id | None:
    """Return the team of a person: the one that is part of the name, else the one that most of the work asks for."""
    people = [team for team in study.teams if team.kind == "people"]
    named = [team.id for team in people if person.name.casefold().startswith(team.name.casefold())]
    if named:
        return named[0]
    done: dict[Id, int] = defaultdict(int)
    kinds = {team.id for team in people}
    for name, many in person.visits.items():
        step = study.step(names.steps.get(name) or "")
        for need in step.needs if isinstance(step, Serve) else []:
            for team in teams_of(need, study):
                if team in kinds:
                    done[team] += many
    best = sorted(done, key=lambda each: -done[each])[:2]
    return best[0] if best and (len(best) == 1 or done[best[0]] > done[best[1]]) else None


def _proposal(team: Team, people: list[PersonFound]) -> Proposal:
    old = [row.model_dump(mode="json", exclude_defaults=True) for row in team.roster]
    new = [_row(shift, old) for shift in together(people)]
    at = f"/teams/{team.id}/roster"
    always = [PlaceSet(at=f"/teams/{team.id}/size", value=None)] if team.size is not None else []
    times = sum(sum(person.visits.values()) for person in people)
    who = "1 person" if len(people) == 1 else f"{len(people)} people"
    seen = any(shift.breaks for person in people for shift in person.shifts)
    kept = " Breaks are when each does nothing, at the same time every day." if seen else " No break is seen in it."
    return Proposal(
        kind=Proposed.ROSTER,
        at=at,
        name=team.name,
        what="who is there when",
        old=old,
        new=new,
        set=[*always, PlaceSet(at=at, value=new)],
        agrees=_agrees(old, new),
        method="from the first to the last thing that each did, to the half hour",
        evidence=f"{who} did {times:,} things.{kept}",
        doubt="They did too little to tell their shifts." if times < FEW_TIMES * len(people) else "",
    )


def _row(shift: Shift, old: list[Row]) -> Row:
    """Return a shift as a row of the document; where no break is seen, with those of the old row most like it."""
    new = {"days": shift.days, "from": _time(shift.begins), "to": _time(shift.ends), "people": shift.people}
    like = min((row for row in old if set(row["days"]) & set(shift.days)), key=lambda row: _apart(row, new), default={})
    known = like.get("breaks", [])
    breaks = [_break(each, known) for each in shift.breaks] or known
    return new | ({"breaks": breaks} if breaks else {})


def _break(found: BreakFound, known: list[Row]) -> Row:
    """Return a break as the document has it, with the name of the one that is about as long, paid as that is."""
    seen = {"at": _time(found.at), "length": f"{found.length} min"}
    like = min(known, key=lambda each: abs(minutes(each["length"]) - found.length), default={})
    return {key: like[key] for key in ("name", "paid") if key in like} | seen


def _time(minute: int) -> str:
    return time_of_day(minute if minute == DAY else minute % int(DAY))


def _apart(row: Row, other: Row) -> int:
    """Return by how many minutes two shifts begin and end apart."""
    return sum(abs(minute_of_day(row[end]) - minute_of_day(other[end])) for end in ("from", "to"))


def _agrees(old: list[Row], new: list[Row]) -> bool:
    """Say whether as many people have the same hours on each day, but for half an hour at either end."""
    for day in DAYS:
        before, after = (
            sorted(
                (minute_of_day(row["from"]), minute_of_day(row["to"]))
                for row in rows
                if day in row["days"]
                for _ in range(row["people"])
            )
            for rows in (old, new)
        )
        if len(before) != len(after):
            return False
        if any(
            abs(one - other) > NEAR
            for ends in zip(before, after, strict=True)
            for one, other in zip(*ends, strict=True)
        ):
            return False
    return True
