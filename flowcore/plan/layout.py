"""Which steps the plan has: one for each place of a step of the document, and one for each escorted way."""

from dataclasses import dataclass

from flowcore.study import StudyDocument
from flowcore.study.graph import links_of
from flowcore.study.steps import Link, Need, Serve, Step


@dataclass(frozen=True)
class PlannedStep:
    """A step of the plan: a step of the document at one place, or an escorted way to one place.

    `target` is the step of the plan that such a way leads to, `link` its number among the ways out of `step`.
    """

    step: Step
    document: int
    place: str | None
    escort: Link | None = None
    link: int = 0
    target: int = 0

    @property
    def needs(self) -> list[Need]:
        """What is asked for here."""
        if self.escort is not None:
            assert self.escort.escort is not None
            return [self.escort.escort]
        return self.step.needs if isinstance(self.step, Serve) else []


class Layout:
    """All steps of the plan, and where those of the document are among them."""

    def __init__(self, study: StudyDocument) -> None:
        self.steps: list[PlannedStep] = []
        self.first: dict[str, int] = {}
        self.copies: dict[str, list[int]] = {}
        for number, step in enumerate(study.steps):
            places: list[str | None] = [option.place for option in step.places] or [step.place]
            self.first[step.id] = len(self.steps)
            self.copies[step.id] = list(range(len(self.steps), len(self.steps) + len(places)))
            self.steps += [PlannedStep(step, number, place) for place in places]
        self._escorts: dict[tuple[int, int], list[int]] = {}
        self._siblings: dict[int, list[int]] = {}
        for number, planned in enumerate(list(self.steps)):
            for turn, link in enumerate(links_of(planned.step)):
                if link.escort is not None:
                    self._add_escorts(number, planned, turn, link)

    def _add_escorts(self, number: int, planned: PlannedStep, turn: int, link: Link) -> None:
        """Add an escorted way: a step for each of the places to which it may lead."""
        targets = self.copies[link.to]
        own = list(range(len(self.steps), len(self.steps) + len(targets)))
        for target in targets:
            place = self.steps[target].place
            self.steps.append(PlannedStep(planned.step, planned.document, place, link, turn, target))
        self._escorts[number, turn] = own
        self._siblings |= dict.fromkeys(own, own)

    def places_of(self, number: int) -> list[int]:
        """Return the steps of the plan among which a case picks that is to come to one of them."""
        planned = self.steps[number]
        return self.copies[planned.step.id] if planned.escort is None else self._siblings[number]

    def links(self, number: int) -> list[tuple[Link, int]]:
        """Return the ways out of a step of the plan, each with the step of the plan that it leads to."""
        planned = self.steps[number]
        if planned.escort is not None:
            return [(planned.escort, planned.target)]
        return [
            (link, self._escorts.get((number, turn), self.copies[link.to])[0])
            for turn, link in enumerate(links_of(planned.step))
        ]
