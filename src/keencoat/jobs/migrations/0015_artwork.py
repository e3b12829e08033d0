"""Artwork of jobs: what was brought, and what is asked of it; the job counts its changes."""

from importlib import import_module

import django.db.models.deletion
import keencoat.shop.stored_field
from django.db import migrations, models

tell = import_module("keencoat.shop.migrations.0007_changes_counted").tell


class Migration(migrations.Migration):
    dependencies = [("jobs", "0014_what_a_spare_is_worth")]

    operations = [
        migrations.CreateModel(
            name="Artwork",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("at", models.DateTimeField()),
                ("name", models.CharField(max_length=60)),
                (
                    "kind",
                    models.CharField(
                        choices=[("picture", "picture"), ("drawing", "drawing"), ("names", "names")], max_length=8
                    ),
                ),
                ("source", models.BinaryField()),
                ("spec", keencoat.shop.stored_field.StoredField("artwork-spec")),
                ("version", models.PositiveIntegerField(default=1)),
                (
                    "job",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE, related_name="artworks", to="jobs.job"
                    ),
                ),
            ],
            options={"ordering": ("id",)},
        ),
        tell("jobs_job", "jobs_artwork", "c.job_id"),
    ]
