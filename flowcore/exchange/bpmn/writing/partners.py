"""Partners: branches of a case that it does not wait for, drawn as participants of their own."""

from flowcore.study import StudyDocument
from flowcore.study.graph import link_ways, reach, side_ways
from flowcore.study.steps import Fork


def partners(study: StudyDocument) -> dict[str, set[str]]:
    """Return, by the join of the branches of each partner, the steps that only these come to."""
    ways = {step: list(to) for step, to in link_ways(study).items()}
    forks = [step for step in study.steps if isinstance(step, Fork) and _leaves(step, ways)]
    begins: dict[str, set[str]] = {}
    for fork in forks:
        begins.setdefault(fork.join, set()).update(link.to for link in fork.next[1:])
        ways[fork.id] = [fork.next[0].to]
    for step, aside in side_ways(study).items():
        ways[step] += aside
    own = {join: reach([*first, join], ways) for join, first in begins.items() if join in ways}
    cases = reach((stream.to for stream in study.streams), ways)
    return {
        join: steps
        for join, steps in own.items()
        if not steps & cases and not any(steps & others for each, others in own.items() if each != join)
    }


def _leaves(fork: Fork, ways: dict[str, list[str]]) -> bool:
    """Say whether a case that forks never comes to where its branches end."""
    if len(fork.next) < 2 or any(link.chance is not None for link in fork.next):
        return False
    return fork.join not in reach([fork.next[0].to], ways | {fork.id: []})
