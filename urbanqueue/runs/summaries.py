"""What Findings shows of a part, summed up once and kept, so that no page reads all replications."""

import json
import zlib
from typing import Any

from django.db import transaction

from flowcore.engine import ENGINE
from flowcore.reports.findings import Summary, summary_of
from urbanqueue.runs.locks import locked, summing_up
from urbanqueue.runs.models import Part, SummedUp
from urbanqueue.runs.samples import results_of, study_of

SECTIONS = tuple(Summary.model_fields)
FAST = 1
NEARLY = 0.8
"""While a run goes on, what was summed up of so large a share of its replications is shown."""


def kept(part: Part, section: str) -> Any:
    """Return a section of what is kept of a part, as JSON; None where nothing is, or of too few replications."""
    row = part.summed_up.filter(section=section, engine=ENGINE).first()
    if row is None or not _is_enough(part, row.done):
        return None
    return json.loads(zlib.decompress(row.body))


def _is_enough(part: Part, done: int) -> bool:
    return done == part.done if part.run.is_over else NEARLY * part.done <= done <= part.done


def sum_up(part: Part, section: str) -> Any:
    """Sum a part up and keep it, unless that is done; return a section as JSON.

    Who asks while somebody else is summing it up waits for what is kept then.
    """
    with summing_up(part.pk):
        found = kept(part, section)
        return _summed_up(part)[section] if found is None else found


def _summed_up(part: Part) -> dict[str, Any]:
    results = results_of(part)
    summary = summary_of(study_of(part), results).model_dump(mode="json")
    _keep([_row(part, section, summary[section], len(results.replications)) for section in SECTIONS], part)
    return summary


@transaction.atomic
def _keep(rows: list[SummedUp], part: Part) -> None:
    """Keep the sections of a part, unless that is gone by now or reads others."""
    if locked(Part.objects.filter(pk=part.pk, sample=part.sample_id)):
        SummedUp.objects.bulk_create(
            rows, update_conflicts=True, unique_fields=["part", "section"], update_fields=["done", "engine", "body"]
        )


def _row(part: Part, section: str, body: Any, done: int) -> SummedUp:
    text = json.dumps(body, separators=(",", ":")).encode()
    return SummedUp(part=part, section=section, done=done, engine=ENGINE, body=zlib.compress(text, FAST))
