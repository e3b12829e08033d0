"""How pieces of a job lie or turn; the job counts its changes."""

from importlib import import_module

import django.db.models.deletion
import keencoat.shop.stored_field
from django.db import migrations, models

tell = import_module("keencoat.shop.migrations.0007_changes_counted").tell


class Migration(migrations.Migration):

    dependencies = [
        ('jobs', '0019_artwork_text'),
        ('shop', '0010_turning_devices'),
    ]

    operations = [
        migrations.CreateModel(
            name='Placing',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('spec', keencoat.shop.stored_field.StoredField('placing-spec')),
                ('version', models.PositiveIntegerField(default=1)),
                ('artwork', models.ForeignKey(null=True, on_delete=django.db.models.deletion.SET_NULL, related_name='placings', to='jobs.artwork')),
                ('device', models.ForeignKey(null=True, on_delete=django.db.models.deletion.SET_NULL, related_name='placings', to='shop.turningdevice')),
                ('job', models.OneToOneField(on_delete=django.db.models.deletion.CASCADE, related_name='placing', to='jobs.job')),
            ],
        ),
        tell("jobs_job", "jobs_placing", "c.job_id"),
    ]
