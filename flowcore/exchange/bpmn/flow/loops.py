"""Loops in which nothing takes time: a study must not go round in circles at one moment."""

from flowcore.exchange.bpmn.draft.draft import Draft, Stop
from flowcore.exchange.bpmn.draft.reading import Reading

AT_ONCE = ("choose", "set", "fork")
A_MOMENT = "1 s"


def let_loops_take_time(reading: Reading) -> None:
    """Put a moment into each loop of stops at which no time passes, with a note."""
    draft = reading.draft
    paused: dict[str, Stop] = {}
    for source, target in list(_closing_ways(draft)):
        node = reading.drawn.nodes[draft.stops[target].node]
        if target not in paused:
            pause = draft.add(node.id, f"{draft.stops[target].name}: a moment", {"kind": "delay", "time": A_MOMENT})
            paused[target] = pause
            draft.lead(pause, target)
            reading.lose(node, "It is in a loop that takes no time.", f"Once round takes {A_MOMENT}.")
        for way in draft.stops[source].ways:
            if way.to == target and "travel" not in way.says:
                way.to = paused[target].id


def _closing_ways(draft: Draft) -> list[tuple[str, str]]:
    """Return the ways, from where to where, that close a loop at one moment."""
    found, done = [], set()
    for begin in draft.stops:
        path, on_path = [(begin, iter(_at_once(draft, begin)))], {begin}
        while path and begin not in done:
            stop, onward = path[-1]
            to = next(onward, None)
            if to is None:
                path.pop()
                on_path.discard(stop)
                done.add(stop)
            elif to in on_path:
                found.append((stop, to))
            elif to not in done:
                path.append((to, iter(_at_once(draft, to))))
                on_path.add(to)
    return list(dict.fromkeys(found))


def _at_once(draft: Draft, stop_id: str) -> list[str]:
    """Return the stops to which a case comes from one at the same moment, where no time passes either."""
    stop = draft.stops[stop_id]
    if stop.body["kind"] not in AT_ONCE:
        return []
    onward = [way.to for way in stop.ways if "travel" not in way.says]
    return [to for to in onward if draft.stops[to].body["kind"] in AT_ONCE]
