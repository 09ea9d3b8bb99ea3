"""Figures of like things as tables: outcomes, streams, ways, spans, deadlines, and the members of teams."""

from collections.abc import Iterator, Mapping, Sequence

from pydantic import BaseModel

from flowcore.results.statistics import Estimate
from flowcore.study import StudyDocument, checkpoints_of
from flowcore.study.clocks import checkpoint_pairs
from flowcore.study.graph import links_of
from flowcore.study.steps import Exit

Figures = Mapping[str, Estimate]
MOST_MEMBERS = 200


class FigureCell(BaseModel):
    """A figure of a row, and its address."""

    address: str
    figure: Estimate


class FigureRow(BaseModel):
    """What is told of one thing, a cell for each column; None where it has no such figure."""

    name: str
    cells: list[FigureCell | None]


class FigureColumn(BaseModel):
    """What a column has: `unit` is minutes, share or count."""

    words: str
    unit: str


class FigureGroup(BaseModel):
    """Like things under each other: those of a `subject`, such as outcomes or members."""

    subject: str
    title: str
    columns: list[FigureColumn]
    rows: list[FigureRow]


Columns = Sequence[tuple[str, str, str]]
"""Of each column the rest of the address, the words and the unit."""
COUNT, MINUTES, SHARE = "count", "minutes", "share"
TIMES: Columns = (
    ("total/mean", "time, mean", MINUTES),
    ("total/p50", "half within", MINUTES),
    ("total/p90", "9 in 10 within", MINUTES),
    ("wait/mean", "of it waiting", MINUTES),
)
OUTCOMES: Columns = (("arrived", "cases", COUNT), *TIMES)
STREAMS: Columns = (
    ("arrived", "came", COUNT),
    ("completed", "completed", COUNT),
    ("abandoned", "gave up", COUNT),
    ("turned-away", "turned away", COUNT),
    *TIMES[:1],
)
WAYS: Columns = (("arrived", "cases", COUNT), ("travel/mean", "time on the way", MINUTES))
DEADLINES: Columns = (
    ("started", "begun", COUNT),
    ("met", "met", COUNT),
    ("missed", "missed", COUNT),
    ("left", "aside", COUNT),
)
MEMBERS: Columns = (
    ("utilisation", "at work, of time on duty", SHARE),
    ("state:working", "working", SHARE),
    ("state:walking", "walking", SHARE),
    ("state:idle", "free", SHARE),
    ("state:break", "on a break", SHARE),
    ("state:interrupted", "called away", SHARE),
    ("state:absent", "absent", SHARE),
    ("state:off", "off shift", SHARE),
)


def groups_of(study: StudyDocument, figures: Figures) -> list[FigureGroup]:
    """Return what a run says of outcomes, streams, ways, spans, deadlines and members, as far as there are any."""
    return [group for group in _all(study, figures) if group.rows]


def _all(study: StudyDocument, figures: Figures) -> Iterator[FigureGroup]:
    names = {step.id: step.name for step in study.steps}
    exits = [(f"outcome/{step.id}", step.name) for step in study.steps if isinstance(step, Exit)]
    streams = [(f"stream/{each.id}", each.name) for each in study.streams]
    spans = [(f"span/{each.id}", each.name) for each in study.spans]
    points = [(f"checkpoint/{each}", f"From arrival to {names[each]}") for each in checkpoints_of(study)]
    pairs = checkpoint_pairs(study)
    points += [(f"checkpoint/{begin}:{end}", f"From {names[begin]} to {names[end]}") for begin, end in pairs]
    deadlines = [(f"deadline/{each.id}", each.name) for each in study.deadlines]
    links = [(step, link.to) for step in study.steps for link in links_of(step)]
    ways = {f"link/{step.id}:{to}": f"{step.name} → {names[to]}" for step, to in links}
    yield _group("outcome", "How cases leave", OUTCOMES, exits, figures)
    yield _group("stream", "Where they come from", STREAMS, streams, figures)
    yield _group("span", "Between two points", TIMES, [*spans, *points], figures)
    yield _group("deadline", "Deadlines", DEADLINES, deadlines, figures)
    yield _group("link", "Which ways they go", WAYS, list(ways.items()), figures)
    yield _group("member", "What each member does, of all the time", MEMBERS, _members(study, figures), figures)


def _members(study: StudyDocument, figures: Figures) -> list[tuple[str, str]]:
    return [
        (f"member/{team.id}:{number}", f"{team.name} {number}")
        for team in study.teams
        for number in range(1, MOST_MEMBERS + 1)
        if f"member/{team.id}:{number}/utilisation" in figures
    ]


def _group(
    subject: str, title: str, columns: Columns, things: Sequence[tuple[str, str]], figures: Figures
) -> FigureGroup:
    """Return the rows of things that have a figure, and the columns in which any has something."""
    rows = [
        FigureRow(name=name, cells=[_cell(f"{thing}/{rest}", figures) for rest, _, _ in columns])
        for thing, name in things
    ]
    told = [row for row in rows if any(row.cells)]
    some = [place for place in range(len(columns)) if any(_is_something(row.cells[place]) for row in told)]
    return FigureGroup(
        subject=subject,
        title=title,
        columns=[FigureColumn(words=columns[place][1], unit=columns[place][2]) for place in some],
        rows=[FigureRow(name=row.name, cells=[row.cells[place] for place in some]) for row in told],
    )


def _cell(address: str, figures: Figures) -> FigureCell | None:
    return FigureCell(address=address, figure=figures[address]) if address in figures else None


def _is_something(cell: FigureCell | None) -> bool:
    return cell is not None and bool(cell.figure.mean)
