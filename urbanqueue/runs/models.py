"""Runs, their parts, the samples that these are read from, the chunks in which workers draw them, and what they say."""

import uuid
from datetime import timedelta

from django.conf import settings
from django.contrib.postgres.fields import ArrayField
from django.db import models
from django.utils import timezone

from urbanqueue.studies.models import Study, Version


class Run(models.Model):
    """A run of scenarios of one version of a study, all with the same settings and the same luck.

    `settings` are how long and how often. `finding` is what it found, in a sentence; None until that is told, which is
    soon after it is over. `took` is how long it was under way until it was over, each time that one went on with it;
    `begun_at` is the last time. One that `redraws` another is nobody's own: it draws the other's replications with what
    they did not tell, and hands them over when it is done.
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
    redraws = models.OneToOneField("self", models.CASCADE, null=True, related_name="redrawn_by")
    name = models.CharField(max_length=120, blank=True)
    note = models.TextField(blank=True)
    started_by = models.ForeignKey(settings.AUTH_USER_MODEL, models.SET_NULL, null=True)
    state = models.CharField(max_length=10, choices=State.choices, default=State.WAITING)
    settings = models.JSONField()
    engine = models.CharField(max_length=40)
    finding = models.TextField(null=True)  # noqa: DJ001
    created_at = models.DateTimeField(auto_now_add=True)
    begun_at = models.DateTimeField(default=timezone.now)
    finished_at = models.DateTimeField(null=True)
    took = models.DurationField(default=timedelta)

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


class Sample(models.Model):
    """The replications of one document: whoever runs the same document again, with the same engine, reads them.

    `digest` stands for all of the document that matters to a replication. Replications are handed out in chunks of
    `per_chunk`, a few at a time; those below `handed_out` are with a worker or done. `seconds` is what they took. What
    a row holds is told by the `addresses` of its figures, the `quantities` of its histograms, what it has `hourly`, and
    the aims that are judged `by_time` with how many cells each has.
    """

    study = models.ForeignKey(Study, models.CASCADE, related_name="samples")
    digest = models.CharField(max_length=64)
    engine = models.CharField(max_length=40)
    document = models.JSONField()
    per_chunk = models.PositiveIntegerField(default=1)
    handed_out = models.PositiveIntegerField(default=0)
    seconds = models.FloatField(default=0.0)
    addresses = models.JSONField(default=list)
    quantities = models.JSONField(default=list)
    hourly = models.JSONField(default=list)
    by_time = models.JSONField(default=list)

    class Meta:
        constraints = (
            models.UniqueConstraint(fields=("study", "digest", "engine"), name="one_sample_of_one_document"),
        )

    def __str__(self) -> str:
        return f"{self.study}: {self.digest[:8]}"


class Part(models.Model):
    """One scenario of a run; without a `scenario` the baseline. It reads the first `replications` of its sample.

    `stored` of them were there before it began. What a part had when it was stopped or failed is `kept`, by number.
    """

    run = models.ForeignKey(Run, models.CASCADE, related_name="parts")
    place = models.PositiveIntegerField()
    scenario = models.CharField(max_length=64, blank=True)
    name = models.CharField(max_length=120)
    sample = models.ForeignKey(Sample, models.RESTRICT, related_name="parts")
    replications = models.PositiveIntegerField()
    done = models.PositiveIntegerField(default=0)
    stored = models.PositiveIntegerField(default=0)
    kept = ArrayField(models.PositiveIntegerField(), null=True)
    problem = models.TextField(blank=True)

    class Meta:
        ordering = ("place",)
        constraints = (models.UniqueConstraint(fields=("run", "scenario"), name="one_part_per_scenario"),)

    def __str__(self) -> str:
        return f"{self.run}: {self.name}"


class Chunk(models.Model):
    """Some replications of a sample, done by one worker at a stretch.

    `token` belongs to the latest attempt: only its holder may write results. `job` is the queue's, which may lose it.
    """

    sample = models.ForeignKey(Sample, models.CASCADE, related_name="chunks")
    first = models.PositiveIntegerField()
    count = models.PositiveIntegerField()
    token = models.UUIDField(default=uuid.uuid4)
    job = models.BigIntegerField(null=True)
    created_at = models.DateTimeField(default=timezone.now)
    attempts = models.PositiveIntegerField(default=0)
    is_done = models.BooleanField(default=False)

    class Meta:
        indexes = (models.Index(fields=("sample",), condition=models.Q(is_done=False), name="chunks_not_done"),)
        constraints = (models.UniqueConstraint(fields=("sample", "first"), name="one_chunk_from_one_number"),)

    def __str__(self) -> str:
        return f"{self.sample}: {self.first} to {self.first + self.count - 1}"


class ReplicationRow(models.Model):
    """The figures of one replication, in the order of the sample's addresses, eight bytes each; see `packing`.

    `inside` are the cases inside by interval of the run, `week` are figures by the hour of the week, four bytes each,
    `cells` what targets of days and intervals are judged by.
    """

    sample = models.ForeignKey(Sample, models.CASCADE, related_name="rows")
    number = models.PositiveIntegerField()
    values = models.BinaryField()
    histograms = models.BinaryField()
    inside = models.BinaryField(default=bytes)
    week = models.BinaryField(default=bytes)
    cells = models.BinaryField(default=bytes)

    class Meta:
        ordering = ("number",)
        constraints = (models.UniqueConstraint(fields=("sample", "number"), name="one_row_per_replication"),)

    def __str__(self) -> str:
        return f"{self.sample}: replication {self.number}"


class SummedUp(models.Model):
    """What is kept of a part's findings when it had so many replications `done`: one of their sections, squeezed."""

    part = models.ForeignKey(Part, models.CASCADE, related_name="summed_up")
    section = models.CharField(max_length=20)
    done = models.PositiveIntegerField()
    engine = models.CharField(max_length=40)
    body = models.BinaryField()

    class Meta:
        constraints = (models.UniqueConstraint(fields=("part", "section"), name="one_of_each_section"),)

    def __str__(self) -> str:
        return f"{self.part}: {self.section}"
