"""Where the branches of a fork come together: the first stop that all ways from it lead to.

Source: K. D. Cooper, T. J. Harvey and K. Kennedy, A simple, fast dominance algorithm (2001), on the reversed flow.
"""

from collections.abc import Iterable

from flowcore.exchange.bpmn.draft.draft import Draft, Stop
from flowcore.exchange.bpmn.draft.reading import Reading

END = ""
"""In place of a stop: where everything is over."""


def join_forks(reading: Reading, ends: dict[str, Stop]) -> None:
    """Give each fork its join: where the drawing has one, else one that is made where its ways come together.

    `ends` has the stops at which a sub-process is over, by its id: there everything within waits for the last.
    """
    draft = reading.draft
    able = {stop.id for stop in (*reading.meetings, *ends.values())}
    for fork in reading.open_forks:
        after = _together(draft, fork)
        after = after if after != END else _nearest(draft, fork, able)
        if after in able:
            join = draft.stops[after]
            join.body = {"kind": "join"}
        else:
            join = _made(reading, fork, after)
        fork.body["join"] = join.id
    for decides in reading.shortcuts:
        fork = next(each for each in reading.open_forks if any(way.to == decides.id for way in each.ways))
        draft.lead(decides, fork.body["join"], otherwise=True)
    for meeting in reading.meetings:
        if meeting.body["kind"] != "join":
            _without_waiting(reading, meeting)


def _together(draft: Draft, fork: Stop) -> str:
    """Return the first stop that all ways from a fork lead to; END where they only end."""
    inside = reached(draft, [fork.id])
    order, number = _from_the_end(draft, inside)
    above: dict[str, str] = {END: END}
    changed = True
    while changed:
        changed = False
        for stop in order:
            found = None
            for after in _onward(draft, stop):
                if after in above:
                    found = after if found is None else _common(above, number, found, after)
            if found is not None and above.get(stop) != found:
                above[stop] = found
                changed = True
    return above.get(fork.id, END)


def _nearest(draft: Draft, fork: Stop, able: set[str]) -> str:
    """Return the first meeting to which each way of a fork leads by itself, though some end before; END for none."""
    begins = [way.to for way in fork.ways if not way.is_message]
    for meeting in (stop for stop in draft.stops if stop in able):
        regions = [reached(draft, [begin], but=meeting) for begin in begins]
        meets = all(not region or _leads_to(draft, region, meeting) for region in regions)
        busy = [{stop for stop in region if draft.stops[stop].ways} for region in regions]
        together = set().union(*busy)
        if meets and fork.id not in together and len(together) == sum(map(len, busy)):
            return meeting
    return END


def _leads_to(draft: Draft, region: set[str], meeting: str) -> bool:
    return any(way.to == meeting for stop in region for way in draft.stops[stop].ways)


def _common(above: dict[str, str], number: dict[str, int], one: str, other: str) -> str:
    while one != other:
        while number[one] > number[other]:
            one = above[one]
        while number[other] > number[one]:
            other = above[other]
    return one


def _onward(draft: Draft, stop: str) -> list[str]:
    """Return where the ways of a stop lead, but for branches that a message begins; END from the last."""
    return [way.to for way in draft.stops[stop].ways if not way.is_message] or [END]


def reached(draft: Draft, begin: Iterable[str], but: str = END) -> set[str]:
    """Return the stops to which ways lead from some stops, not past one of them."""
    found: set[str] = set()
    ahead = list(begin)
    while ahead:
        stop = ahead.pop()
        if stop not in found and stop not in (END, but):
            found.add(stop)
            ahead += _onward(draft, stop)
    return found


def _from_the_end(draft: Draft, inside: set[str]) -> tuple[list[str], dict[str, int]]:
    """Return the stops in the order in which they are met from the end back, and the number of each."""
    back: dict[str, list[str]] = {}
    for stop in sorted(inside):
        for after in _onward(draft, stop):
            back.setdefault(after, []).append(stop)
    seen, post = {END}, []
    stack = [(END, iter(back.get(END, [])))]
    while stack:
        stop, before = stack[-1]
        following = next((each for each in before if each not in seen), None)
        if following is None:
            stack.pop()
            post.append(stop)
        else:
            seen.add(following)
            stack.append((following, iter(back.get(following, []))))
    order = post[::-1]
    return order[1:], {stop: place for place, stop in enumerate(order)}


def _made(reading: Reading, fork: Stop, after: str) -> Stop:
    """Return a join made in front of a stop, or before the cases leave where the ways of a fork only end."""
    draft = reading.draft
    between = reached(draft, [way.to for way in fork.ways], but=after) | {fork.id}
    if after != END:
        node = reading.drawn.nodes[fork.node]
        what = "Its ways come together where nobody waits: what follows would be done for each of them."
        reading.lose(node, what, "They wait for each other there, and it is done once.")
        return draft.insert_before(after, fork.node, f"{fork.name}: together", {"kind": "join"}, between)
    ends = [stop for stop in sorted(between) if not draft.stops[stop].ways]
    return _over(reading, fork, [draft.stops[each] for each in ends], between)


def _over(reading: Reading, fork: Stop, ends: list[Stop], between: set[str]) -> Stop:
    """Return a join before the first of the ends of a fork's ways, to which all of them lead from now on."""
    draft = reading.draft
    join = draft.add(fork.node, f"{fork.name}: over", {"kind": "join"})
    for stop in sorted(between):
        for way in draft.stops[stop].ways:
            if way.to in {end.id for end in ends}:
                way.to = join.id
    if ends:
        draft.lead(join, ends[0].id)
    for end in ends:
        node = reading.drawn.nodes[end.node]
        if node.event == "terminate":
            reading.lose(node, "It ends all branches at once.", "The other branches are waited for.")
    if len(ends) > 1:
        node = reading.drawn.nodes[fork.node]
        what = f"The ways that part here have {len(ends)} ends of their own."
        reading.lose(node, what, f"All wait for the last, and end as “{ends[0].name}”.")
    return join


def _without_waiting(reading: Reading, meeting: Stop) -> None:
    """Note that nobody waits where some of a fork's branches meet before the others, or where nothing has parted."""
    node = reading.drawn.nodes[meeting.node]
    inside = [
        fork
        for fork in reading.open_forks
        if meeting.id in reached(reading.draft, [way.to for way in fork.ways], but=fork.body["join"])
    ]
    if node.tag == "parallelGateway":
        what = "Some branches meet here before the others." if inside else "Nothing that comes here has parted before."
        reading.lose(node, what, "Nobody waits here, and each goes on." if inside else "Nobody waits here.")
