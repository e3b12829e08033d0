"""Quotes and receipts as they were written; the job counts their changes."""

from importlib import import_module

import django.core.validators
import django.db.models.deletion
import keencoat.shop.stored_field
from django.db import migrations, models

tell = import_module("keencoat.shop.migrations.0007_changes_counted").tell


class Migration(migrations.Migration):

    dependencies = [
        ('jobs', '0029_brought_archives'),
        ('shop', '0017_letterhead'),
    ]

    operations = [
        migrations.CreateModel(
            name='MoneySlip',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('kind', models.CharField(choices=[('quote', 'quote'), ('receipt', 'receipt')], max_length=10)),
                ('series', models.UUIDField()),
                ('year', models.PositiveIntegerField(validators=[django.core.validators.MinValueValidator(1900), django.core.validators.MaxValueValidator(2200)])),
                ('number', models.PositiveIntegerField(validators=[django.core.validators.MinValueValidator(1), django.core.validators.MaxValueValidator(1000000)])),
                ('told', keencoat.shop.stored_field.StoredField('money-slip')),
                ('withdrawn_at', models.DateTimeField(null=True)),
                ('job', models.ForeignKey(null=True, on_delete=django.db.models.deletion.SET_NULL, related_name='slips', to='jobs.job')),
                ('workshop', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='slips', to='shop.workshop')),
            ],
            options={
                'ordering': ('-year', '-number', '-pk'),
                'constraints': [models.UniqueConstraint(fields=('workshop', 'series', 'kind', 'year', 'number'), name='slip_number_once')],
            },
        ),
        tell("jobs_job", "jobs_moneyslip", "c.job_id"),
    ]
