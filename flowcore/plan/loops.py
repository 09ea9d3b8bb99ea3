"""Loops in the flow: which steps lie in one, and which links close it."""

from collections.abc import Sequence


def find_loops(ways: Sequence[Sequence[int]]) -> tuple[list[int], list[list[bool]]]:
    """Return each step's loop (-1 for none) and, for each of its ways, whether it closes one.

    `ways[i]` are the steps that step i leads to. A loop is a strongly connected part with a
    loop in it; a closing way leads back to a step from which this one was reached, so every
    circuit crosses at least one. Source: Tarjan, Depth-first search and linear graph algorithms,
    SIAM Journal on Computing 1 (1972), without recursion.
    """
    count = len(ways)
    found = [-1] * count
    lowest = [0] * count
    loop = [-1] * count
    on_path = [False] * count
    closes = [[False] * len(targets) for targets in ways]
    gathered: list[int] = []
    is_gathered = [False] * count
    numbered = loops = 0
    for start in range(count):
        if found[start] >= 0:
            continue
        path = [(start, 0)]
        while path:
            step, turn = path.pop()
            if turn == 0:
                found[step] = lowest[step] = numbered
                numbered += 1
                gathered.append(step)
                is_gathered[step] = on_path[step] = True
            else:
                lowest[step] = (
                    min(lowest[step], lowest[ways[step][turn - 1]])
                    if is_gathered[ways[step][turn - 1]]
                    else lowest[step]
                )
            while turn < len(ways[step]):
                target = ways[step][turn]
                turn += 1
                if found[target] < 0:
                    path.append((step, turn))
                    path.append((target, 0))
                    break
                if is_gathered[target]:
                    lowest[step] = min(lowest[step], found[target])
                    closes[step][turn - 1] = on_path[target]
            else:
                on_path[step] = False
                if lowest[step] == found[step]:
                    part = _take_part(step, gathered, is_gathered)
                    if len(part) > 1 or step in ways[step]:
                        for member in part:
                            loop[member] = loops
                        loops += 1
    return loop, closes


def _take_part(step: int, gathered: list[int], is_gathered: list[bool]) -> list[int]:
    part = [gathered.pop()]
    while part[-1] != step:
        part.append(gathered.pop())
    for member in part:
        is_gathered[member] = False
    return part
