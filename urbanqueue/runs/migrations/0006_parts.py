"""A run has parts, one a scenario; replications belong to samples, which runs of the same document share."""

from typing import Any

import django.contrib.postgres.fields
import django.db.models.deletion
import numpy as np
from django.conf import settings
from django.db import migrations, models


def give_parts(apps: Any, schema_editor: Any) -> None:
    """Make each run that there is a run of the baseline alone, with a sample of its own."""
    sample_of, part_of = apps.get_model("runs", "Sample"), apps.get_model("runs", "Part")
    for run in apps.get_model("runs", "Run").objects.select_related("version").iterator():
        sample = sample_of.objects.create(
            study_id=run.version.study_id,
            digest=f"run {run.pk}",
            engine=run.engine,
            document=run.version.document,
            per_chunk=run.per_chunk,
            handed_out=run.handed_out,
            addresses=run.addresses,
        )
        run.chunks.update(sample=sample)
        run.rows.update(sample=sample)
        is_cut_short = run.state in ("stopped", "failed")
        part_of.objects.create(
            run=run,
            place=0,
            name="As it is today",
            sample=sample,
            replications=run.replications,
            done=run.done,
            kept=sorted(run.rows.values_list("number", flat=True)) if is_cut_short else None,
            problem=run.problem,
        )


def pack_values(apps: Any, schema_editor: Any) -> None:
    """Write each replication's figures as bytes, which are read at once."""
    for row in apps.get_model("runs", "ReplicationRow").objects.defer("histograms", "inside").iterator(100):
        row.packed = np.array(row.values).tobytes()
        row.save(update_fields=["packed"])


class Migration(migrations.Migration):
    dependencies = [
        ("runs", "0005_finding"),
        ("studies", "0003_folded_versions"),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name="Sample",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("digest", models.CharField(max_length=64)),
                ("engine", models.CharField(max_length=40)),
                ("document", models.JSONField()),
                ("per_chunk", models.PositiveIntegerField(default=1)),
                ("handed_out", models.PositiveIntegerField(default=0)),
                ("seconds", models.FloatField(default=0.0)),
                ("addresses", models.JSONField(default=list)),
                (
                    "study",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE, related_name="samples", to="studies.study"
                    ),
                ),
            ],
            options={
                "constraints": [
                    models.UniqueConstraint(
                        fields=("study", "digest", "engine"), name="one_sample_of_one_document"
                    )
                ]
            },
        ),
        migrations.CreateModel(
            name="Part",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("place", models.PositiveIntegerField()),
                ("scenario", models.CharField(blank=True, max_length=64)),
                ("name", models.CharField(max_length=120)),
                ("replications", models.PositiveIntegerField()),
                ("done", models.PositiveIntegerField(default=0)),
                ("stored", models.PositiveIntegerField(default=0)),
                (
                    "kept",
                    django.contrib.postgres.fields.ArrayField(
                        base_field=models.PositiveIntegerField(), null=True, size=None
                    ),
                ),
                ("problem", models.TextField(blank=True)),
                (
                    "run",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE, related_name="parts", to="runs.run"
                    ),
                ),
                (
                    "sample",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.RESTRICT, related_name="parts", to="runs.sample"
                    ),
                ),
            ],
            options={
                "ordering": ("place",),
                "constraints": [
                    models.UniqueConstraint(fields=("run", "scenario"), name="one_part_per_scenario")
                ],
            },
        ),
        migrations.AddField("run", "name", models.CharField(blank=True, max_length=120), preserve_default=False),
        migrations.AddField("run", "note", models.TextField(blank=True), preserve_default=False),
        migrations.AddField(
            "run",
            "started_by",
            models.ForeignKey(
                null=True, on_delete=django.db.models.deletion.SET_NULL, to=settings.AUTH_USER_MODEL
            ),
        ),
        migrations.AlterField("run", "engine", models.CharField(max_length=40)),
        migrations.AddField(
            "chunk",
            "sample",
            models.ForeignKey(
                null=True, on_delete=django.db.models.deletion.CASCADE, related_name="chunks", to="runs.sample"
            ),
        ),
        migrations.AddField(
            "replicationrow",
            "sample",
            models.ForeignKey(
                null=True, on_delete=django.db.models.deletion.CASCADE, related_name="rows", to="runs.sample"
            ),
        ),
        migrations.AddField("replicationrow", "packed", models.BinaryField(default=bytes), preserve_default=False),
        migrations.RunPython(give_parts),
        migrations.RunPython(pack_values),
        migrations.RunSQL("set constraints all immediate", "set constraints all immediate"),
        migrations.RemoveConstraint("replicationrow", "one_row_per_replication"),
        migrations.RemoveIndex("chunk", "chunks_not_done"),
        migrations.RemoveField("chunk", "run"),
        migrations.RemoveField("replicationrow", "run"),
        migrations.RemoveField("replicationrow", "values"),
        migrations.RenameField("replicationrow", "packed", "values"),
        *[
            migrations.RemoveField("run", name)
            for name in ("replications", "per_chunk", "handed_out", "done", "problem", "addresses")
        ],
        migrations.AlterField(
            "chunk",
            "sample",
            models.ForeignKey(
                on_delete=django.db.models.deletion.CASCADE, related_name="chunks", to="runs.sample"
            ),
        ),
        migrations.AlterField(
            "replicationrow",
            "sample",
            models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name="rows", to="runs.sample"),
        ),
        migrations.AddConstraint(
            "replicationrow",
            models.UniqueConstraint(fields=("sample", "number"), name="one_row_per_replication"),
        ),
        migrations.AddConstraint(
            "chunk", models.UniqueConstraint(fields=("sample", "first"), name="one_chunk_from_one_number")
        ),
        migrations.AddIndex(
            "chunk",
            models.Index(fields=("sample",), condition=models.Q(is_done=False), name="chunks_not_done"),
        ),
    ]
