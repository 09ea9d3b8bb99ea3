"""Histograms have the same bins everywhere and are bytes; figures by the hour of the week stand beside them."""

import zlib

import numpy as np
from django.db import migrations, models

FINEST, PER_OCTAVE = -6, 64


def _edges(bins):
    numbers = np.arange(bins)
    octave = np.maximum(0, numbers // PER_OCTAVE - 1)
    return np.concatenate([[0.0], (numbers - PER_OCTAVE * octave + 1) * 2.0 ** (FINEST + octave)])


def _in_new_bins(exponent, counts, zeros):
    """Return counts in bins of equal width in the new ones: those of a bin that becomes several evenly among them."""
    counts = np.array(counts, np.int64)
    counts[:1] -= zeros
    ends = 2.0**exponent * np.arange(len(counts) + 1)
    new = _edges(next(n for n in range(PER_OCTAVE, 10**6, PER_OCTAVE) if _edges(n)[-1] >= ends[-1]))
    up_to = np.rint(np.interp(new, ends, np.concatenate([[0], np.cumsum(counts)]))).astype(np.int64)
    found = np.diff(up_to)
    found[0] += zeros
    return np.trim_zeros(found, "b")


def pack(apps, _editor):
    samples, rows = apps.get_model("runs", "Sample"), apps.get_model("runs", "ReplicationRow")
    for sample in samples.objects.iterator():
        places = {address: place for place, address in enumerate(sample.addresses)}
        first = rows.objects.filter(sample=sample).first()
        sample.quantities = list(first.old_histograms) if first else []
        sample.save(update_fields=["quantities"])
        for row in rows.objects.filter(sample=sample).defer("inside").iterator(100):
            values = np.frombuffer(row.values)
            parts = [_packed(row.old_histograms[each], values[places[f"{each}/none"]]) for each in sample.quantities]
            ends = np.cumsum([len(part) for part in parts], dtype=np.uint32)
            row.histograms = ends.tobytes() + b"".join(parts)
            row.save(update_fields=["histograms"])


def _packed(old, none):
    exponent, *counts = old
    zeros = round(float(np.nan_to_num(none)) * sum(counts))
    return zlib.compress(_in_new_bins(exponent, counts, zeros).astype(np.uint32).tobytes(), 1)


class Migration(migrations.Migration):

    dependencies = [("runs", "0007_how_long_it_took")]

    operations = [
        migrations.AddField("sample", "quantities", models.JSONField(default=list)),
        migrations.AddField("sample", "hourly", models.JSONField(default=list)),
        migrations.AddField("replicationrow", "week", models.BinaryField(default=bytes)),
        migrations.RenameField("replicationrow", "histograms", "old_histograms"),
        migrations.AddField("replicationrow", "histograms", models.BinaryField(default=bytes)),
        migrations.RunPython(pack, migrations.RunPython.noop),
        migrations.RemoveField("replicationrow", "old_histograms"),
        migrations.AlterField("replicationrow", "histograms", models.BinaryField()),
        migrations.CreateModel(
            name="SummedUp",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("section", models.CharField(max_length=20)),
                ("done", models.PositiveIntegerField()),
                ("engine", models.CharField(max_length=40)),
                ("body", models.BinaryField()),
                ("part", models.ForeignKey("runs.part", models.CASCADE, related_name="summed_up")),
            ],
            options={
                "constraints": [models.UniqueConstraint(fields=("part", "section"), name="one_of_each_section")],
            },
        ),
    ]
