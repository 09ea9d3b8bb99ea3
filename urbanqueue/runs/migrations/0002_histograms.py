"""Histograms of waits are kept beside others, by the address of the quantity."""

from collections.abc import Callable
from typing import Any

from django.db import migrations


def rewritten(rewrite: Callable[[str], str | None]) -> Callable[[Any, Any], None]:
    """Return a step that gives every histogram the address that `rewrite` says, or takes it out."""

    def step(apps: Any, schema_editor: Any) -> None:
        for row in apps.get_model("runs", "ReplicationRow").objects.iterator():
            row.histograms = {rewrite(key): counts for key, counts in row.histograms.items() if rewrite(key)}
            row.save(update_fields=["histograms"])

    return step


class Migration(migrations.Migration):
    dependencies = [("runs", "0001_initial")]

    operations = [
        migrations.RenameField("replicationrow", "waits", "histograms"),
        migrations.RunPython(
            rewritten(lambda subject: f"{subject}/wait"),
            rewritten(lambda address: address.removesuffix("/wait") if address.endswith("/wait") else None),
        ),
    ]
