"""Writing memos: made from what runs say, changed by hand."""

from django.db import transaction

from flowcore.reports.memo import MemoText
from urbanqueue.memos.models import Memo
from urbanqueue.memos.standing import seen
from urbanqueue.runs.models import Part
from urbanqueue.studies.models import Study


class WrittenMeanwhile(Exception):
    """Raised where somebody else changed a memo since it was read."""


def keep_memo(study: Study, text: MemoText, parts: list[Part]) -> Memo:
    """Keep a new memo of parts of runs."""
    columns = [seen(part)._asdict() for part in parts]
    return Memo.objects.create(study=study, text=text.model_dump(mode="json"), columns=columns)


@transaction.atomic
def rewrite(memo: Memo, text: MemoText, edition: int) -> Memo:
    """Change what stands in a memo; raises WrittenMeanwhile where it is not at this edition any more."""
    locked = Memo.objects.select_for_update().get(pk=memo.pk)
    if locked.edition != edition:
        raise WrittenMeanwhile
    locked.text = text.model_dump(mode="json")
    locked.edition += 1
    locked.save()
    return locked
