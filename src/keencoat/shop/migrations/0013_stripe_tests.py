"""Stripe tests: whether lines to and fro meet."""

from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('shop', '0012_eyewear'),
    ]

    operations = [
        migrations.AlterField(
            model_name='spottest',
            name='kind',
            field=models.CharField(choices=[('lines', 'lines at rising power'), ('ladder', 'lines at several heights'), ('stripes', 'stripes at several speeds, both ways')], max_length=8),
        ),
    ]
