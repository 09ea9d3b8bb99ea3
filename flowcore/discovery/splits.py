"""How the ways of cases are parted along a cut; steps that do not fit are left out of where they stand."""

from collections import Counter

from flowcore.discovery.cuts import Cut, Kind
from flowcore.discovery.graph import Part, Trace, Traces


def parted(trace: Trace, cut: Cut) -> list[list[Trace]]:
    """Return for each part of a cut the pieces of a way that belong to it.

    Of a sequence, or of parts that go on together, that is one piece, which may be empty; of a choice one piece for the
    part that is chosen; of a loop as many as there are rounds.
    """
    if cut.kind is Kind.TOGETHER:
        return [[only(trace, part)] for part in cut.parts]
    if cut.kind is Kind.CHOICE:
        chosen = max(range(len(cut.parts)), key=lambda n: sum(step in cut.parts[n] for step in trace))
        return [[only(trace, part)] if n == chosen else [] for n, part in enumerate(cut.parts)]
    if cut.kind is Kind.SEQUENCE:
        return [[piece] for piece in in_sequence(trace, cut.parts)]
    found: list[list[Trace]] = [[] for _ in cut.parts]
    for number, piece in rounds(trace, cut):
        found[number].append(piece)
    return found


def only(trace: Trace, part: Part) -> Trace:
    """Return the steps of a way that belong to a part."""
    return tuple(step for step in trace if step in part)


def in_sequence(trace: Trace, parts: list[Part]) -> list[Trace]:
    """Return the pieces of a way in a sequence of parts: as few steps as can be stand in the piece of another."""
    pieces = []
    rest = trace
    for number, part in enumerate(parts):
        if number == len(parts) - 1:
            pieces.append(only(rest, part))
            break
        later = frozenset().union(*parts[number + 1 :])
        cost = best = sum(step in part for step in rest)
        place = 0
        for n, step in enumerate(rest):
            cost += (step in later) - (step in part)
            if cost < best or (cost == best and step in part):
                best, place = cost, n + 1
        pieces.append(only(rest[:place], part))
        rest = rest[place:]
    return pieces


def rounds(trace: Trace, cut: Cut) -> list[tuple[int, Trace]]:
    """Return the pieces of a way through a loop in order, each with its part; the first part is first and last."""
    if cut.starts:
        pieces = broken(only(trace, cut.parts[0]), cut.ends, cut.starts)
        return [(0, pieces[0])] + [each for piece in pieces[1:] for each in ((1, ()), (0, piece))]
    of = {step: number for number, part in enumerate(cut.parts) for step in part}
    found: list[tuple[int, Trace]] = []
    for step in trace:
        number = of.get(step)
        if number is None:
            continue
        if found and found[-1][0] == number:
            found[-1] = (number, (*found[-1][1], step))
            continue
        if number != 0 and (not found or found[-1][0] != 0):
            found.append((0, ()))
        found.append((number, (step,)))
    if not found or found[-1][0] != 0:
        found.append((0, ()))
    return found


def broken(trace: Trace, ends: Part, starts: Part) -> list[Trace]:
    """Return the pieces of a way, which is broken wherever one of the ends is followed by one of the starts."""
    pieces: list[Trace] = []
    begin = 0
    for n in range(1, len(trace)):
        if trace[n - 1] in ends and trace[n] in starts:
            pieces.append(trace[begin:n])
            begin = n
    return [*pieces, trace[begin:]]


def pieces_of(traces: Traces, cut: Cut) -> list[Traces]:
    """Return the ways of each part of a cut."""
    found: list[Traces] = [Counter() for _ in cut.parts]
    for trace, many in traces.items():
        for number, pieces in enumerate(parted(trace, cut)):
            for piece in pieces:
                found[number][piece] += many
    return found
