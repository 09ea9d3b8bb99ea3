"""Searches of right-sizing, and the trials that workers run for them."""

from datetime import timedelta

from django.conf import settings
from django.db import models
from django.utils import timezone

from urbanqueue.studies.models import Version


class Search(models.Model):
    """A search for the cheapest staffing of one version of a study, as a `scenario` has it; without, as it is.

    `sizing` is the id of what the document asks for, `name` what it was called. `digest` stands for all that matters to
    what is found. `answer` is what was found, None until
    it is over. `progress` says how far it is. `took` is how long it was under way each time that one went on with it;
    `begun_at` is the last time. `job` is the queue's, which may lose it.
    """

    class State(models.TextChoices):
        """How far a search is; one that is stopping writes down the best so far."""

        WAITING = "waiting"
        RUNNING = "running"
        STOPPING = "stopping"
        DONE = "done"
        STOPPED = "stopped"
        FAILED = "failed"

    version = models.ForeignKey(Version, models.CASCADE, related_name="searches")
    number = models.PositiveIntegerField()
    sizing = models.CharField(max_length=64)
    name = models.CharField(max_length=120)
    scenario = models.CharField(max_length=64, blank=True)
    digest = models.CharField(max_length=64)
    started_by = models.ForeignKey(settings.AUTH_USER_MODEL, models.SET_NULL, null=True)
    state = models.CharField(max_length=10, choices=State.choices, default=State.WAITING)
    engine = models.CharField(max_length=40)
    progress = models.JSONField(null=True)
    answer = models.JSONField(null=True)
    problem = models.TextField(blank=True)
    job = models.BigIntegerField(null=True)
    created_at = models.DateTimeField(auto_now_add=True)
    begun_at = models.DateTimeField(default=timezone.now)
    finished_at = models.DateTimeField(null=True)
    took = models.DurationField(default=timedelta)

    class Meta:
        ordering = ("-created_at",)
        indexes = (models.Index(fields=("state",), condition=models.Q(finished_at=None), name="searches_not_over"),)

    def __str__(self) -> str:
        return f"{self.version}, search {self.number}"

    @property
    def is_over(self) -> bool:
        """Whether nothing more will happen to this search."""
        return self.finished_at is not None


class Trial(models.Model):
    """Replications of a staffing that a search asks for, and their outcome once a worker has run them.

    An outcome depends on the study and the trial alone, so whoever writes it writes the same. `digest` stands for what
    is asked, which is `asked`; `job` is that of the worker who is at it.
    """

    search = models.ForeignKey(Search, models.CASCADE, related_name="trials")
    digest = models.CharField(max_length=64)
    asked = models.JSONField()
    outcome = models.BinaryField(null=True)
    job = models.BigIntegerField(null=True)
    attempts = models.PositiveIntegerField(default=0)

    class Meta:
        indexes = (models.Index(fields=("search",), condition=models.Q(outcome=None), name="trials_not_done"),)
        constraints = (models.UniqueConstraint(fields=("search", "digest"), name="one_trial_of_one_kind"),)

    def __str__(self) -> str:
        return f"{self.search}: {self.digest[:8]}"
