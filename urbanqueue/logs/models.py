"""Log files that were brought to studies, and what was read of them: never in the document of a study."""

from django.conf import settings
from django.db import models

from urbanqueue.studies.models import Study


class LogFile(models.Model):
    """A log of a real service, as it was brought: how it is read, what was read, and what is done about doubts.

    `preview` is how it was recognised, `reading` how the analyst has it, None until then; `treatment` is what is done
    about what is doubtful, `matching` what its names stand for in the study. `report` says how it was read, `look` and
    `found` what is in it, None until they are known. `rows` is how many rows have been read so far, `share` how much
    has been found. `problems` say why it cannot be read. `job` is the queue's.
    """

    class LogState(models.TextChoices):
        """How far it is: to be confirmed, to be read, under way, read, or not to be read as it is."""

        RECOGNISED = "recognised"
        WAITING = "waiting"
        READING = "reading"
        READ = "read"
        FAILED = "failed"

    study = models.ForeignKey(Study, models.CASCADE, related_name="logs")
    name = models.CharField(max_length=200)
    size = models.BigIntegerField(default=0)
    brought_by = models.ForeignKey(settings.AUTH_USER_MODEL, models.SET_NULL, null=True)
    brought_at = models.DateTimeField(auto_now_add=True)
    state = models.CharField(max_length=10, choices=LogState.choices, default=LogState.RECOGNISED)
    preview = models.JSONField(null=True)
    reading = models.JSONField(null=True)
    treatment = models.JSONField(default=dict)
    matching = models.JSONField(default=dict)
    report = models.JSONField(null=True)
    doubts = models.JSONField(null=True)
    look = models.JSONField(null=True)
    found = models.JSONField(null=True)
    rows = models.PositiveIntegerField(default=0)
    share = models.FloatField(default=0.0)
    problems = models.JSONField(default=list)
    job = models.BigIntegerField(null=True)

    class Meta:
        ordering = ("-brought_at",)
        indexes = (models.Index(fields=("state",), name="logs_by_state"),)

    def __str__(self) -> str:
        return self.name


class LogPiece(models.Model):
    """A piece of a file as it was brought, in the order of their places."""

    log = models.ForeignKey(LogFile, models.CASCADE, related_name="pieces")
    place = models.PositiveIntegerField()
    content = models.BinaryField()

    class Meta:
        ordering = ("place",)
        constraints = (models.UniqueConstraint(fields=("log", "place"), name="one_piece_a_place"),)

    def __str__(self) -> str:
        return f"{self.log}, piece {self.place}"


class LogColumn(models.Model):
    """A column of the visits that were read of a log, or its names; see `packing`."""

    log = models.ForeignKey(LogFile, models.CASCADE, related_name="columns")
    name = models.CharField(max_length=20)
    content = models.BinaryField()

    class Meta:
        constraints = (models.UniqueConstraint(fields=("log", "name"), name="one_column_a_name"),)

    def __str__(self) -> str:
        return f"{self.log}, {self.name}"
