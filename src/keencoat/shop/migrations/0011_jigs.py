"""Jigs of the shop; the workshop counts their changes."""

from importlib import import_module

import django.db.models.deletion
import keencoat.shop.stored_field
from django.db import migrations, models

tell = import_module("keencoat.shop.migrations.0007_changes_counted").tell


class Migration(migrations.Migration):

    dependencies = [
        ('shop', '0010_turning_devices'),
    ]

    operations = [
        migrations.CreateModel(
            name='KeptJig',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('name', models.CharField(max_length=60)),
                ('shape', models.CharField(choices=[('rectangle', 'rectangle'), ('disc', 'disc'), ('cylinder', 'cylinder'), ('frustum', 'frustum')], max_length=12)),
                ('width_mm', models.FloatField()),
                ('height_mm', models.FloatField()),
                ('spec', keencoat.shop.stored_field.StoredField('jig-spec')),
                ('touched', keencoat.shop.stored_field.StoredField('jig-crosses', default=list)),
                ('seated_at', models.DateTimeField(null=True)),
                ('times_laid', models.PositiveIntegerField(default=0)),
                ('put_away', models.BooleanField(default=False)),
                ('added_at', models.DateTimeField()),
                ('version', models.PositiveIntegerField(default=1)),
                ('machine', models.ForeignKey(null=True, on_delete=django.db.models.deletion.SET_NULL, related_name='+', to='shop.machine')),
                ('workshop', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='jigs', to='shop.workshop')),
            ],
            options={
                'ordering': ('width_mm', 'height_mm', 'id'),
            },
        ),
        tell("shop_workshop", "shop_keptjig", "c.workshop_id"),
    ]
