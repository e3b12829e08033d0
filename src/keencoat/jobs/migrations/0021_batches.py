"""Batches at a locked setting, piece by piece; the job counts their changes."""

from importlib import import_module

import django.db.models.deletion
import keencoat.core.states
import keencoat.shop.stored_field
from django.db import migrations, models

tell = import_module("keencoat.shop.migrations.0007_changes_counted").tell


class Migration(migrations.Migration):

    dependencies = [
        ('jobs', '0020_placing'),
        ('shop', '0012_eyewear'),
    ]

    operations = [
        migrations.CreateModel(
            name='Batch',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('number', models.PositiveIntegerField()),
                ('started_at', models.DateTimeField()),
                ('lock_version', models.PositiveIntegerField()),
                ('setting', keencoat.shop.stored_field.StoredField('setting')),
                ('expected', keencoat.shop.stored_field.StoredField('range')),
                ('machine_facts', keencoat.shop.stored_field.StoredField('machine')),
                ('machine_name', models.CharField(max_length=60)),
                ('artwork_words', models.CharField(blank=True, max_length=80)),
                ('gate', keencoat.shop.stored_field.StoredField('gate-ticks')),
                ('gate_at', models.DateTimeField()),
                ('pace', models.FloatField(default=1.0)),
                ('burn_s', models.FloatField(null=True)),
                ('cool_low_s', models.FloatField(null=True)),
                ('cool_most_s', models.FloatField(null=True)),
                ('finished', keencoat.shop.stored_field.StoredField('finish-ticks', default=list)),
                ('closed_at', models.DateTimeField(null=True)),
                ('jig', models.ForeignKey(null=True, on_delete=django.db.models.deletion.SET_NULL, related_name='+', to='shop.keptjig')),
                ('job', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='batches', to='jobs.job')),
                ('made', models.ForeignKey(null=True, on_delete=django.db.models.deletion.SET_NULL, related_name='batches', to='jobs.artworkversion')),
                ('run', models.OneToOneField(null=True, on_delete=django.db.models.deletion.SET_NULL, related_name='batch', to='jobs.runrecord')),
            ],
            options={
                'ordering': ('id',),
            },
        ),
        migrations.CreateModel(
            name='BatchPiece',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('number', models.PositiveIntegerField()),
                ('attempt', models.PositiveIntegerField(default=1)),
                ('turn', models.PositiveIntegerField()),
                ('pocket', models.PositiveIntegerField(null=True)),
                ('name', models.CharField(blank=True, max_length=200)),
                ('state', models.CharField(choices=[('waiting', 'waiting'), ('placed', 'placed'), ('framed', 'framed'), ('burning', 'burning'), ('cooling', 'cooling'), ('washed', 'washed'), ('looked', 'looked'), ('stopped', 'stopped'), ('skipped', 'skipped')], default=keencoat.core.states.PieceState['WAITING'], max_length=8)),
                ('since', models.DateTimeField()),
                ('log', keencoat.shop.stored_field.StoredField('piece-log', default=list)),
                ('rating', models.CharField(blank=True, max_length=6)),
                ('spoilt', models.BooleanField(default=False)),
                ('defects', keencoat.shop.stored_field.StoredField('defects', default=list)),
                ('note', models.CharField(blank=True, max_length=300)),
                ('looked_at', models.DateTimeField(null=True)),
                ('version', models.PositiveIntegerField(default=1)),
                ('batch', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='pieces', to='jobs.batch')),
                ('burn', models.OneToOneField(null=True, on_delete=django.db.models.deletion.SET_NULL, related_name='batch_piece', to='jobs.artworkburn')),
            ],
            options={
                'ordering': ('turn', 'number', 'attempt'),
            },
        ),
        migrations.AddConstraint(
            model_name='batch',
            constraint=models.UniqueConstraint(fields=('job', 'number'), name='batch_number_once'),
        ),
        migrations.AddConstraint(
            model_name='batchpiece',
            constraint=models.UniqueConstraint(fields=('batch', 'number', 'attempt'), name='batch_piece_once'),
        ),
        tell("jobs_job", "jobs_batch", "c.job_id"),
        tell("jobs_job", "jobs_batchpiece", "(SELECT b.job_id FROM jobs_batch b WHERE b.id = c.batch_id)"),
    ]
