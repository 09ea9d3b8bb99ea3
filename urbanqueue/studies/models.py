"""Studies and the versions of their documents."""

from django.conf import settings
from django.db import models
from django.utils import timezone


class Study(models.Model):
    """A study: who owns it and which version of its document is current."""

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, models.CASCADE, related_name="studies")
    name = models.CharField(max_length=120)
    version = models.PositiveIntegerField(default=0)
    created_at = models.DateTimeField(auto_now_add=True)
    changed_at = models.DateTimeField(auto_now=True)
    deleted_at = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ("-changed_at",)

    def __str__(self) -> str:
        return self.name


class Version(models.Model):
    """One state of a study's document; runs point at it.

    Saves that follow each other soon are one entry of the history: the earlier ones are `folded` into the last. `since`
    is when the first of them was saved. `restores` is the number of the older version that it brought back, if any.
    """

    study = models.ForeignKey(Study, models.CASCADE, related_name="versions")
    number = models.PositiveIntegerField()
    document = models.JSONField()
    changed = models.TextField(default="")
    saved_by = models.ForeignKey(settings.AUTH_USER_MODEL, models.SET_NULL, null=True)
    saved_at = models.DateTimeField(default=timezone.now)
    since = models.DateTimeField(default=timezone.now)
    folded = models.BooleanField(default=False)
    restores = models.PositiveIntegerField(null=True)

    class Meta:
        ordering = ("-number",)
        constraints = (models.UniqueConstraint(fields=("study", "number"), name="one_version_per_number"),)

    def __str__(self) -> str:
        return f"{self.study} v{self.number}"
