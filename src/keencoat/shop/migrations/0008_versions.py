"""Prices and a member's units count their changes: nobody overwrites what they have not seen."""

from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("shop", "0007_changes_counted")]

    operations = [
        migrations.AddField("membership", "version", models.PositiveIntegerField(default=1)),
        migrations.AddField("ingredientprice", "version", models.PositiveIntegerField(default=1)),
    ]
