import django.utils.timezone
from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("studies", "0002_what_changed")]

    operations = [
        migrations.AddField("version", "since", models.DateTimeField(default=django.utils.timezone.now)),
        migrations.AddField("version", "folded", models.BooleanField(default=False)),
        migrations.AddField("version", "restores", models.PositiveIntegerField(null=True)),
        migrations.AlterField("version", "saved_at", models.DateTimeField(default=django.utils.timezone.now)),
    ]
