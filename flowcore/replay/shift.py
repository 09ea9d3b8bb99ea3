"""What a member did between two times: cases, breaks, calls, waiting for work."""

from itertools import takewhile

import numpy as np
from pydantic import BaseModel

from flowcore.kernel.records import kinds as k
from flowcore.problems import StudyError, error_at
from flowcore.replay.recorder import Recorder
from flowcore.reports.event_log import member_named
from flowcore.results.catalogue import STATE_WORDS
from flowcore.results.staff import STATES
from flowcore.study import StudyDocument

_STATE_OF = {int(state): name for name, states in STATES.items() for state in states}
OFF = STATE_WORDS["off"]


class Spell(BaseModel):
    """From when until when (minutes since the start) a member did one thing, with which case, at which step."""

    at: float
    until: float
    doing: str
    overtime: bool
    case: int | None
    step: str


class MemberTime(BaseModel):
    """What a member did, by name, in order; and for how many minutes it did each thing, but for being off shift."""

    name: str
    spells: list[Spell]
    minutes: dict[str, float]


def called(study: StudyDocument, team: str, member: int) -> str:
    """Return what a member of a team, counted from 1, is called. Raises StudyError where there is none."""
    found = next((each for each in study.teams if each.id == team), None)
    if found is None:
        raise StudyError([error_at("team", f"There is no team {team}.", "Choose one of the study.")])
    if not 1 <= member <= found.members:
        raise StudyError(
            [error_at("member", f"{found.name} have no member {member}.", f"Choose 1 to {found.members}.")]
        )
    return member_named(found, member)


def time_of_member(study: StudyDocument, number: int, team: str, member: int, begins: float, ends: float) -> MemberTime:
    """Return what a member of a team, counted from 1, did between two times. Raises StudyError where there is none."""
    name = called(study, team, member)
    before = sum(each.members for each in takewhile(lambda each: each.id != team, study.teams))
    piece = Recorder(study, number).piece(begins, ends)
    who = before + member - 1
    rows = np.concatenate([piece.members[who : who + 1], piece.changes[piece.changes.who == -1 - who]])
    cases = _numbers_of(rows, np.concatenate([piece.cases, piece.changes[piece.changes.who >= 0]]))
    spells = [
        Spell(
            at=float(row["at"]),
            until=float(until),
            doing=STATE_WORDS[_STATE_OF[int(row["doing"])]],
            overtime=bool(row["token"]),
            case=case,
            step=study.steps[int(row["step"])].name if row["step"] >= 0 else "",
        )
        for row, until, case in zip(rows, np.append(rows["at"][1:], piece.ends), cases, strict=True)
    ]
    told = [each for each in _joined(spells) if each.until > each.at]
    minutes: dict[str, float] = {}
    for spell in told:
        if spell.doing != OFF:
            minutes[spell.doing] = minutes.get(spell.doing, 0.0) + spell.until - spell.at
    return MemberTime(name=name, spells=told, minutes=minutes)


def _numbers_of(rows: np.ndarray, seen: np.ndarray) -> list[int | None]:
    """Return the number of the case that a member was with at each of its lines; None for none."""
    found: list[int | None] = []
    for row in rows:
        record = int(row["number"])
        mine = seen[(seen["who"] == record) & (seen["at"] <= row["at"])] if record != k.NONE else seen[:0]
        found.append(int(mine["number"][-1]) or None if len(mine) else None)
    return found


def _joined(spells: list[Spell]) -> list[Spell]:
    """Return spells with those made one that follow each other and differ in nothing but their time."""
    found: list[Spell] = []
    for each in spells:
        last = found[-1] if found else None
        if last and last.model_copy(update={"at": each.at, "until": each.until}) == each:
            last.until = each.until
        else:
            found.append(each)
    return found
