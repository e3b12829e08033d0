"""Archives that were brought in, and what their rows became; the workshop counts their changes."""

from importlib import import_module

import django.db.models.deletion
import keencoat.shop.stored_field
from django.db import migrations, models

tell = import_module("keencoat.shop.migrations.0007_changes_counted").tell


class Migration(migrations.Migration):

    dependencies = [
        ('jobs', '0028_job_cost'),
        ('shop', '0015_cost_rates'),
    ]

    operations = [
        migrations.CreateModel(
            name='BroughtArchive',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('name', models.CharField(max_length=120)),
                ('state', models.CharField(max_length=8)),
                ('data', models.BinaryField(null=True)),
                ('report', keencoat.shop.stored_field.StoredField('archive-report', null=True)),
                ('trouble', models.CharField(blank=True, max_length=300)),
                ('asked_at', models.DateTimeField()),
                ('beat_at', models.DateTimeField(null=True)),
                ('ended_at', models.DateTimeField(null=True)),
                ('workshop', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='brought_archives', to='shop.workshop')),
            ],
            options={
                'ordering': ('-id',),
            },
        ),
        migrations.CreateModel(
            name='BroughtRow',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('source', models.UUIDField()),
                ('kind', models.CharField(max_length=24)),
                ('source_id', models.BigIntegerField()),
                ('row_id', models.BigIntegerField()),
                ('workshop', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='brought_rows', to='shop.workshop')),
            ],
            options={
                'ordering': ('id',),
                'constraints': [models.UniqueConstraint(fields=('workshop', 'source', 'kind', 'source_id'), name='brought_row_once')],
            },
        ),
        tell("shop_workshop", "jobs_broughtarchive", "c.workshop_id"),
    ]
