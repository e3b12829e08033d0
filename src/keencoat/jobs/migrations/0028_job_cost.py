"""What a job costs, as said; the job counts its changes."""

from importlib import import_module

import django.db.models.deletion
import keencoat.shop.stored_field
from django.db import migrations, models

tell = import_module("keencoat.shop.migrations.0007_changes_counted").tell


class Migration(migrations.Migration):

    dependencies = [
        ('jobs', '0027_brought_cards'),
    ]

    operations = [
        migrations.CreateModel(
            name='JobCost',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('told', keencoat.shop.stored_field.StoredField('job-cost')),
                ('version', models.PositiveIntegerField(default=1)),
                ('job', models.OneToOneField(on_delete=django.db.models.deletion.CASCADE, related_name='cost', to='jobs.job')),
            ],
        ),
        tell("jobs_job", "jobs_jobcost", "c.job_id"),
    ]
