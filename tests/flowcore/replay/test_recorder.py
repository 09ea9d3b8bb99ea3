"""What a replay says is seen, beside the kernel's own state at that time, over studies of every construct."""

import numpy as np
import pytest

from flowcore.checks import errors_of
from flowcore.kernel.records import kinds as k
from flowcore.kernel.records.choices import Discipline
from flowcore.kernel.records.ledger import Seen
from flowcore.kernel.records.record import Table
from flowcore.kernel.records.world import World
from flowcore.kernel.run.worlds import go_until, new_world
from flowcore.plan import compile_study
from flowcore.replay.recorder import Recorder
from flowcore.replay.written import written
from flowcore.study import minutes, read_study
from tests.oracle.studies import study as put_together

STUDIES, MOMENTS = 30, 200
OF_STATE = {
    k.CaseState.AT_WORK: k.Doing.AT_WORK,
    k.CaseState.ON_THE_WAY: k.Doing.ON_THE_WAY,
    k.CaseState.IN_LINE: k.Doing.WAITING,
    k.CaseState.WAITING: k.Doing.WAITING,
    k.CaseState.BLOCKED: k.Doing.BLOCKED,
}


def in_use(world: World) -> list[int]:
    """The records of cases that are not on the kernel's list of free ones."""
    free, place, following = set(), int(world.clock[0].free_case), world.turns.next.tolist()
    while place != k.NONE:
        free.add(place)
        place = following[place]
    return [number for number in range(len(world.cases)) if number not in free]


def called_in_order(world: World, line: int, waiting: list[int]) -> list[int]:
    """Who stands in a line, first who is called first: along its chain, or by rank and turn where it is a heap."""
    if world.plan.lines[line].discipline in (Discipline.FIRST_COME, Discipline.LAST_COME):
        found, place = [], int(world.lines[line].first)
        while place != k.NONE:
            found.append(place)
            place = int(world.turns[place].next)
        return found
    mine = [each for each in waiting if world.cases[each].line == line and world.cases[each].stands == k.Stand.IN_LINE]
    return sorted(mine, key=lambda each: (world.turns[each].rank, world.turns[each].order))


def check(world: World, cases: Table[Seen], members: Table[Seen]) -> None:
    used = in_use(world)
    seen = [number for number, case in enumerate(cases) if case.doing != k.Doing.NOTHING]
    assert seen == used
    for number in used:
        case, drawn = world.cases[number], cases[number]
        expected = OF_STATE.get(int(case.state), k.Doing.RIDING)
        assert (drawn.doing, drawn.number, drawn.type, drawn.token) == (
            expected, case.number, case.type, case.token_kind,
        )  # fmt: skip
        assert (drawn.step, drawn.with_, drawn.together) == (
            world.plan.steps[case.step].document, case.first_held, case.together,
        )  # fmt: skip
        if expected == k.Doing.RIDING:
            assert case.leader != k.NONE
        if expected == k.Doing.AT_WORK:
            assert drawn.ends == case.ends_at
    assert sum(int(world.cases[each].weight) for each in used) == world.clock[0].inside
    waiting = [each for each in used if cases[each].doing == k.Doing.WAITING]
    for line in range(len(world.lines)):
        expected_order = [each for each in called_in_order(world, line, waiting) if each in waiting]
        drawn_order = sorted(expected_order, key=lambda each: (cases[each].rank, cases[each].turn))
        assert drawn_order == expected_order
    for member, drawn in zip(world.members, members, strict=True):
        assert (drawn.doing, drawn.number, drawn.token) == (member.state, member.case, member.in_overtime)


@pytest.mark.parametrize("seed", range(STUDIES))
def test_what_is_seen_is_the_kernels_own_state(seed: int) -> None:
    study = read_study(put_together(seed))
    assert not errors_of(study)
    length = minutes(study.run.length)
    moments = np.sort(np.random.default_rng(seed).uniform(0, length, MOMENTS)).tolist()
    pieces = Recorder(study, 0).pieces(47.0)
    piece = next(pieces)
    world = new_world(compile_study(study), study.run.seed, 0)
    checked = 0
    for moment in moments:
        while piece.ends < moment and not piece.is_last:
            piece = next(pieces)
        if piece.ends < moment:
            break
        world, _ = go_until(world, moment)
        check(world, *piece.at(moment))
        checked += 1
    assert checked > 0


@pytest.mark.parametrize("seed", [3, 8, 14, 21])
def test_going_back_and_forth_is_as_playing_through(seed: int) -> None:
    study = read_study(put_together(seed))
    played = {piece.begins: piece for piece in Recorder(study, 0).pieces(20.0)}
    jumping, luck = Recorder(study, 0), np.random.default_rng(seed)
    for begins in luck.choice(list(played), 100).tolist():
        piece, before = jumping.piece(begins, begins + 20.0), played[begins]
        assert written(piece) == written(before)
        moment = luck.uniform(piece.begins, piece.ends)
        assert all((one == other).all() for one, other in zip(piece.at(moment), before.at(moment), strict=True))
