"""Runs know their settings and how much of them is handed out and done; chunks know their job."""

from typing import Any

import django.utils.timezone
from django.db import migrations, models

from flowcore.study import RunSettings


def fill_in(apps: Any, schema_editor: Any) -> None:
    """Take the settings of earlier runs from their documents; all their chunks were on the queue from the start."""
    for run in apps.get_model("runs", "Run").objects.select_related("version").iterator():
        run.settings = RunSettings.model_validate(run.version.document.get("run", {})).model_dump(mode="json")
        run.handed_out = run.replications
        run.done = run.rows.count()
        run.save(update_fields=["settings", "handed_out", "done"])


class Migration(migrations.Migration):
    dependencies = [("runs", "0002_histograms"), ("studies", "0002_what_changed")]

    operations = [
        migrations.AddField("chunk", "job", models.BigIntegerField(null=True)),
        migrations.AddField("chunk", "created_at", models.DateTimeField(default=django.utils.timezone.now)),
        migrations.AddField("run", "settings", models.JSONField(default=dict), preserve_default=False),
        migrations.AddField("run", "per_chunk", models.PositiveIntegerField(default=1)),
        migrations.AddField("run", "handed_out", models.PositiveIntegerField(default=0)),
        migrations.AddField("run", "done", models.PositiveIntegerField(default=0)),
        migrations.RunPython(fill_in, migrations.RunPython.noop),
        migrations.AddIndex(
            "chunk", models.Index(condition=models.Q(("is_done", False)), fields=["run"], name="chunks_not_done")
        ),
        migrations.AddIndex(
            "run", models.Index(condition=models.Q(("finished_at", None)), fields=["state"], name="runs_not_over")
        ),
    ]
