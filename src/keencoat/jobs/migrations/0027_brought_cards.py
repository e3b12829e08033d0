"""Setting cards of other workshops; the workshop counts their changes."""

from importlib import import_module

import django.db.models.deletion
import keencoat.shop.stored_field
from django.db import migrations, models

tell = import_module("keencoat.shop.migrations.0007_changes_counted").tell


class Migration(migrations.Migration):

    dependencies = [
        ('jobs', '0026_burns_as_rows'),
        ('shop', '0014_workshop_uid'),
    ]

    operations = [
        migrations.CreateModel(
            name='BroughtCard',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('uid', models.CharField(max_length=64)),
                ('card', keencoat.shop.stored_field.StoredField('setting-card')),
                ('brought_at', models.DateTimeField()),
                ('put_away', models.BooleanField(default=False)),
                ('workshop', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='brought_cards', to='shop.workshop')),
            ],
            options={
                'ordering': ('id',),
            },
        ),
        migrations.AddField(
            model_name='job',
            name='card',
            field=models.ForeignKey(null=True, on_delete=django.db.models.deletion.SET_NULL, related_name='jobs', to='jobs.broughtcard'),
        ),
        migrations.AddConstraint(
            model_name='broughtcard',
            constraint=models.UniqueConstraint(fields=('workshop', 'uid'), name='brought_card_once'),
        ),
        tell("shop_workshop", "jobs_broughtcard", "c.workshop_id"),
    ]
