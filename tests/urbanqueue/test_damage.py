"""Damaged documents through the API: answered with a study, figures or problems, never with a traceback."""

from typing import Any

import pytest

from tests.flowcore.damage import LIBRARY_WORDS, damaged
from tests.urbanqueue.conftest import Api

MUTANTS = range(900_000, 900_060)
AT_ONCE = 20


def are_told(answer: dict[str, Any]) -> bool:
    """Say whether an answer has problems, each with a text and a mend in our own words."""
    said = [each["what"] + each["mend"] for each in answer["problems"] if each["what"] and each["mend"]]
    in_our_words = not any(word in text for word in LIBRARY_WORDS for text in said)
    return len(said) == len(answer["problems"]) > 0 and in_our_words


@pytest.mark.parametrize("first", MUTANTS[::AT_ONCE])
def test_damaged_documents_are_answered(api: Api, study_id: int, first: int) -> None:
    for number in range(first, first + AT_ONCE):
        document = damaged(number)
        status, answer = api("POST", "/studies", {"document": document})
        assert status == 201 or (status == 422 and are_told(answer)), (number, status, answer)
        version = api("GET", f"/studies/{study_id}")[1]["version"]
        saved, answer = api("PUT", f"/studies/{study_id}/document", document, If_Match=f'"{version}"')
        assert saved == (200 if status == 201 else 422), (number, answer)
        assert api("GET", f"/studies/{study_id}/checks")[0] == 200, number
        for way in ("theory", "simulation", "demand"):
            told, answer = api("POST", f"/pulse/{way}", document)
            assert told == 200 or (told == 422 and are_told(answer)), (number, way, told, answer)
