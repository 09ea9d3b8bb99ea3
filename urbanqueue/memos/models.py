"""Memos: pages for the one who decides, each about scenarios of runs."""

from django.db import models

from urbanqueue.studies.models import Study


class Memo(models.Model):
    """A memo of a study. `text` is what stands in it, `columns` are what it was made of: runs and scenarios.

    Of each column it is kept under which name it was seen, and of how many replications. `edition` counts the changes,
    so that nobody writes over what somebody else wrote meanwhile.
    """

    study = models.ForeignKey(Study, models.CASCADE, related_name="memos")
    text = models.JSONField()
    columns = models.JSONField()
    edition = models.PositiveIntegerField(default=1)
    created_at = models.DateTimeField(auto_now_add=True)
    changed_at = models.DateTimeField(auto_now=True)

    class Meta:
        ordering = ("-created_at",)

    def __str__(self) -> str:
        return str(self.text["title"])
