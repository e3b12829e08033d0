"""Turning devices of machines, and the ticks that tell how far they turn; the workshop counts their changes."""

from importlib import import_module

import django.db.models.deletion
from django.db import migrations, models

tell = import_module("keencoat.shop.migrations.0007_changes_counted").tell
_MACHINE = "(SELECT m.workshop_id FROM shop_machine m WHERE m.id = {})"
_OF_DEVICE = _MACHINE.format("(SELECT d.machine_id FROM shop_turningdevice d WHERE d.id = c.device_id)")


class Migration(migrations.Migration):

    dependencies = [
        ('shop', '0009_shapes_by_name_and_version'),
    ]

    operations = [
        migrations.CreateModel(
            name='TurningDevice',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('name', models.CharField(max_length=60)),
                ('kind', models.CharField(choices=[('chuck', 'chuck'), ('rollers', 'rollers')], max_length=8)),
                ('mm_per_turn', models.FloatField()),
                ('roller_mm', models.FloatField(default=0)),
                ('stands_in_for', models.CharField(choices=[('x', 'x'), ('y', 'y')], max_length=1)),
                ('backwards', models.BooleanField(default=False)),
                ('version', models.PositiveIntegerField(default=1)),
                ('machine', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='turning_devices', to='shop.machine')),
            ],
            options={
                'ordering': ('id',),
            },
        ),
        migrations.CreateModel(
            name='TurnTest',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('at', models.DateTimeField()),
                ('asked_turns', models.FloatField()),
                ('measured_mm', models.FloatField()),
                ('round_mm', models.FloatField()),
                ('mm_per_turn', models.FloatField()),
                ('device', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='tests', to='shop.turningdevice')),
            ],
            options={
                'ordering': ('-at', '-id'),
            },
        ),
        tell("shop_workshop", "shop_turningdevice", _MACHINE.format("c.machine_id")),
        tell("shop_workshop", "shop_turntest", _OF_DEVICE),
    ]
