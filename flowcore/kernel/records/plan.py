"""The records of the plan: a study as arrays, which a replication reads and never writes.

Lists of numbers of any length lie in `Plan.lists` (whole) and `Plan.numbers` (real); a record says
where its own begin. A step of the plan is a step of the document at one place: those with several
places have one each, and a way with an escort is a step of its own. `document` leads back.
Times are minutes; a time of the run counts from its start. NONE stands where there is none.
"""

from flowcore.kernel.records.record import F8, I8, U8, record


@record
class Distribution:
    """A distribution of times or of plain numbers; what its parameters are depends on its shape.

    Mean; low, high; low, mode, high; mean, sd, Φ(−mean/sd); μ, σ of the log; stage mean; shape and scale; α, β and
    bounds.
    """

    a: F8
    b: F8
    c: F8
    kind: I8  # Shape
    stages: I8  # of an Erlang; or how many values there are
    expected: F8  # its mean
    first: I8  # where in `numbers` its values and their cumulative weights begin


@record
class Stream:
    """Where cases come from."""

    key: U8  # of its draws
    kind: I8  # StreamKind
    gap: I8  # the distribution of the time between two occasions
    to: I8  # the step to which its cases come
    mix: I8  # where in `numbers` the cumulative shares of its case types begin, one a type
    hours: I8  # where in `lists` its mixes by hour begin: from and to in minutes of the day, and where the mix is
    hour_mixes: I8  # how many there are
    calendar: I8  # while which it brings cases
    group: I8  # the distribution of how many come at once
    first_start: I8  # of the traits that it gives
    starts: I8  # how many
    profile: I8  # where in `numbers` its cumulative arrivals by interval of the week begin
    intervals: I8  # how many intervals the week has
    first_session: I8  # of appointments
    sessions: I8  # how many
    punctuality: I8  # the distribution of how late those with an appointment come
    first_date: I8  # of the known arrivals
    dates: I8  # how many
    limit: I8  # of its cases in all; 0 for none
    every: F8  # minutes between two chances that a case comes
    chance: F8  # that it comes
    opens_at: F8  # time of the run
    shuts_at: F8  # time of the run
    interval: F8  # minutes of an interval of its profile
    no_show: F8  # share of the appointments to which nobody comes
    filled: F8  # share of the slots that are booked


@record
class Start:
    """A trait and what it becomes: drawn, added to, or set."""

    key: U8  # of its draws
    trait: I8  # which
    distribution: I8  # from which it is drawn
    add: I8  # 1 where the value is added to the trait
    value: F8  # what it is set to, or what is added


@record
class Session:
    """A weekday's slots of an appointment stream."""

    day: I8  # of the week, 0 for Monday
    places: I8  # in each slot
    begins: F8  # minutes of the day
    ends: F8  # minutes of the day; beyond 1440 after midnight
    every: F8  # minutes from slot to slot


@record
class Date:
    """An arrival that is known."""

    at: F8  # time of the run
    type: I8  # of the case
    first_start: I8  # of the traits that it has
    starts: I8  # how many


@record
class CaseType:
    """What the cases of a type have in common."""

    priority: F8  # the higher the sooner
    grade: I8  # of its priority among those of all types, 0 for the highest
    due: F8  # minutes after the arrival, or after the appointment; NEVER
    waiting_cost: F8  # of a case that waits, an hour
    inside_cost: F8  # of a case inside, an hour
    first_start: I8  # of the traits that they have
    starts: I8  # how many


