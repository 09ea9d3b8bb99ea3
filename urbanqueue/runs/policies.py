"""Who may see and stop which run."""

from django.db.models import QuerySet
from django.shortcuts import get_object_or_404

from urbanqueue.accounts.models import Person
from urbanqueue.runs.models import Run
from urbanqueue.studies.policies import StudyPolicy


class RunPolicy:
    """Whoever may see a study may see and stop its runs."""

    def __init__(self, person: Person) -> None:
        self.person = person

    def visible(self) -> QuerySet[Run]:
        """Return the runs that the person may see."""
        studies = StudyPolicy(self.person).visible()
        runs = Run.objects.filter(version__study__in=studies, redraws=None)
        runs = runs.select_related("version__study", "started_by", "redrawn_by").defer("version__document")
        return runs.prefetch_related("parts", "redrawn_by__parts")

    def get(self, run_id: int) -> Run:
        """Return one of them, or raise Http404."""
        return get_object_or_404(self.visible(), pk=run_id)
