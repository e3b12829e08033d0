"""Locked settings are evidence: the database itself refuses to rewrite them."""

from django.db import migrations


class Migration(migrations.Migration):
    dependencies = [("jobs", "0001_initial"), ("logbook", "0002_the_log_only_grows")]

    operations = [
        migrations.RunSQL(
            "CREATE TRIGGER locked_settings_stay BEFORE UPDATE OR DELETE ON jobs_lockedsetting "
            "FOR EACH ROW EXECUTE FUNCTION keencoat_refuse_rewrite()",
            "DROP TRIGGER locked_settings_stay ON jobs_lockedsetting",
        )
    ]
