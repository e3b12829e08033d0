"""Later looks at finished pieces; the job counts them."""

from importlib import import_module

import django.db.models.deletion
import keencoat.shop.stored_field
from django.db import migrations, models

tell = import_module("keencoat.shop.migrations.0007_changes_counted").tell

_OF_PIECE = "(SELECT b.job_id FROM jobs_batchpiece p JOIN jobs_batch b ON b.id = p.batch_id WHERE p.id = c.piece_id)"


class Migration(migrations.Migration):

    dependencies = [
        ('jobs', '0021_batches'),
    ]

    operations = [
        migrations.CreateModel(
            name='LaterLook',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('at', models.DateTimeField()),
                ('by', models.CharField(max_length=150)),
                ('trial', models.CharField(choices=[('scraper', 'scraper'), ('solvent', 'solvent'), ('dishwasher', 'dishwasher'), ('time', 'time')], max_length=10)),
                ('washes', models.PositiveIntegerField(null=True)),
                ('held', models.BooleanField()),
                ('defects', keencoat.shop.stored_field.StoredField('defects', default=list)),
                ('note', models.CharField(blank=True, max_length=300)),
                ('piece', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='later_looks', to='jobs.batchpiece')),
            ],
            options={
                'ordering': ('at', 'id'),
            },
        ),
        tell("jobs_job", "jobs_laterlook", _OF_PIECE),
    ]