@record
class Step:
    """A step of the document at one of its places, or a way with an escort."""

    key: U8  # of all draws at it
    kind: I8  # StepKind
    document: I8  # the step of the document
    priority: F8  # added to that of who is here
    is_plain: I8  # 1 where a visit is work by one of one team, and nothing else hangs on it
    line: I8  # its first line: one for each way in which a case's own people may meet its needs
    pool: I8  # that of the first line
    coverable: I8  # the needs (bits) that a case's own people may meet
    first_need: I8
    needs: I8  # how many
    times: I8  # where in `lists` the distributions of its work begin, one a case type
    first_trait_time: I8  # where in `lists` those by trait begin: trait, value, distribution
    trait_times: I8  # how many
    first_link: I8  # of its ways out
    links: I8  # how many
    shares: I8  # where in `numbers` the cumulative shares of its ways begin, a row a case type
    pick: I8  # WayPick
    looks_ahead: I8  # 1 where ways through steps that take no time are chosen before the case leaves
    loop: I8  # the loop that it is in
    place: I8  # where it is
    first_place: I8  # where in `lists` the steps begin that are this one at its places
    places: I8  # how many
    place_pick: I8  # PlacePick
    place_shares: I8  # where in `numbers` the cumulative shares of the places begin
    changeover: I8  # the distribution of the time after a case of another type
    keeps_people: I8  # 1 where a blocked case keeps its people
    travel_kind: I8  # TravelKind
    clears: I8  # SignalKind
    lets_go: I8  # how many a signal lets go at once; 0 for all
    quorum: I8  # how many make a batch, or clear a signal
    first_raised: I8  # where in `lists` the signals begin that its end clears
    raised: I8  # how many
    first_told: I8  # where in `lists` the messages begin that one's coming tells, each with the first of its signal
    told: I8  # how many
    teller: I8  # the number of the step among those that tell something, from 1 on
    message: I8  # the first of those for which it waits
    messages: I8  # how many
    tellers: I8  # where in `lists` the tellers of these begin
    join: I8  # of a fork: where its branches come together
    first_start: I8  # of the traits that it sets
    starts: I8  # how many
    first_begun: I8  # where in `lists` the deadlines begin that start here
    begun: I8  # how many
    first_met: I8  # where in `lists` the deadlines begin that are met here
    met: I8  # how many
    span_point: I8  # the first of those that are passed here
    visit_counter: I8  # of a case that counts its visits
    abandoned: I8  # of an exit: 1 where those who leave by it have given up
    value: I8  # ValueClass
    cost: F8  # of a case served
    changeover_cost: F8  # of a changeover
    penalty: F8  # of a case that leaves by it
    every: F8  # minutes between two clearings, or the longest wait for a batch
    clears_first: F8  # time of the run


@record
class Link:
    """A way from a step."""

    key: U8  # of all draws on it
    to: I8  # the step to which it leads
    travel: I8  # the distribution of its time
    walks: I8  # 1 where its time is the walk from place to place
    back: I8  # 1 where it closes a loop
    rule: I8  # where its byte code begins
    chance: F8  # that a case which forks takes it


@record
class Test:
    """One instruction of a rule: hold a fact against values and go on at `yes` or `no`."""

    fact: I8  # Fact
    about: I8  # which trait, counter, step or team
    is_: I8  # Comparison
    count: I8  # how many values
    first: I8  # where in `numbers` they begin
    yes: I8  # the next test, or RULE_HOLDS or RULE_FAILS
    no: I8


@record
class Need:
    """So many members, of some teams, that work at a step asks for."""

    count: I8
    first_team: I8  # where in `lists` its teams begin, the preferred first
    teams: I8  # how many
    slot: I8  # of a case's memory, where it remembers who met it
    same_as: I8  # the slot of who is asked for again
    keep_until: I8  # the step of the document with which those who met it stay
    most_covered: I8  # how many of it a case's own people may meet


@record
class Condition:
    """So many idle members among some teams, for the needs that only they can meet.

    A pool's needs can be met where all its conditions hold (Gale, A theorem on flows in networks,
    Pacific Journal of Mathematics 7, 1957).
    """

    count: I8
    mask: I8  # the needs of the pool (bits)
    last: I8  # the last of them, a need of the plan
    first_team: I8  # where in `lists` the teams begin
    teams: I8  # how many


@record
class Pool:
    """Lines that ask for exactly the same under the same conditions.

    Whoever cannot serve the first of them can serve none.
    """

    first_need: I8  # where in `lists` its needs begin
    needs: I8  # how many
    first_condition: I8
    conditions: I8  # how many
    first_incidence: I8  # of its incidences with teams
    incidences: I8  # how many
    first_team: I8  # where in `lists` the teams begin that it asks
    mixed: I8  # 1 where needs share teams, so that it matters who meets which
    reserve: I8  # 1 where members are held back for it
    preempts: I8  # 1 where it takes members from work on less urgent cases
    overtime: I8  # WhenDone
    never: I8  # 1 where it is served only in overtime, and nobody has any
    only_team: I8  # the one team that it asks, where it has one need of one team
    only_count: I8  # how many of it


