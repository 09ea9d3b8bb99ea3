"""Out and in again: what BPMN can say comes back as it was."""

from typing import Any

import pytest

from flowcore.exchange.bpmn.read import read_process
from flowcore.exchange.bpmn.write import write_process
from flowcore.study import StudyDocument, read_study, written
from tests.flowcore.exchange.sayable import Sayable


def by_id(study: StudyDocument) -> dict[str, Any]:
    """Return a study as a document whose lists of elements are in no order."""
    document = written(study)
    return {
        key: {each["id"]: each for each in part} if isinstance(part, list) else part for key, part in document.items()
    }


@pytest.mark.parametrize("seed", range(300))
def test_in_and_out_again_is_the_same_study(seed: int) -> None:
    study = read_study(Sayable(seed).study())
    read = read_process(write_process(study).content)
    assert by_id(read.study) == by_id(study)
    assert (read.missing, [each for each in read.not_kept if "interrupts" not in each.what]) == ([], [])
