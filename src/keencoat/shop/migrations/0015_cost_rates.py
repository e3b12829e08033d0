"""What the shop reckons with."""

import keencoat.shop.stored_field
from django.db import migrations


class Migration(migrations.Migration):

    dependencies = [
        ('shop', '0014_workshop_uid'),
    ]

    operations = [
        migrations.AddField(
            model_name='workshop',
            name='rates',
            field=keencoat.shop.stored_field.StoredField('cost-rates', default=dict),
        ),
    ]
