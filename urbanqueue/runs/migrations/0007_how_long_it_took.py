"""Runs say how long they took."""

import datetime
from typing import Any

import django.utils.timezone
from django.db import migrations, models
from django.db.models import F


def say_how_long(apps: Any, schema_editor: Any) -> None:
    """Let the runs that are over have taken as long as from their start to their end."""
    over = apps.get_model("runs", "Run").objects.filter(finished_at__isnull=False)
    over.update(begun_at=F("created_at"), took=F("finished_at") - F("created_at"))


class Migration(migrations.Migration):
    dependencies = [("runs", "0006_parts")]

    operations = [
        migrations.AddField("run", "begun_at", models.DateTimeField(default=django.utils.timezone.now)),
        migrations.AddField("run", "took", models.DurationField(default=datetime.timedelta)),
        migrations.RunPython(say_how_long, migrations.RunPython.noop),
    ]
