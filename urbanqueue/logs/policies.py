"""Who may see and change which log."""

from django.db.models import QuerySet
from django.shortcuts import get_object_or_404

from urbanqueue.accounts.models import Person
from urbanqueue.logs.models import LogFile
from urbanqueue.studies.policies import StudyPolicy


class LogPolicy:
    """Whoever may see a study may see and change its logs."""

    def __init__(self, person: Person) -> None:
        self.person = person

    def visible(self) -> QuerySet[LogFile]:
        """Return the logs that the person may see."""
        return LogFile.objects.filter(study__in=StudyPolicy(self.person).visible()).select_related("brought_by")

    def get(self, log_id: int) -> LogFile:
        """Return one of them, or raise Http404."""
        return get_object_or_404(self.visible(), pk=log_id)
