"""Figures by interval: what stood where between two full hours, half hours or quarters."""

from flowcore.kernel.accounts.levels import book_level
from flowcore.kernel.clockwork.events import schedule
from flowcore.kernel.compiling.compiled import part, rare
from flowcore.kernel.records.kinds import MEMBER_STATES, NONE, EventKind, Rank
from flowcore.kernel.records.ledger import INSIDE_LEVEL, LINE_LEVEL
from flowcore.kernel.records.world import World
from flowcore.kernel.staff.members import book_member


@part
def schedule_interval(world: World) -> None:
    """Schedule the end of the interval that runs now, on the clock's full hours.

    What happens at that very instant belongs to the next interval; at the end of the run there is none.
    """
    run = world.plan.run[0]
    clock = world.clock[0]
    ends = clock.now + run.interval - (run.start_minute + clock.now) % run.interval
    schedule(world, ends, Rank.FIRST if ends < run.length else Rank.LAST, EventKind.INTERVAL_OVER, NONE, 0)


@part
def enter_figure(world: World, row: int, column: int, figure: float) -> None:
    """Add what a figure has grown by since the interval began."""
    world.series[row, column] += figure - world.marks[column]
    world.marks[column] = figure


@part
def collect_interval(world: World) -> None:
    """Write down the interval that ends now: lines of steps, cases inside by type, states of members, arrivals."""
    run = world.plan.run[0]
    row = world.clock[0].interval
    if run.by_week:
        row = row % len(world.series)
    if row >= len(world.series):
        return
    sections = world.plan.sections[0]
    for step in range(run.document_steps):
        book_level(world, 2 * step + LINE_LEVEL)
        enter_figure(world, row, step, world.levels[2 * step + LINE_LEVEL].area)
    for kind in range(run.types):
        level = sections.type_levels + 2 * kind + INSIDE_LEVEL
        book_level(world, level)
        enter_figure(world, row, sections.type_series + kind, world.levels[level].area)
    for team in range(len(world.teams)):
        collect_team(world, row, sections.team_series + MEMBER_STATES * team, team)
    for stream in range(len(world.sources)):
        enter_figure(world, row, sections.stream_series + stream, float(world.stream_tally[stream].arrived))
    enter_figure(world, row, sections.completed_series, float(world.clock[0].completed))


@part
def collect_team(world: World, row: int, column: int, team: int) -> None:
    """Write down the minutes of a team's members in each state in the interval that ends now."""
    plan = world.plan.teams[team]
    for member_id in range(plan.first_member, plan.first_member + plan.members):
        book_member(world, member_id)
    for state in range(MEMBER_STATES):
        minutes = 0.0
        for member_id in range(plan.first_member, plan.first_member + plan.members):
            minutes += world.member_time[member_id, state] + world.member_time[member_id, MEMBER_STATES + state]
        enter_figure(world, row, column + state, minutes)


@rare
def end_interval(world: World) -> None:
    """End an interval and begin the next."""
    collect_interval(world)
    world.clock[0].interval += 1
    schedule_interval(world)
