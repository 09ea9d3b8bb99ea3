"""Messages: at which step one is told, and which signals wait for it."""

from flowcore.kernel.records import kinds as k
from flowcore.plan.store import Store
from flowcore.study import StudyDocument
from flowcore.study.steps import Signal, Step


class Messages:
    """The signals of a study that wait for a message, by number."""

    def __init__(self, study: StudyDocument, store: Store) -> None:
        self._store = store
        signals = [step for step in study.steps if isinstance(step, Signal)]
        told = {step.id: step.clears.messages for step in signals if step.clears and step.clears.messages}
        self._numbers = {signal: number for number, signal in enumerate(told)}
        self._told: dict[str, list[int]] = {}
        for signal, steps in told.items():
            for at in steps:
                self._told.setdefault(at, []).append(self._numbers[signal])

    def __len__(self) -> int:
        return len(self._numbers)

    def fields_of(self, step: Step) -> dict[str, object]:
        """Return the fields of STEP that say which messages are told at a step, and which it waits for."""
        told = self._told.get(step.id, [])
        return {
            "first_told": self._store.put(told),
            "told": len(told),
            "message": self._numbers.get(step.id, k.NONE),
        }
