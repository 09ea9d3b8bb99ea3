"""Who may see and change which memo."""

from django.db.models import QuerySet
from django.shortcuts import get_object_or_404

from urbanqueue.accounts.models import Person
from urbanqueue.memos.models import Memo
from urbanqueue.studies.policies import StudyPolicy


class MemoPolicy:
    """Whoever may see a study may see and change its memos."""

    def __init__(self, person: Person) -> None:
        self.person = person

    def visible(self) -> QuerySet[Memo]:
        """Return the memos that the person may see."""
        return Memo.objects.filter(study__in=StudyPolicy(self.person).visible()).select_related("study")

    def get(self, memo_id: int) -> Memo:
        """Return one of them, or raise Http404."""
        return get_object_or_404(self.visible(), pk=memo_id)
