"""Which elements of a file are which of a study: in a file of ours, and in a drawing that came from elsewhere."""

from flowcore.exchange.notes import NotKept
from flowcore.study import StudyDocument


class Places:
    """By element of a study: the id of what it is in a file; None where it has no place there."""

    study: StudyDocument
    not_kept: list[NotKept]

    @property
    def has_types(self) -> bool:
        """Whether case types have a place."""
        return True

    def lose(self, element: str, name: str, what: str, instead: str) -> None:
        """Note what of an element is not kept."""
        note = NotKept(element=element, name=name, what=what, instead=instead)
        if note not in self.not_kept:
            self.not_kept.append(note)

    def step(self, step: str) -> str | None:
        """Return the node of a step."""
        raise NotImplementedError

    def stream(self, stream: str) -> str | None:
        """Return the node of a stream."""
        raise NotImplementedError

    def deadline(self, deadline: str) -> str | None:
        """Return the node of a deadline."""
        raise NotImplementedError

    def team(self, team: str) -> str:
        """Return the element of a team."""
        raise NotImplementedError

    def way(self, step: str, number: int) -> str | None:
        """Return the flow of a way out of a step."""
        raise NotImplementedError

    def selection(self, step: str, number: int) -> str | None:
        """Return the element at which it stands whom a step needs, by the number of the need."""
        raise NotImplementedError

    def travel(self, _step: str, _number: int) -> str | None:
        """Return the event at which the time of a way passes."""
        return None
