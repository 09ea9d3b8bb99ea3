"""Who may see and stop which search."""

from django.db.models import QuerySet
from django.shortcuts import get_object_or_404

from urbanqueue.accounts.models import Person
from urbanqueue.searches.models import Search
from urbanqueue.studies.policies import StudyPolicy


class SearchPolicy:
    """Whoever may see a study may see and stop its searches."""

    def __init__(self, person: Person) -> None:
        self.person = person

    def visible(self) -> QuerySet[Search]:
        """Return the searches that the person may see."""
        studies = StudyPolicy(self.person).visible()
        searches = Search.objects.filter(version__study__in=studies).select_related("version__study", "started_by")
        return searches.defer("version__document", "answer")

    def get(self, search_id: int) -> Search:
        """Return one of them, or raise Http404."""
        return get_object_or_404(self.visible(), pk=search_id)