@record
class Line:
    """How cases wait at a step, for each set of needs that they may still have there."""

    discipline: I8  # Discipline
    kept: I8  # Kept
    most: I8  # who may wait
    when_full: I8  # WhenFull
    full_to: I8  # the step to which those are sent who are turned away
    balk_at: I8  # how many waiting keep others from joining
    balks_to: I8  # the step to which those go
    patience: I8  # its distribution
    gives_up_to: I8  # the step to which those go whose patience is over
    room: I8  # the waiting room whose length counts, shared or its own
    step: I8  # of the plan
    pool: I8  # what those in it ask for
    min_wait: F8  # minutes before a case can be called
    is_only: I8  # 1 where its pool has no other line


@record
class Team:
    """People, equipment, or what limits how many are at a place."""

    key: U8  # of the draws of its members
    kind: I8  # TeamKind
    first_member: I8
    members: I8  # how many
    peak: I8  # how many the roster has at its fullest
    first_row: I8  # of its roster
    rows: I8  # how many; 0 where it is always there
    first_interruption: I8
    interruptions: I8  # how many
    picks: I8  # MemberPick
    at_break: I8  # HandOver
    at_shift_end: I8  # HandOver
    stay: I8  # Stay
    place: I8  # where its members begin
    walks: I8  # 1 where they walk to their cases
    pace: F8  # times as fast as the work is planned
    rate: F8  # an hour
    overtime: F8  # times the rate
    use_cost: F8  # of a member taken
    stay_at_most: F8  # minutes after the shift
    absence: F8  # share of the shifts missed


@record
class RosterRow:
    """A row of a roster and the members who follow it."""

    team: I8
    first_member: I8
    members: I8  # how many
    first_break: I8
    breaks: I8  # how many
    slot: I8  # its bit in a case's memory, where it stays for the cases that wait


@record
class BreakPlan:
    """A break of a roster row."""

    after: F8  # minutes of the shift
    at: F8  # minute of the day, or -1 where it is not by the clock
    length: F8  # minutes
    within: F8  # minutes over which it is spread
    taken: I8  # BreakTaken
    paid: I8  # 1 where it is
    row: I8  # of which roster row


@record
class Interruption:
    """What interrupts a team's members now and then."""

    first_clock: I8  # its first clock
    after: I8  # the distribution of the time, or of the cases, until the next one
    length: I8  # the distribution of how long it lasts
    measure: I8  # ClockBy
    comes_to: I8  # Whom
    rule: I8  # HandOver
    team: I8


@record
class TimelineEntry:
    """What is known to come: a shift, an opening, a signal by timetable."""

    at: F8  # time of the run
    since: F8  # when the shift that starts began
    until: F8  # when it ends
    rank: I8  # Rank
    kind: I8  # TimelineKind
    subject: I8  # a roster row, a pool, a step


@record
class Calendar:
    """When something is open."""

    first: I8  # where in `numbers` its periods begin: start, end and open minutes before the start
    periods: I8  # how many


@record
class Deadline:
    """A clock from one point of the flow to another."""

    key: U8  # of the luck of the companions that it sends
    within: F8  # minutes
    every: F8  # minutes between two companions; 0 for one only
    send: I8  # the step to which a companion is sent
    divert: I8  # the step to which the case is diverted


@record
class SpanPoint:
    """Where a span begins or ends; the points of one step hang together."""

    step: I8  # of the document
    leaving: I8  # 1 where it is passed on leaving
    span: I8
    ends: I8  # 1 where the span ends here
    next: I8  # point of the same step


@record
class Measure:
    """A measure of the analyst's own: of cases, of visits, or (from `Run.of_time` on) of the time."""

    whom: I8  # AboutWhom
    about: I8  # the number of the type, stream or step that it is of
    rule: I8  # where its byte code begins
    level: I8  # which level, or which team
    level_of: I8  # LevelOf
    first_edge: I8  # where in `numbers` the minutes of the day begin at which its rule may change
    edges: I8  # how many
