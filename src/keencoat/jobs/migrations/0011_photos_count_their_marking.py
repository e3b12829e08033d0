"""Photos count how often they were marked and read: nobody overwrites corners that they have not seen."""

from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("jobs", "0010_changes_counted")]

    operations = [
        migrations.AddField("gridphoto", "version", models.PositiveIntegerField(default=1)),
        migrations.AddField("coatphoto", "version", models.PositiveIntegerField(default=1)),
    ]
