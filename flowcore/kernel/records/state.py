"""The records of the state of one replication. Times are minutes since the start."""

from flowcore.kernel.records.record import F8, I8, U8, record


@record
class Case:
    """A case, a branch or a companion inside the service.

    The fields are in the order in which they are written when one comes, since one who comes meets them all.
    """

    arrived_at: F8
    joined_at: F8  # when it came to its step
    since: F8  # when it was last charged
    due: F8
    work_left: F8  # minutes at a pace of 1; below 0 before its work begins
    cost: F8
    visit_cost: F8  # what it had cost when it came to its step
    visit_travel: F8  # minutes on the way that is part of this visit
    last_wait: F8  # minutes waited at this step, or the last one
    state: I8  # CaseState
    ways_chosen: I8  # ahead
    ways_taken: I8  # of them
    laps: I8  # of the loop that it is in
    absent: I8  # its members who are away
    walking: I8  # its members who are still coming
    causes: I8  # the accounts (bits) on which it has waited at this visit
    causes_before: I8  # and at those before
    in_work: I8  # 1 where all its needs here are met
    expected: I8  # Expected
    turned_away: I8
    stands: I8  # Stand
    is_outside: I8  # 1 where it is blocked before its first step
    visit_over: I8  # 1 where its visit is written down before it goes on
    together: I8  # how many travel as one with it
    cause: I8  # Account, of what it waits for
    place: I8
    link: I8  # its way on, once chosen
    to: I8  # the end of its way on
    goal: I8  # the step whose line decides whether it is blocked
    line: I8  # in which it waits, or has waited
    loop: I8  # the loop that it is in
    first_held: I8  # of its members
    person: I8  # the member for whom it waits
    fork: I8  # the last that it went through, or whose branch it is
    batch: I8  # of its gathering
    timers: I8  # its first running deadline
    leader: I8  # with whom it travels
    rides_in: I8  # the batch in which it does
    first_aboard: I8  # of those who travel with it
    last_aboard: I8
    next_aboard: I8  # of those who travel with its leader
    stamp: I8  # an event with another one has lost its meaning
    luck: U8  # the part of every draw's key that comes from the case
    type: I8
    stream: I8
    step: I8  # of the plan
    number: I8  # of its arrival, from 1
    priority: F8
    token_kind: I8  # TokenKind
    sender: I8  # of a companion: the case that sent it, if that is still inside
    weight: I8  # 1 for a case itself, 0 for branches, companions and records that are free
    last_cause: I8  # the last account on which it has waited at this visit
    changes_seen: I8  # of its pool's cause, when it was last charged for it
    ends_at: F8  # when its work ends
    begun: I8  # its turn among all works


@record
class Turn:
    """Where a case stands in a queue: apart from all else of it, so that a long line is looked through quickly."""

    rank: F8  # by the discipline
    order: I8  # in which they came
    next: I8  # case in the queue, or of the records that are free
    prev: I8
    child: I8


@record
class LineState:
    """The cases waiting at a step, and the line's own place among the lines of its pool."""

    rank: F8  # the first case's
    order: I8  # the first case's
    first: I8  # case
    last: I8
    count: I8  # of those held by a signal, or gathered
    next: I8  # line of the pool
    prev: I8
    child: I8


@record
class WaitingRoom:
    """How many wait before one step or several."""

    length: I8  # how many wait
    coming: I8  # for how many on their way a place is kept
    most: I8  # the most places that one of its lines has
    first: I8  # of those who are blocked before it
    last: I8


@record
class PoolState:
    """Those who ask for the same."""

    since: F8  # when its minutes were last booked
    waiting: I8  # how many ask for it
    charged: I8  # how many of them pay with their minutes for what is missing
    first: I8  # of the heap of its lines
    cause: I8  # Account, of what is missing
    team: I8  # whose it is
    closed: I8  # Closed
    shut: I8  # 1 while its hours are over
    next_reserving: I8  # pool for which members are held back
    prev_reserving: I8
    changes: I8  # of the cause, so far


@record
class Queue:
    """Cases whose particular person is free while something else of their pool is missing."""

    first: I8
    last: I8


@record
class PoolOfTeam:
    """A pool among the pools that wait for a team."""

    pool: I8
    team: I8
    next: I8
    prev: I8


