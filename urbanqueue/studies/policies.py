"""Who may see and change which study."""

from django.db.models import QuerySet
from django.shortcuts import get_object_or_404

from urbanqueue.accounts.models import Person
from urbanqueue.studies.models import Study


class StudyPolicy:
    """A person sees and changes their own studies; others' do not exist for them."""

    def __init__(self, person: Person) -> None:
        self.person = person

    def visible(self) -> QuerySet[Study]:
        """Return the studies that the person may see and change."""
        return Study.objects.filter(owner=self.person, deleted_at=None)

    def get(self, study_id: int) -> Study:
        """Return one of them, or raise Http404."""
        return get_object_or_404(self.visible(), pk=study_id)

    def deleted(self) -> QuerySet[Study]:
        """Return the studies that the person deleted and may bring back."""
        return Study.objects.filter(owner=self.person, deleted_at__isnull=False)
