"""Runs, the chunks that workers take, and the figures of each replication."""

import uuid

from django.contrib.postgres.fields import ArrayField
from django.db import models
from django.utils import timezone

from urbanqueue.studies.models import Version


class Run(models.Model):
    """A run of one version of a study.

    `settings` are those of its document. Replications are handed out in chunks of `per_chunk`, a few at a time.
    `finding` is what it found, in a sentence; None until that is told, which is soon after it is over.
    """

    class State(models.TextChoices):
        """How far a run is."""

        WAITING = "waiting"
        RUNNING = "running"
        DONE = "done"
        STOPPED = "stopped"
        FAILED = "failed"

    version = models.ForeignKey(Version, models.CASCADE, related_name="runs")
    number = models.PositiveIntegerField()
    state = models.CharField(max_length=10, choices=State.choices, default=State.WAITING)
    settings = models.JSONField()
    replications = models.PositiveIntegerField()
    per_chunk = models.PositiveIntegerField(default=1)
    handed_out = models.PositiveIntegerField(default=0)
    done = models.PositiveIntegerField(default=0)
    engine = models.CharField(max_length=20)
    problem = models.TextField(blank=True)
    finding = models.TextField(null=True)  # noqa: DJ001
    addresses = models.JSONField(default=list)
    created_at = models.DateTimeField(auto_now_add=True)
    finished_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ("-created_at",)
        indexes = (
            models.Index(fields=("state",), condition=models.Q(finished_at=None), name="runs_not_over"),
            models.Index(fields=("state",), condition=models.Q(finding=None), name="runs_not_told"),
        )

    def __str__(self) -> str:
        return f"{self.version}, run {self.number}"

    @property
    def is_over(self) -> bool:
        """Whether nothing more will happen to this run."""
        return self.state not in (self.State.WAITING, self.State.RUNNING)


class Chunk(models.Model):
    """Some replications of a run, done by one worker at a stretch.

    `token` belongs to the latest attempt: only its holder may write results. `job` is the queue's, which may lose it.
    """

    run = models.ForeignKey(Run, models.CASCADE, related_name="chunks")
    first = models.PositiveIntegerField()
    count = models.PositiveIntegerField()
    token = models.UUIDField(default=uuid.uuid4)
    job = models.BigIntegerField(null=True)
    created_at = models.DateTimeField(default=timezone.now)
    attempts = models.PositiveIntegerField(default=0)
    is_done = models.BooleanField(default=False)

    class Meta:
        indexes = (models.Index(fields=("run",), condition=models.Q(is_done=False), name="chunks_not_done"),)

    def __str__(self) -> str:
        return f"{self.run}: {self.first} to {self.first + self.count - 1}"


class ReplicationRow(models.Model):
    """The figures of one replication, in the order of the run's addresses.

    `inside` are the cases inside by interval of the run, four bytes each: by them it is told whether a run has settled.
    """

    run = models.ForeignKey(Run, models.CASCADE, related_name="rows")
    number = models.PositiveIntegerField()
    values = ArrayField(models.FloatField())
    histograms = models.JSONField()
    inside = models.BinaryField(default=bytes)

    class Meta:
        ordering = ("number",)
        constraints = (models.UniqueConstraint(fields=("run", "number"), name="one_row_per_replication"),)

    def __str__(self) -> str:
        return f"{self.run}: replication {self.number}"
