"""Records are types: their rows take each field by its name, and have the layout that their class says."""

import pytest

from flowcore.kernel.records import plan as p
from flowcore.kernel.records.ledger import Departure, SpanRow, Visit, VisitExtra
from flowcore.kernel.records.record import blank, layout, row, table
from flowcore.kernel.records.world import Clock

CONDITION = {"count": 2, "mask": 1, "last": 0, "first_team": 3, "teams": 1}


def test_a_row_takes_every_field_by_its_name_in_any_order() -> None:
    backwards = row(p.Condition, **dict(reversed(CONDITION.items())))
    assert table(p.Condition, [backwards])[0].first_team == 3


@pytest.mark.parametrize(
    ("fields", "told"),
    [
        ({**CONDITION, "first_taem": 1}, "unknown ['first_taem']"),
        ({"count": 2}, "missing ['first_team', 'last', 'mask', 'teams']"),
    ],
)
def test_a_row_refuses_unknown_and_missing_fields(fields: dict[str, object], told: str) -> None:
    with pytest.raises(TypeError) as error:
        row(p.Condition, **fields)
    assert "Condition" in str(error.value)
    assert told in str(error.value)


def test_rows_of_the_ledger_are_whole_words_which_their_columns_are_read_as() -> None:
    assert [layout(kind).itemsize % 8 for kind in (Visit, VisitExtra, Departure, SpanRow)] == [0, 0, 0, 0]


def test_blank_records_are_zero() -> None:
    clock = blank(Clock, 1)[0]
    assert (clock.now, clock.cases, clock.pause) == (0.0, 0, 0)
