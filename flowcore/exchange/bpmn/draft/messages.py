"""Which nodes tell whom what: messages and signals within a file."""

from flowcore.exchange.bpmn.file.drawn import Drawn, Node

SENDS = ("intermediateThrowEvent", "endEvent")


class Messages:
    """By node: who sends the messages that it waits for, and whether it sends any."""

    def __init__(self, drawn: Drawn) -> None:
        self._nodes = drawn.nodes
        self._to: dict[str, list[str]] = {}
        for source, target in drawn.messages:
            if source in drawn.nodes and target in drawn.nodes:
                self._to.setdefault(target, []).append(source)
        self._throws = [node for node in drawn.nodes.values() if _throws(node)]
        self.tellers = {sender.id for node in drawn.nodes.values() for sender in self.told_by(node)}

    def told_by(self, node: Node) -> list[Node]:
        """Return the nodes of the file that send what a node waits for, each once."""
        if not waits(node):
            return []
        drawn = [self._nodes[each] for each in self._to.get(node.id, [])]
        same = [each for each in self._throws if _is_same(each, node)]
        return list({each.id: each for each in same + drawn}.values())


def waits(node: Node) -> bool:
    """Say whether a node waits for a message or a signal."""
    catches = node.tag in ("startEvent", "intermediateCatchEvent", "boundaryEvent")
    return node.tag == "receiveTask" or (catches and node.event in ("message", "signal"))


def _throws(node: Node) -> bool:
    return node.tag == "sendTask" or (node.tag in SENDS and node.event in ("message", "signal"))


def _is_same(sender: Node, catcher: Node) -> bool:
    """Say whether two nodes name the same message or signal."""
    return not set(sender.event_refs).isdisjoint(catcher.event_refs)
