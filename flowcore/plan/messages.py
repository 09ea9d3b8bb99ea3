"""Messages: at which step one is told, and which signals wait for it."""

from flowcore.kernel.records import kinds as k
from flowcore.plan.store import Store
from flowcore.study import StudyDocument
from flowcore.study.steps import Signal, Step


class Messages:
    """The messages of a study by number: one for each step that tells one and signal that waits for it."""

    def __init__(self, study: StudyDocument, store: Store) -> None:
        self._store = store
        signals = [step for step in study.steps if isinstance(step, Signal) and step.clears]
        self._awaited = {step.id: step.clears.messages for step in signals if step.clears and step.clears.messages}
        every = [teller for awaited in self._awaited.values() for teller in awaited]
        self.tellers = {teller: number + 1 for number, teller in enumerate(dict.fromkeys(every))}
        self._first: dict[str, int] = {}
        self._told: dict[str, list[int]] = {}
        self._count = 0
        for signal, awaited in self._awaited.items():
            self._first[signal] = self._count
            for teller in awaited:
                self._told.setdefault(teller, []).extend((self._count, self._first[signal]))
                self._count += 1

    def __len__(self) -> int:
        return self._count

    def fields_of(self, step: Step) -> dict[str, object]:
        """Return the fields of STEP that say which messages are told at a step, and which it waits for."""
        told = self._told.get(step.id, [])
        awaited = self._awaited.get(step.id, [])
        return {
            "first_told": self._store.put(told),
            "told": len(told) // 2,
            "teller": self.tellers.get(step.id, 0),
            "message": self._first.get(step.id, k.NONE),
            "messages": len(awaited),
            "tellers": self._store.put([self.tellers[each] for each in awaited]),
        }
