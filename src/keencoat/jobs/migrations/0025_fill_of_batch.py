"""How wide the largest fill of a batch is."""

from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('jobs', '0024_why_failed'),
    ]

    operations = [
        migrations.AddField(
            model_name='batch',
            name='fill_mm',
            field=models.FloatField(null=True),
        ),
    ]
