"""Locked settings are evidence: they are not emptied at a stroke either."""

from django.db import migrations


class Migration(migrations.Migration):
    dependencies = [("jobs", "0008_put_away_and_labels_once"), ("logbook", "0004_nor_is_it_emptied")]

    operations = [
        migrations.RunSQL(
            "CREATE TRIGGER locked_settings_are_not_emptied BEFORE TRUNCATE ON jobs_lockedsetting "
            "FOR EACH STATEMENT EXECUTE FUNCTION keencoat_refuse_truncate()",
            "DROP TRIGGER locked_settings_are_not_emptied ON jobs_lockedsetting",
        )
    ]