@record
class TeamState:
    """How many of a team do what, and who waits for it."""

    first: I8  # of its idle members
    last: I8
    idle: I8
    idle_in_overtime: I8
    on_break: I8
    on_break_in_overtime: I8
    interrupted: I8
    interrupted_in_overtime: I8
    absent: I8
    rostered: I8  # on shift or beyond it
    rostered_in_overtime: I8
    working: I8
    first_incidence: I8  # of the pools that wait for it
    next_touched: I8  # team that is to be looked at
    touched: I8  # Look
    held_back: I8  # idle members kept for someone else
    held_back_before: I8
    staying: I8  # rows that stay after their shift
    first_attending: I8  # of the members for whom a case waits that is to be looked at
    uses: I8  # members taken so far
    uses_in_overtime: I8


@record
class RowState:
    """A roster row today."""

    staying: I8  # 1 while it stays after its shift
    awaited: I8  # cases that waited when the shift ended and are not yet done
    stamp: I8
    on_shift: I8
    until: F8  # when the shift ends


@record
class Member:
    """A member of a team: what it does, with whom, and what it owes."""

    since: F8  # when its time was last booked
    charged_at: F8  # when its case was last charged for it
    rank: F8  # among the idle
    used: F8  # minutes
    break_length: F8  # of the break that it owes
    break_until: F8  # or at least until then
    interruption_length: F8  # of the interruptions that it owes
    interruption_until: F8  # or at least until then
    walk_ends: F8
    walk_left: F8  # minutes of its way to its case
    order: I8  # among the idle
    stamp: I8
    walk_stamp: I8
    next: I8  # idle member
    prev: I8
    child: I8
    first: I8  # of the cases that wait for this very member
    last: I8
    next_held: I8  # member of its case
    next_attending: I8
    attending: I8  # 1 where those who wait for it are to be looked at
    team: I8
    row: I8  # of the roster
    state: I8  # MemberState
    case: I8  # which it serves, or is kept by
    keep_until: I8  # the step of the document with which it stays
    slot: I8  # of its case's memory, where it is remembered
    last_type: I8  # of the case before
    place: I8
    on_shift: I8
    in_overtime: I8
    shift_over: I8  # 1 where it leaves when its case is finished
    misses: I8  # 1 where it is absent from the shift that its row has now
    current_break: I8  # the break that it is on
    owed_break: I8  # the break that it owes
    owes_break: I8
    owes_interruption: I8
    break_follows: I8  # 1 where the break came due while it was away
    covers: I8  # the need that it meets as one kept from before
    step: I8  # where its case took it


@record
class InterruptionClock:
    """How much is left until the next interruption, of a member or of the whole team."""

    left: F8  # minutes or cases
    since: F8  # when it last ran on
    stamp: I8
    draws: I8  # so far
    waits: I8  # 1 where it starts anew when its interruption is over
    interrupt: I8
    member: I8  # NONE for the whole team


@record
class StepState:
    """A step of the plan."""

    round_robin: I8  # of the ways that are taken in turn
    place_round_robin: I8  # of the places that are taken in turn
    quota: I8  # how many a signal still lets go
    stamp: I8
    shut: I8  # 1 while a signal's hours are over
    here: I8  # cases that wait or are served, a batch as one
    waiting: I8


@record
class LinkState:
    """A way."""

    taken: I8  # how often
    travel: F8  # minutes on it in all


@record
class StreamState:
    """A stream's progress."""

    created: I8  # cases made
    drawn: I8  # gaps drawn
    group: I8  # cases of the group still to come
    occasion: I8  # that has just come
    date: I8  # the next of those that are known
    period: I8  # the day planned last; of an exact profile, intervals planned
    pending: I8  # occasions that are scheduled
    all_planned: I8  # 1 where no more will be
    over: I8  # 1 once its last case has come
    key: U8  # of its draws
    luck: U8  # of the occasion that has just come
    appointed_at: F8  # its slot
    cumulative_rate: F8  # the cumulative rate at its last occasion


@record
class Booking:
    """An appointment that will be kept."""

    luck: U8  # that the case brings
    appointed_at: F8  # when its slot begins
    next: I8  # record that is free


@record
class Fork:
    """A case that has forked, and its branches."""

    owner: I8  # who forked; NONE once it has left
    join: I8  # the step where its branches come together
    outstanding: I8  # branches
    outer: I8  # the fork of the same case within which this one is
    serial: I8  # among all forks and batches
    next_free: I8
    cost: F8  # of the branches that are back


@record
class Batch:
    """Cases that were gathered and travel as one."""

    first: I8  # of those who were gathered, but for their leader
    before: I8  # who was the last aboard
    outer: I8  # the batch that its leader led already
    size: I8  # how many travel together
    serial: I8  # among all forks and batches
    next_free: I8
    cost: F8  # what its leader had cost before


@record
class Timer:
    """A running deadline."""

    stamp: I8
    case: I8
    deadline: I8
    next: I8  # of the same case, or record that is free
    missed: I8  # how often
