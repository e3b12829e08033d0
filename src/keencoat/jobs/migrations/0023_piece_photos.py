"""Photos of the pieces of a batch; the job counts their changes."""

from importlib import import_module

import django.db.models.deletion
import keencoat.shop.stored_field
from django.db import migrations, models

tell = import_module("keencoat.shop.migrations.0007_changes_counted").tell

_OF_PIECE = "(SELECT b.job_id FROM jobs_batchpiece p JOIN jobs_batch b ON b.id = p.batch_id WHERE p.id = c.piece_id)"


class Migration(migrations.Migration):

    dependencies = [
        ('jobs', '0022_later_looks'),
    ]

    operations = [
        migrations.CreateModel(
            name='PiecePhoto',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('at', models.DateTimeField()),
                ('original', models.BinaryField()),
                ('kind', models.CharField(max_length=8)),
                ('simulated', models.BooleanField(default=False)),
                ('points', keencoat.shop.stored_field.StoredField('corners', null=True)),
                ('trouble', keencoat.shop.stored_field.StoredField('trouble', null=True)),
                ('upright', models.BinaryField(null=True)),
                ('version', models.PositiveIntegerField(default=1)),
                ('difference', models.BinaryField(null=True)),
                ('reading', keencoat.shop.stored_field.StoredField('artwork-likeness', null=True)),
                ('piece', models.OneToOneField(on_delete=django.db.models.deletion.CASCADE, related_name='photo', to='jobs.batchpiece')),
            ],
            options={
                'ordering': ('id',),
            },
        ),
        tell("jobs_job", "jobs_piecephoto", _OF_PIECE),
    ]
