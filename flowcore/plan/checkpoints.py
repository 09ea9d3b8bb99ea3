"""Deadlines and spans as records, by the steps at which they begin and end."""

from flowcore.kernel.records import kinds as k
from flowcore.kernel.records import plan as p
from flowcore.kernel.records.record import Table, row, table
from flowcore.plan.keys import stable_key
from flowcore.plan.layout import Layout
from flowcore.plan.store import Store
from flowcore.study import StudyDocument, minutes
from flowcore.study.clocks import clocks_of
from flowcore.study.steps import Step


class Checkpoints:
    """The clocks that start and stop at the steps of a study."""

    def __init__(self, study: StudyDocument, layout: Layout, store: Store) -> None:
        self._study, self._layout, self._store = study, layout, store
        self._clocks = clocks_of(study)
        self.from_arrival = len([each for each in self._clocks if each.from_ is not None])
        self.points: list[tuple[object, ...]] = []

    @property
    def spans(self) -> int:
        """How many spans there are, with the times that measures tell and the ways to checkpoints."""
        return len(self._clocks)

    def fields_of(self, step: Step) -> dict[str, object]:
        """Return the fields of STEP that say which clocks start and stop at a step."""
        begun = [number for number, each in enumerate(self._study.deadlines) if each.from_ == step.id]
        met = [number for number, each in enumerate(self._study.deadlines) if each.to == step.id]
        return {
            "first_begun": self._store.put(begun),
            "begun": len(begun),
            "first_met": self._store.put(met),
            "met": len(met),
            "span_point": self._add_points(step),
        }

    def _add_points(self, step: Step) -> int:
        """Chain up the points of all spans at a step, ends before starts; return the first."""
        ends = [(n, each.to, 1) for n, each in enumerate(self._clocks) if each.to.step == step.id]
        starts = [
            (n, each.from_, 0) for n, each in enumerate(self._clocks) if each.from_ and each.from_.step == step.id
        ]
        following = k.NONE
        for span, point, is_end in reversed(ends + starts):
            first = self._layout.first[step.id]
            leaving = point.at == "leaving"
            self.points.append(row(p.SpanPoint, step=first, leaving=leaving, span=span, ends=is_end, next=following))
            following = len(self.points) - 1
        return following

    def deadlines(self) -> Table[p.Deadline]:
        """Return the deadlines."""
        rows = (
            row(
                p.Deadline,
                key=stable_key("deadlines", each.id),
                within=minutes(each.within),
                every=0.0 if each.then.every is None else minutes(each.then.every),
                send=k.NONE if each.then.send is None else self._layout.first[each.then.send],
                divert=k.NONE if each.then.divert is None else self._layout.first[each.then.divert],
            )
            for each in self._study.deadlines
        )
        return table(p.Deadline, rows)
