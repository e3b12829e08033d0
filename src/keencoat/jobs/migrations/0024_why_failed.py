"""Answers to cheap tests of a failed piece; faults put into practice pieces."""

import keencoat.shop.stored_field
from django.db import migrations


class Migration(migrations.Migration):

    dependencies = [
        ('jobs', '0023_piece_photos'),
    ]

    operations = [
        migrations.AddField(
            model_name='batchpiece',
            name='answers',
            field=keencoat.shop.stored_field.StoredField('test-answers', default=dict),
        ),
        migrations.AddField(
            model_name='practice',
            name='faults',
            field=keencoat.shop.stored_field.StoredField('practice-faults', default=dict),
        ),
    ]
