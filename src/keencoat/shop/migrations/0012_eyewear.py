"""Eyewear of the shop; the workshop counts its changes."""

from importlib import import_module

import django.db.models.deletion
import keencoat.shop.stored_field
from django.db import migrations, models

tell = import_module("keencoat.shop.migrations.0007_changes_counted").tell


class Migration(migrations.Migration):

    dependencies = [
        ('shop', '0011_jigs'),
    ]

    operations = [
        migrations.CreateModel(
            name='Eyewear',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('name', models.CharField(max_length=60)),
                ('bands', keencoat.shop.stored_field.StoredField('eyewear-bands')),
                ('put_away', models.BooleanField(default=False)),
                ('version', models.PositiveIntegerField(default=1)),
                ('workshop', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='eyewear', to='shop.workshop')),
            ],
            options={
                'ordering': ('name', 'id'),
            },
        ),
        tell("shop_workshop", "shop_eyewear", "c.workshop_id"),
    ]
