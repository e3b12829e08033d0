"""What heads a shop's quotes and receipts."""

from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('shop', '0016_exact_prices'),
    ]

    operations = [
        migrations.AddField(
            model_name='workshop',
            name='letterhead',
            field=models.TextField(blank=True, default='', max_length=500),
        ),
    ]
